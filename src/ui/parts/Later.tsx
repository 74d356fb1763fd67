'use client'
import { Button } from '@chakra-ui/react'
import { type ComponentType, useState } from 'react'

/**
 * A button in whose place something large comes that it opens, once it is pressed for the first time: most who look
 * at a screen never press it, and need not fetch it.
 */
export function Later<Props extends object>({
  words,
  label,
  Part,
  ...props
}: Props & {
  words: string
  /** by which it is known, where that is not its words */
  label?: string
  /** opens itself as it comes, under `words` and `label` */
  Part: ComponentType<Props & { words: string; label?: string | undefined }>
}) {
  const [asked, setAsked] = useState(false)
  return asked ? (
    <Part {...(props as unknown as Props)} words={words} label={label} />
  ) : (
    <Button {...(label ? { 'aria-label': label } : {})} aria-haspopup="dialog" onClick={() => setAsked(true)}>
      {words}
    </Button>
  )
}
