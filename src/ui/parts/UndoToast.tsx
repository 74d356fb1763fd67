'use client'
import dynamic from 'next/dynamic'
import { useSyncExternalStore } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { notices, takeBack } from './undo'

/** Fetched when there is something to say. */
const Shown = dynamic(() => import('./Toasts').then(m => m.Toasts), { ssr: false })
const NONE: readonly never[] = []

/** Where what was done, or failed, is said; once, around all screens. */
export function UndoToast() {
  const open = useSyncExternalStore(notices.subscribe, notices.now, () => NONE)
  useHotkeys(
    'u',
    event => {
      const latest = open.findLast(one => one.undo)
      if (!latest || event.defaultPrevented) return
      // One press takes one thing back, whatever else the screen could undo.
      event.preventDefault()
      void takeBack(latest.id)
    },
    [open],
  )
  return open.length > 0 ? <Shown open={open} /> : null
}
