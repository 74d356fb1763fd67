import { ownRequest } from '@/core/shared/ownRequest'

/** What of a request says where it comes from and what it is for. */
export interface Asked {
  method: string
  path: string
  /** all of it as it was sent, percent-encoded */
  address: string
  header: (name: string) => string | null
}

export interface Refusal {
  status: 400 | 403 | 421
  error: string
}

const loopback = ['localhost', '127.0.0.1', '[::1]']
const reading = new Set(['GET', 'HEAD', 'OPTIONS'])
/** Signed instead: its callers are programs of the shop. */
const signed = new Set(['/api/orders'])

const nameOf = (host: string): string => host.toLowerCase().replace(/:\d+$/, '')

/** The host names to which the application answers: this machine's own, `HOST`, and those of `AEQUANT_HOSTS`. */
export const ownHosts = ({ HOST = '', AEQUANT_HOSTS = '' }: Partial<Record<string, string>>): Set<string> =>
  new Set([...loopback, HOST, ...AEQUANT_HOSTS.split(',')].map(name => nameOf(name.trim())).filter(Boolean))

/**
 * Why a request is not answered; null for one that is. Another name for this machine would make a page of
 * another site one of ours (DNS rebinding); and what changes something must have been meant by one of our
 * own pages, or by a script that says so.
 */
export function refuse({ method, path, address, header }: Asked, hosts: ReadonlySet<string>): Refusal | null {
  const host = header('host') ?? ''
  if (!hosts.has(nameOf(host)))
    return {
      status: 421,
      error: `Aequant does not answer to the name ${host.slice(0, 100) || 'that was left out'}. If it is yours, add it to AEQUANT_HOSTS and start again.`,
    }
  // No database takes a NUL, and nothing that is kept holds one.
  if (address.includes('%00')) return { status: 400, error: 'The address holds a NUL (%00). Take it out.' }
  const site = header('sec-fetch-site')
  const interfaces = path.startsWith('/api/')
  if (reading.has(method))
    return interfaces && site === 'cross-site' && header('sec-fetch-mode') !== 'navigate'
      ? { status: 403, error: 'A page of another site may not ask this.' }
      : null
  if (site !== null && site !== 'same-origin' && site !== 'none')
    return { status: 403, error: 'A page of another site may change nothing here.' }
  const origin = header('origin')
  if (origin !== null && !(URL.canParse(origin) && new URL(origin).host === host.toLowerCase()))
    return { status: 403, error: `A page of ${origin.slice(0, 100)} may change nothing here.` }
  const meant = header('x-aequant') === ownRequest['x-aequant']
  if (signed.has(path) || meant || (!interfaces && origin !== null)) return null
  return {
    status: 403,
    error: 'A request that changes something carries the header "x-aequant: 1". Add it and send it again.',
  }
}

/** What pages may load and run: what comes from here, and scripts in the page that carry its own number. */
export const contentPolicy = (nonce: string, development: boolean): string =>
  [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}'${development ? " 'unsafe-eval'" : ''}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    `connect-src 'self'${development ? ' ws:' : ''}`,
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ')
