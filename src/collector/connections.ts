import { readFileSync } from 'node:fs'
import type { Server } from 'node:http'
import type { Socket } from 'node:net'
import { readSender } from './sender'

/** How long a sender may take, in ms: for the head of a request, for all of it, and until its next one. */
export const PATIENCE = {
  headersTimeout: 8000,
  requestTimeout: 15_000,
  keepAliveTimeout: 5000,
  connectionsCheckingInterval: 1000,
}

const MOST_CONNECTIONS = 8000
/** Files that the process holds open beside its connections: the journal, the routing table, what Node needs. */
const OTHER_FILES = 40
/** One address may hold so large a part of all connections. */
const PART_OF_ONE = 1 / 8

/** As many connections as the system lets the process hold, less what it needs for itself. */
export function usualConnections(): number {
  let files = Number.POSITIVE_INFINITY
  try {
    files = Number(/^Max open files\s+(\d+)/m.exec(readFileSync('/proc/self/limits', 'utf8'))?.[1] ?? files)
  } catch {
    // Another system: its own bound is as good.
  }
  return Math.max(8, Math.min(MOST_CONNECTIONS, files - OTHER_FILES))
}

/**
 * Bounds how many connections stand at once, in all and by address: beyond that a new one is closed at once, so that
 * whoever holds many open leaves room for others. Behind a proxy all are the proxy's.
 */
export function limitConnections(server: Server, most: number, behindProxy: boolean): void {
  server.maxConnections = most
  if (behindProxy) return
  const ofOne = Math.max(4, Math.floor(most * PART_OF_ONE))
  const standing = new Map<string, number>()
  server.on('connection', (socket: Socket) => {
    const address = readSender(socket.remoteAddress ?? '').limitedAs
    if (!address) return
    const count = (standing.get(address) ?? 0) + 1
    if (count > ofOne) return void socket.destroy()
    standing.set(address, count)
    socket.once('close', () => {
      const left = (standing.get(address) ?? 1) - 1
      if (left > 0) standing.set(address, left)
      else standing.delete(address)
    })
  })
}
