/** One result of somebody who may buy later. */
export interface Lead {
  visitor: string | null
  /** epoch ms */
  at: number
}
/** An order that counts, with what it is worth in minor units. */
export interface LaterOrder {
  visitor: string | null
  customer: string | null
  at: number
  worth: number
}

/** What leads later bought, for each of them; money in minor units. */
export interface LaterWorth {
  /** leads whose days are over, and how many of them bought something in these */
  leads: number
  buyers: number
  /** what a lead later bought on average, with an 80 % interval */
  mean: number
  low: number
  high: number
  /** within so many days */
  days: number
}

const DAY_MS = 86_400_000
/** Where a normal law leaves a tenth on either side. */
const TENTH = 1.2816

/**
 * What leads are worth by what they later bought: orders of the same visitor within some days, and further ones of the
 * customer that these turned out to be. Each order is the latest lead's before it. Leads whose days are not over yet
 * say nothing.
 *
 * @param until the last instant of which orders are known
 * @returns null where no lead's days are over
 */
export function laterWorth(
  leads: readonly Lead[],
  orders: readonly LaterOrder[],
  days: number,
  until: number,
): LaterWorth | null {
  const ofVisitor = new Map<string, { at: number; bought: number }[]>()
  const ripe: { at: number; bought: number }[] = []
  for (const { visitor, at } of [...leads].sort((a, b) => a.at - b.at)) {
    const lead = { at, bought: 0 }
    if (at + days * DAY_MS <= until) ripe.push(lead)
    if (visitor === null) continue
    const own = ofVisitor.get(visitor) ?? []
    own.push(lead)
    ofVisitor.set(visitor, own)
  }
  const visitorOf = new Map<string, string>()
  for (const { visitor, customer } of orders)
    if (visitor !== null && customer !== null && ofVisitor.has(visitor)) visitorOf.set(customer, visitor)
  for (const { visitor, customer, at, worth } of orders) {
    const known = visitor !== null && ofVisitor.has(visitor) ? visitor : customer && visitorOf.get(customer)
    const lead = known ? ofVisitor.get(known)?.findLast(one => one.at <= at) : undefined
    if (lead && at < lead.at + days * DAY_MS) lead.bought += worth
  }
  if (ripe.length === 0) return null
  const mean = ripe.reduce((sum, lead) => sum + lead.bought, 0) / ripe.length
  const spread = ripe.reduce((sum, lead) => sum + (lead.bought - mean) ** 2, 0) / Math.max(1, ripe.length - 1)
  const error = TENTH * Math.sqrt(spread / ripe.length)
  return {
    leads: ripe.length,
    buyers: ripe.filter(lead => lead.bought > 0).length,
    mean,
    low: Math.max(0, mean - error),
    high: mean + error,
    days,
  }
}
