'use client'
import { Button, Popover, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** A button and what it opens beside it; it begins open, since it is fetched when it is asked for. */
export function Popped({
  words,
  label,
  open,
  setOpen,
  width,
  atEnd = false,
  children,
}: {
  /** what the button says */
  words: string
  /** what it opens is called so */
  label: string
  /** none where whatever opens it also closes it */
  open?: boolean
  setOpen?: (open: boolean) => void
  width?: string
  /** whether it hangs from the button's end */
  atEnd?: boolean
  children: ReactNode
}) {
  return (
    <Popover.Root
      {...(open === undefined ? { defaultOpen: true } : { open })}
      onOpenChange={change => setOpen?.(change.open)}
      lazyMount
      unmountOnExit
      {...(atEnd && { positioning: { placement: 'bottom-end' as const } })}
    >
      <Popover.Trigger asChild>
        <Button>{words}</Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content aria-label={label} width={width}>
            <Popover.Body maxHeight="60vh" overflowY="auto">
              {children}
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}
