'use client'
import { Button, createToaster, Toaster as Shown, Toast } from '@chakra-ui/react'
import { useHotkeys } from 'react-hotkeys-hook'

const toaster = createToaster({ placement: 'bottom-start', max: 3 })
const TEN_SECONDS = 10_000

/** What can be taken back with `u`, the latest last. */
const open: { id: string; undo: () => void }[] = []

/** Says what was done, and takes it back for whoever asks within ten seconds. */
export function undoable(done: string, undo: () => void): void {
  const id = toaster.create({
    title: done,
    duration: TEN_SECONDS,
    action: { label: 'Undo', onClick: () => takeBack(id) },
    onStatusChange: ({ status }) => status === 'unmounted' && forget(id),
  })
  open.push({ id, undo })
}
const forget = (id: string) => {
  const at = open.findIndex(one => one.id === id)
  return at < 0 ? undefined : open.splice(at, 1)[0]
}
const takeBack = (id: string) => {
  forget(id)?.undo()
  toaster.dismiss(id)
}

/** Where what was done is said; once, around all screens. */
export function Toasts() {
  useHotkeys('u', () => {
    const last = open.at(-1)
    if (last) takeBack(last.id)
  })
  return (
    <Shown toaster={toaster} insetInline="4">
      {toast => (
        <Toast.Root width="auto" maxWidth="30rem">
          <Toast.Title>{toast.title}</Toast.Title>
          {toast.action && (
            <Button size="xs" color="ink" onClick={toast.action.onClick}>
              {toast.action.label} <kbd>u</kbd>
            </Button>
          )}
        </Toast.Root>
      )}
    </Shown>
  )
}
