'use client'
import { useEffect } from 'react'

/** The property of the document that says how far from its foot nothing may lie on top. */
export const DOCK = '--dock'

/** Keeps what lies on top of the page (toasts) off a panel at its foot. */
export function useDock(panel: HTMLElement | null): void {
  useEffect(() => {
    if (!panel) return
    const { style } = document.documentElement
    const seen = new ResizeObserver(([entry]) =>
      style.setProperty(DOCK, `calc(${entry!.borderBoxSize[0]!.blockSize}px + 0.5rem)`),
    )
    seen.observe(panel)
    return () => {
      seen.disconnect()
      style.removeProperty(DOCK)
    }
  }, [panel])
}
