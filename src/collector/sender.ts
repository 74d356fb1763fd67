import type { IncomingMessage } from 'node:http'
import type { Socket } from 'node:net'
import ipaddr from 'ipaddr.js'
import { RateLimiterMemory } from 'rate-limiter-flexible'

const IPV4_BITS = 24
const IPV6_BITS = 48
const bySocket = new WeakMap<Socket, { address: string; network: string }>()

/** The sender's address, and the network it stands in: all that is kept of it. */
function readSender(text: string): { address: string; network: string } {
  if (!ipaddr.isValid(text)) return { address: text.slice(0, 60), network: '' }
  const address = ipaddr.process(text)
  const network =
    address instanceof ipaddr.IPv4
      ? ipaddr.IPv4.networkAddressFromCIDR(`${address}/${IPV4_BITS}`)
      : ipaddr.IPv6.networkAddressFromCIDR(`${address}/${IPV6_BITS}`)
  return { address: address.toString(), network: network.toString() }
}

/** Behind a proxy the connection is the proxy's, and the sender stands last in its header. */
export function senderOf(request: IncomingMessage, behindProxy: boolean) {
  if (behindProxy) {
    const forwarded = String(request.headers['x-forwarded-for'] ?? '')
    const last = forwarded.split(',').at(-1)?.trim()
    if (last) return readSender(last)
  }
  let sender = bySocket.get(request.socket)
  if (!sender) bySocket.set(request.socket, (sender = readSender(request.socket.remoteAddress ?? '')))
  return sender
}

/** Whether the sender speaks TLS: with the proxy before us, which alone may say so. */
export const isSecure = (request: IncomingMessage, behindProxy: boolean): boolean =>
  behindProxy && request.headers['x-forwarded-proto'] === 'https'

/** Whether an address may be answered, by how often it asked within the last minute; our own machine always may. */
export function limitSenders(perMinute: number): (address: string) => boolean | Promise<boolean> {
  const limiter = new RateLimiterMemory({ points: perMinute, duration: 60 })
  return address =>
    address === '127.0.0.1' || address === '::1'
      ? true
      : limiter.consume(address).then(
          () => true,
          () => false,
        )
}
