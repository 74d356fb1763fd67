import * as z from 'zod'
import { parseInstant } from '../shared/days'

const types = {
  'order.created': 'paid',
  'order.updated': null,
  'order.refunded': 'refunded',
  'order.cancelled': 'cancelled',
} as const

const text = z.union([z.string(), z.number().transform(String)]).nullish()
/**
 * What a shop sends of an order: the whole order every time, its fields named as the columns of orders.csv.
 * `timestamp` says when it became so, which tells an old message from a new one.
 */
export const orderMessageSchema = z.object({
  type: z.enum(Object.keys(types) as [keyof typeof types, ...(keyof typeof types)[]]),
  timestamp: z.string().transform((s, ctx) => {
    const at = parseInstant(s)
    if (at === null) ctx.addIssue({ code: 'custom', message: 'an ISO 8601 instant with zone' })
    return at ?? z.NEVER
  }),
  data: z.record(z.string(), text),
})
type OrderMessage = z.infer<typeof orderMessageSchema>

/** The order as a row of orders.csv; its status is told by the kind of message unless it is said. */
export function rowOfMessage({ type, data }: OrderMessage): Record<string, string | null> {
  const row = Object.fromEntries(Object.entries(data).map(([key, value]) => [key, value?.trim() || null]))
  const partly = type === 'order.refunded' && Number(row.refunded ?? row.total) < Number(row.total)
  return { ...row, status: row.status ?? (partly ? 'partially_refunded' : types[type]) }
}
