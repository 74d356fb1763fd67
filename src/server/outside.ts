import { lookup } from 'node:dns/promises'
import ipaddr from 'ipaddr.js'
import { hasPractice } from './practice'

/** All of IPv6 that is given out to anybody (IANA, global unicast). */
const GLOBAL_IPV6 = ipaddr.IPv6.parseCIDR('2000::/3')
/** Whether an address lies on the public internet, and not in a network of ours in any disguise. */
export function isPublic(address: string): boolean {
  const read = ipaddr.process(address)
  return read.range() === 'unicast' && (read instanceof ipaddr.IPv4 || read.match(GLOBAL_IPV6))
}

/**
 * Where a host of the outside world is asked: a public address, or a party of the practice ground on this
 * machine. An address inside a network of ours is never asked, whoever names it.
 *
 * @param practice which parties of the practice ground may be asked
 */
export async function addressOf(
  { hostname, port }: URL,
  practice: (host: string) => boolean,
): Promise<{ address: string } | { address: null; problem: 'unknown' | 'private' }> {
  if (hasPractice() && practice(hostname) && port === (process.env.PRACTICE_PORT ?? '4620'))
    return { address: '127.0.0.1' }
  const bare = hostname.replace(/^\[|\]$/g, '')
  const found = ipaddr.isValid(bare) ? [{ address: bare }] : await lookup(bare, { all: true }).catch(() => [])
  const [first] = found
  if (!first) return { address: null, problem: 'unknown' }
  const inside = found.some(({ address }) => !isPublic(address))
  return inside ? { address: null, problem: 'private' } : first
}
