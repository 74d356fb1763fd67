'use client'
import { type RefObject, useEffect } from 'react'

/** The property of the document that says how far from its foot nothing may lie on top. */
export const DOCK = '--dock'

/** Keeps what lies on top of the page (toasts) off a panel at its foot. */
export function useDock(panel: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const { style } = document.documentElement
    const seen = new ResizeObserver(([entry]) =>
      style.setProperty(DOCK, `calc(${entry!.borderBoxSize[0]!.blockSize}px + 0.5rem)`),
    )
    if (panel.current) seen.observe(panel.current)
    return () => {
      seen.disconnect()
      style.removeProperty(DOCK)
    }
  }, [panel])
}
