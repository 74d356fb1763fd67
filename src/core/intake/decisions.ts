import * as z from 'zod'
import { append } from '../shared/append'
import type { ClaimRow, OrderRow } from './records'

const id = z.string().trim().min(1).max(200)

/** What somebody settled by hand. It stands on top of the records and changes none of them. */
export const decidedSchema = z.discriminatedUnion('about', [
  /** the order was a test */
  z.object({ about: z.literal('test'), order: id }),
  /** the order came by another way than the site */
  z.object({ about: z.literal('channel'), order: id, channel: id.toLowerCase() }),
  /** the order is another result */
  z.object({ about: z.literal('result'), order: id, result: id }),
  /** a network's claim is this order, or none of ours */
  z.object({ about: z.literal('claim'), claim: id, order: id.nullable() }),
  /** these customers are one */
  z.object({ about: z.literal('customers'), customers: z.array(id).min(2).max(50) }),
])

/** A decision with who made it, when, and why. */
export const decisionSchema = decidedSchema.and(
  z.object({
    id,
    by: z.string().trim().min(1).max(80),
    /** epoch ms */
    at: z.int(),
    why: z.string().trim().min(1, 'say why').max(500),
  }),
)
export type Decision = z.infer<typeof decisionSchema>
export type Decided = z.infer<typeof decidedSchema>

/** A claim with the key that it is decided upon by, and what was decided: the order that it is, or none of ours. */
export type DecidableClaim = ClaimRow & { claim_key?: string; decided?: { order: string | null } }

interface Decidable {
  orders: OrderRow[]
  claimRows: DecidableClaim[]
}

/**
 * The records as they are with what was decided; of two decisions on one thing the later holds. What a
 * decision is about and is not there (yet, or any more) is passed over.
 */
export function withDecisions<Records extends Decidable>(
  records: Records,
  decisions: readonly Decided[],
): Records {
  if (decisions.length === 0) return records
  const known = new Set(records.orders.map(order => order.order_id))
  const ofOrder = new Map<string, Partial<OrderRow>>()
  const ofClaim = new Map<string, string | null>()
  const settle = (order: string, change: Partial<OrderRow>) =>
    ofOrder.set(order, { ...ofOrder.get(order), ...change })
  for (const decided of decisions) {
    if (decided.about === 'test') settle(decided.order, { status: 'test' })
    else if (decided.about === 'channel') settle(decided.order, { channel: decided.channel })
    else if (decided.about === 'result') settle(decided.order, { result: decided.result })
    else if (decided.about === 'claim' && (decided.order === null || known.has(decided.order)))
      ofClaim.set(decided.claim, decided.order)
  }
  const customerOf = oneCustomer(decisions)
  return {
    ...records,
    orders: records.orders.map(order => {
      const change = ofOrder.get(order.order_id)
      const customer = order.customer_id === null ? undefined : customerOf.get(order.customer_id)
      return change || customer ? { ...order, ...change, ...(customer && { customer_id: customer }) } : order
    }),
    claimRows:
      ofClaim.size === 0
        ? records.claimRows
        : records.claimRows.map(claim =>
            claim.claim_key !== undefined && ofClaim.has(claim.claim_key)
              ? { ...claim, decided: { order: ofClaim.get(claim.claim_key)! } }
              : claim,
          ),
  }
}

/** Customers that were said to be one, each by the first of their names. */
function oneCustomer(decisions: readonly Decided[]): Map<string, string> {
  const beside = new Map<string, string[]>()
  for (const decided of decisions)
    if (decided.about === 'customers')
      for (const one of decided.customers) for (const other of decided.customers) append(beside, one, other)
  const found = new Map<string, string>()
  for (const first of [...beside.keys()].sort()) {
    if (found.has(first)) continue
    const left = [first]
    for (let one = left.pop(); one !== undefined; one = left.pop()) {
      if (found.has(one)) continue
      found.set(one, first)
      left.push(...beside.get(one)!)
    }
  }
  return found
}
