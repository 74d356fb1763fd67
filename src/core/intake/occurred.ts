import { DAY_MS } from '../shared/days'

/** How long a page may hold back what it could not send. */
const LATEST_DELIVERY_MS = 3 * DAY_MS
const LAST_MS = Date.UTC(2100, 0)
const UUID_V7 = /^([0-9a-f]{8})-([0-9a-f]{4})-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/

/** The UTC day that a time-ordered ID of ours tells; null for another ID. */
export function dayOfId(id: string): string | null {
  const [, high, low] = UUID_V7.exec(id) ?? []
  const at = high && low ? Number.parseInt(high + low, 16) : LAST_MS
  // Anybody can make up an ID: one of the year 10889 is no day of ours.
  return at < LAST_MS ? new Date(at).toISOString().slice(0, 10) : null
}

/**
 * When a record came about: the time in its ID (RFC 9562, UUID version 7) where that is plausible, else
 * when it was received. The same record sent again later then still falls on the same day.
 *
 * @param received epoch ms
 */
export function occurredAt(id: string, received: number): number {
  const [, high, low] = UUID_V7.exec(id) ?? []
  if (!high || !low) return received
  const at = Number.parseInt(high + low, 16)
  return at <= received && at > received - LATEST_DELIVERY_MS ? at : received
}
