'use client'
import { Button, createToaster, Kbd, Toast, Toaster } from '@chakra-ui/react'
import { useEffect, useRef } from 'react'
import { forget, type Notice, takeBack } from './undo'
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
const idOf = (one: Notice) => `notice ${one.id}`

/** One toast for each thing that was done and can be taken back, or that failed. */
export function Toasts({ open }: { open: readonly Notice[] }) {
  const shown = useRef<readonly Notice[]>([])
  useEffect(() => {
    for (const one of shown.current) if (!open.includes(one)) toaster.dismiss(idOf(one))
    shown.current = open
    // The library's own begins to listen only after the page around it stands.
    const begun = setTimeout(() => {
      for (const one of open)
        if (!toaster.isVisible(idOf(one)))
          toaster.create({
            id: idOf(one),
            title: one.says,
            type: one.undo ? 'info' : 'error',
            duration: SHOWN_MS,
            action: one.undo ? { label: 'Undo', onClick: () => void takeBack(one.id) } : undefined,
            onStatusChange: ({ status }) => status === 'unmounted' && forget(one.id),
          })
    })
    return () => clearTimeout(begun)
  }, [open])
  useEffect(() => () => toaster.remove(), [])
  return (
    <Toaster toaster={toaster}>
      {toast => (
        <Toast.Root width="24rem">
          <Toast.Title>{toast.title}</Toast.Title>
          {toast.action && (
            <Button size="xs" color="ink" onClick={() => toast.action?.onClick?.()}>
              {toast.action.label} <Kbd>u</Kbd>
            </Button>
          )}
          <Toast.CloseTrigger position="static" aria-label={toast.action ? 'Let it stand' : 'Close'} />
        </Toast.Root>
      )}
    </Toaster>
  )
}
