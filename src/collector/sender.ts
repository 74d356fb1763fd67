import { createHmac, randomBytes } from 'node:crypto'
import type { IncomingMessage } from 'node:http'
import type { Socket } from 'node:net'
import ipaddr from 'ipaddr.js'
import { RateLimiterMemory } from 'rate-limiter-flexible'

const IPV4_CLASS = 24
/** One customer of a provider has a whole /64 (RFC 6177), and as many addresses in it as he likes. */
const IPV6_CLASS = 64
const CLASS_LENGTH = 16

export interface Sender {
  /** by which it is limited: an IPv4 address, or the /64 of an IPv6 one; null for our own machine, which is not */
  limitedAs: string | null
  /** the network that it stands in, as text; empty for our own machine and for what is no address */
  network: string
}
const bySocket = new WeakMap<Socket, Sender>()

export function readSender(text: string): Sender {
  if (!ipaddr.isValid(text)) return { limitedAs: text.slice(0, 60), network: '' }
  const address = ipaddr.process(text)
  if (address.range() === 'loopback') return { limitedAs: null, network: '' }
  if (address instanceof ipaddr.IPv4)
    return {
      limitedAs: address.toString(),
      network: ipaddr.IPv4.networkAddressFromCIDR(`${address}/${IPV4_CLASS}`).toString(),
    }
  const network = ipaddr.IPv6.networkAddressFromCIDR(`${address}/${IPV6_CLASS}`).toString()
  return { limitedAs: network, network }
}

/** Behind a proxy the connection is the proxy's, and the sender stands last in its header. */
export function senderOf(request: IncomingMessage, behindProxy: boolean): Sender {
  if (behindProxy) {
    const forwarded = String(request.headers['x-forwarded-for'] ?? '')
    const last = forwarded.split(',').at(-1)?.trim()
    if (last) return readSender(last)
  }
  let sender = bySocket.get(request.socket)
  if (!sender) bySocket.set(request.socket, (sender = readSender(request.socket.remoteAddress ?? '')))
  return sender
}

/** Without a key that collectors share, classes of this process can be told from each other all the same. */
const ownKey = randomBytes(24).toString('base64url')

/** The class of a sender's address: a keyed hash of the network it stands in. Nothing else of it is kept. */
export const classOf = ({ network }: Sender, key: string | undefined): string =>
  network === ''
    ? ''
    : createHmac('sha256', key ?? ownKey)
        .update(network)
        .digest('base64url')
        .slice(0, CLASS_LENGTH)

/** Whether the sender speaks TLS: with the proxy before us, which alone may say so. */
export const isSecure = (request: IncomingMessage, behindProxy: boolean): boolean =>
  behindProxy && request.headers['x-forwarded-proto'] === 'https'

/** What one sender may do within a minute. */
export interface Limits {
  requests: number
  events: number
  bytes: number
}

/** Whether a sender may be answered, by what it did within the last minute; our own machine always may. */
export function limitSenders(limits: Limits) {
  const limiters = Object.fromEntries(
    Object.entries(limits).map(([what, points]) => [what, new RateLimiterMemory({ points, duration: 60 })]),
  ) as Record<keyof Limits, RateLimiterMemory>
  return ({ limitedAs }: Sender, what: keyof Limits, points = 1): true | Promise<boolean> =>
    limitedAs === null ||
    limiters[what].consume(limitedAs, points).then(
      () => true,
      () => false,
    )
}
