'use client'
import dynamic from 'next/dynamic'
import { useSyncExternalStore } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { takeBack, undoables } from './undo'

/** Fetched when there is something to take back. */
const Shown = dynamic(() => import('./Toasts').then(m => m.Toasts), { ssr: false })
const NONE: readonly never[] = []

/** Where what was done is said; once, around all screens. */
export function UndoToast() {
  const open = useSyncExternalStore(undoables.subscribe, undoables.now, () => NONE)
  useHotkeys('u', () => {
    const latest = open.at(-1)
    if (latest) takeBack(latest.id)
  }, [open])
  return open.length > 0 ? <Shown open={open} /> : null
}
