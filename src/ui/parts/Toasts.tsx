'use client'
import { Button, createToaster, Kbd, Toast, Toaster } from '@chakra-ui/react'
import { useEffect } from 'react'
import { forget, takeBack, type Undoable } from './undo'
import { DOCK } from './useDock'

/** Long enough to see the figures that follow first, also where they take their time. */
const SHOWN_MS = 20_000
/** Beside the rail, and above what is docked at the foot of a screen. */
const offsets = { left: '6.75rem', right: '1rem', top: '1rem', bottom: `var(${DOCK}, 1rem)` }
const toaster = createToaster({
  placement: 'bottom-start',
  max: 12,
  overlap: true,
  pauseOnPageIdle: true,
  offsets,
})
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
    <Toaster toaster={toaster}>
      {toast => (
        <Toast.Root width="24rem">
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
