// What stands on a page, now and later.

/** A selector that somebody mistyped finds nothing, and breaks nothing. */
export function find<E extends Element = Element>(selector: string): E[] {
  try {
    return [...document.querySelectorAll<E>(selector)]
  } catch {
    return []
  }
}
export const closest = (event: Event, selector: string): Element | null => {
  try {
    return (event.target as Element | null)?.closest?.(selector) ?? null
  } catch {
    return null
  }
}

/** Looks whenever the page has changed, and now. */
export function lookOn(look: () => void, ended?: AbortSignal): void {
  const observer = new MutationObserver(look)
  observer.observe(document.documentElement, { childList: true, subtree: true })
  ended?.addEventListener('abort', () => observer.disconnect())
  look()
}

/** Elements of a selector, those that come later as well. */
export function watch<E extends Element>(
  selector: string,
  found: (element: E) => void,
  ended?: AbortSignal,
): void {
  const known = new WeakSet<Element>()
  const look = () => {
    for (const element of find<E>(selector)) {
      if (known.has(element)) continue
      known.add(element)
      found(element)
    }
  }
  lookOn(look, ended)
}
