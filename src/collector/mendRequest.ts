import type { Server } from 'node:http'
import { Duplex } from 'node:stream'

const CLICK_LINE = /^(GET|HEAD) (\/c\/.*) (HTTP\/1\.[01])$/s

/** Bytes that an address may not hold, percent-encoded (RFC 3986, 2.1); `raw` has a character for each byte. */
export const encodeRaw = (raw: string): string =>
  raw.replace(/[^\x21-\x7e]/g, byte => `%${byte.charCodeAt(0).toString(16).padStart(2, '0').toUpperCase()}`)

/**
 * Lets the server read a click's request once more whose address holds raw bytes, as networks write names
 * into addresses: Node's parser refuses it, but a shopper must not pay for that. Gives whether it could.
 */
export function readAgain(server: Server, packet: Buffer | undefined, socket: Duplex): boolean {
  const end = packet?.indexOf('\r\n') ?? -1
  if (!packet || end < 0) return false
  const [, method, address, version] = CLICK_LINE.exec(packet.subarray(0, end).toString('latin1')) ?? []
  if (!method || !address) return false
  const line = `${method} ${encodeRaw(address)} ${version}`
  if (line.length === end) return false
  socket.removeAllListeners('data')
  const { remoteAddress } = socket as Duplex & { remoteAddress?: string }
  const again = Object.assign(
    new Duplex({
      read() {},
      write: (chunk, _, done) => void socket.write(chunk, done),
      final: done => void socket.end(done),
      destroy: (_, done) => {
        socket.destroy()
        done(null)
      },
    }),
    { remoteAddress },
  )
  socket.on('data', chunk => again.push(chunk))
  socket.on('end', () => again.push(null))
  socket.on('close', () => again.destroy())
  socket.on('error', () => again.destroy())
  server.emit('connection', again)
  again.push(Buffer.concat([Buffer.from(line), packet.subarray(end)]))
  return true
}
