import { append } from '../shared/append'
import { DAY_MS } from '../shared/days'

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

/** Where a normal law leaves a tenth on either side. */
const TENTH = 1.2816

/**
 * The lead that each order came of: the latest before it of the same visitor, or of the visitor that its customer
 * turned out to be, within some days. In order of the orders; -1 for none.
 */
export function leadOfOrders(
  leads: readonly Lead[],
  orders: readonly Omit<LaterOrder, 'worth'>[],
  days: number,
): number[] {
  const ofVisitor = new Map<string, number[]>()
  const inTime = [...leads.keys()].sort((a, b) => leads[a]!.at - leads[b]!.at)
  for (const lead of inTime) {
    const { visitor } = leads[lead]!
    if (visitor !== null) append(ofVisitor, visitor, lead)
  }
  const visitorOf = new Map<string, string>()
  for (const { visitor, customer } of orders)
    if (visitor !== null && customer !== null && ofVisitor.has(visitor)) visitorOf.set(customer, visitor)
  return orders.map(({ visitor, customer, at }) => {
    const known = visitor !== null && ofVisitor.has(visitor) ? visitor : customer && visitorOf.get(customer)
    const lead = known ? ofVisitor.get(known)?.findLast(one => leads[one]!.at <= at) : undefined
    return lead !== undefined && at < leads[lead]!.at + days * DAY_MS ? lead : -1
  })
}

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
  const bought = leads.map(() => 0)
  leadOfOrders(leads, orders, days).forEach((lead, o) => {
    if (lead >= 0) bought[lead]! += orders[o]!.worth
  })
  const ripe = bought.filter((_, lead) => leads[lead]!.at + days * DAY_MS <= until)
  if (ripe.length === 0) return null
  const mean = ripe.reduce((sum, worth) => sum + worth, 0) / ripe.length
  const spread = ripe.reduce((sum, worth) => sum + (worth - mean) ** 2, 0) / Math.max(1, ripe.length - 1)
  const error = TENTH * Math.sqrt(spread / ripe.length)
  return {
    leads: ripe.length,
    buyers: ripe.filter(worth => worth > 0).length,
    mean,
    low: Math.max(0, mean - error),
    high: mean + error,
    days,
  }
}
