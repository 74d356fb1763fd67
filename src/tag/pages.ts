// Pages as a visitor sees them: one that is shown, one that comes back, and one that is only an address.

/** A page that is made ready before anybody opens it begins once it is shown. */
export const isShown = (): boolean => !(document as { prerendering?: boolean }).prerendering
export function onceShown(then: () => void): void {
  if (isShown()) then()
  else document.addEventListener('prerenderingchange', then, { once: true })
}

function decoded(name: string): string {
  try {
    return decodeURIComponent(name)
  } catch {
    return name
  }
}

/** The page's address; a fragment that is only a place on the page is no part of it. */
export function pageAddress(): string {
  const { href, hash } = location
  if (!hash) return href.replace('#', '')
  const name = hash.slice(1)
  const place = name === 'top' || document.getElementById(name) || document.getElementById(decoded(name))
  return place ? href.slice(0, -hash.length) : href
}

interface Navigation extends EventTarget {
  currentEntry: { key: string } | null
}

/**
 * Says when the address has become another page's by history or fragment, as on a single-page site.
 *
 * @param turned the address before, and whether the visitor went back (or forth) to a page that was told
 */
export function watchPages(turned: (before: string, again: boolean) => void): void {
  let told = pageAddress()
  const seen = new Set([told])
  const look = (traversed?: boolean) => {
    const now = pageAddress()
    if (now === told) return
    const before = told
    told = now
    const again = traversed ?? seen.has(now)
    seen.add(now)
    turned(before, again)
  }
  const { navigation } = window as { navigation?: Navigation }
  if (navigation) {
    navigation.addEventListener('currententrychange', event =>
      look((event as Event & { navigationType: string | null }).navigationType === 'traverse'),
    )
    return
  }
  for (const kind of ['popstate', 'hashchange']) addEventListener(kind, () => look())
  for (const name of ['pushState', 'replaceState'] as const) {
    const own = history[name]
    history[name] = function (this: History, ...given: Parameters<History['pushState']>) {
      own.apply(this, given)
      look(false)
    }
  }
}
