'use client'
import { Button } from '@chakra-ui/react'
import { type DragEvent, type ReactNode, type RefObject, useRef } from 'react'

/** What makes an element take files that are dropped on it, and nothing around it. */
export const takesDroppedFiles = (take: (first: File, more: File[]) => void) => ({
  onDragOver: (event: DragEvent) => event.preventDefault(),
  onDrop: (event: DragEvent) => {
    event.preventDefault()
    event.stopPropagation()
    const [first, ...more] = event.dataTransfer.files
    if (first) take(first, more)
  },
})

/** Chooses a file. The same file may be chosen again, once it was mended. */
export function FileButton({
  label,
  accept,
  take,
  disabled,
  strong,
  children,
}: {
  /** of the field that takes the file */
  label: string
  accept: string
  take: (first: File, more: File[]) => void
  disabled?: boolean
  strong?: boolean
  children: ReactNode
}) {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <Button
        variant={strong ? 'solid' : 'outline'}
        disabled={disabled ?? false}
        onClick={() => input.current?.click()}
      >
        {children}
      </Button>
      <FilesInput
        input={input}
        label={label}
        accept={accept}
        take={([first, ...more]) => first && take(first, more)}
      />
    </>
  )
}

/** The field behind whatever lets files be chosen; it is not seen. */
export const FilesInput = ({
  input,
  label,
  accept,
  take,
}: {
  input: RefObject<HTMLInputElement | null>
  label: string
  accept: string
  take: (files: File[]) => void
}) => (
  <input
    ref={input}
    type="file"
    multiple
    hidden
    accept={accept}
    aria-label={label}
    onChange={event => {
      take([...(event.target.files ?? [])])
      event.target.value = ''
    }}
  />
)
