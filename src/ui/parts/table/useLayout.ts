'use client'
import { useSearchParams } from 'next/navigation'
import { useCallback, useMemo, useSyncExternalStore } from 'react'
import { type Column, type Layout, layoutFrom, textOfLayout, usualLayout } from './columns'

const changes = new EventTarget()
const keyOf = (name: string) => `columns of ${name}`
const subscribe = (tell: () => void) => {
  changes.addEventListener('change', tell)
  return () => changes.removeEventListener('change', tell)
}
const stored = (name: string): string | null => {
  try {
    return localStorage.getItem(keyOf(name))
  } catch {
    return null
  }
}

/** The columns of a table as this browser keeps them, as an address writes them; empty for the usual ones. */
export const keptLayout = (name: string): string =>
  new URL(window.location.href).searchParams.get(`columns-${name}`) ?? stored(name) ?? ''
/** Keeps columns of a table, as an address writes them. */
export function keepLayout(name: string, layout: string): void {
  try {
    localStorage.setItem(keyOf(name), layout)
  } catch {
    // A browser that keeps nothing shows the usual columns next time.
  }
  changes.dispatchEvent(new Event('change'))
}

/**
 * The columns of a table as somebody has arranged them: kept in their browser, and in the address once it is to
 * be sent (`columns-NAME`), which goes first.
 *
 * @param name none for a table whose columns stay as they are
 */
export function useLayout(name: string | undefined, columns: readonly Column<never>[]) {
  const address = useSearchParams()
  const kept = useSyncExternalStore(
    subscribe,
    () => (name ? stored(name) : null),
    () => null,
  )
  const text = (name && (address.get(`columns-${name}`) ?? kept)) || ''
  const layout = useMemo(() => (text ? layoutFrom(text, columns) : usualLayout(columns)), [text, columns])
  const set = useCallback(
    (next: Layout | null) => {
      if (!name) return
      const here = new URL(window.location.href)
      if (here.searchParams.has(`columns-${name}`)) {
        here.searchParams.delete(`columns-${name}`)
        window.history.replaceState(null, '', here)
      }
      try {
        if (next) localStorage.setItem(keyOf(name), textOfLayout(next))
        else localStorage.removeItem(keyOf(name))
      } catch {
        // A browser that keeps nothing shows the usual columns next time.
      }
      changes.dispatchEvent(new Event('change'))
    },
    [name],
  )
  /** The address of this view with its columns as they are now. */
  const shared = () => {
    const here = new URL(window.location.href)
    here.searchParams.set(`columns-${name}`, textOfLayout(layout))
    return here.href
  }
  return { layout, set, shared }
}
