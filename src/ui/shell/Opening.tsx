import { useLinkStatus } from 'next/link'

/** Inside a link: a line that runs while the page it leads to is on its way. */
export function Opening() {
  const { pending } = useLinkStatus()
  return <span className="opening" data-pending={pending || undefined} aria-hidden />
}
