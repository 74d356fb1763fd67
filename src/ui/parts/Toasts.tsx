'use client'
import { Button, createToaster, Kbd, Toast, Toaster } from '@chakra-ui/react'
import { useEffect } from 'react'
import { forget, takeBack, type Undoable } from './undo'

/** Long enough to see the figures that follow first, also where they take their time. */
const SHOWN_MS = 30_000
const toaster = createToaster({ placement: 'bottom-start', max: 3, pauseOnPageIdle: true })
const idOf = (one: Undoable) => `undo ${one.id}`

/** One toast for each thing that can be taken back. */
export function Toasts({ open }: { open: readonly Undoable[] }) {
  useEffect(() => {
    // The library's own begins to listen only after the page around it stands.
    const begun = setTimeout(() => {
      for (const one of open)
        if (!toaster.isVisible(idOf(one)))
          toaster.create({
            id: idOf(one),
            title: one.done,
            duration: SHOWN_MS,
            action: { label: 'Undo', onClick: () => takeBack(one.id) },
            onStatusChange: ({ status }) => status === 'unmounted' && forget(one.id),
          })
    })
    return () => clearTimeout(begun)
  }, [open])
  return (
    <Toaster toaster={toaster} insetInline={{ base: '4', md: '24' }}>
      {toast => (
        <Toast.Root width="auto" maxWidth="30rem">
          <Toast.Title>{toast.title}</Toast.Title>
          {toast.action && (
            <Button
              size="xs"
              color="ink"
              onClick={() => {
                toast.action?.onClick?.()
                toaster.dismiss(toast.id)
              }}
            >
              {toast.action.label} <Kbd>u</Kbd>
            </Button>
          )}
          <Toast.CloseTrigger position="static" aria-label="Let it stand" />
        </Toast.Root>
      )}
    </Toaster>
  )
}
