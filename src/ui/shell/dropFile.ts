import type { DragEvent } from 'react'

/** What makes an element take a file that is dropped on it. */
export const takesDroppedFile = (take: (file: File) => void) => ({
  onDragOver: (event: DragEvent) => event.preventDefault(),
  onDrop: (event: DragEvent) => {
    event.preventDefault()
    const [dropped] = event.dataTransfer.files
    if (dropped) take(dropped)
  },
})
