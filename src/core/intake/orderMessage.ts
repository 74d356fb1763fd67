import * as z from 'zod'
import { parseInstant } from '../shared/days'
import { isCleanText } from '../shared/text'
import { rowReader } from './fields'
import { exchangeFiles, type RecordOf } from './records'

/** UTF-16 units of one message about an order. */
export const LONGEST_ORDER_MESSAGE = 100_000

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
type OrderMessage = z.output<typeof orderMessageSchema>

export interface ReadOrder {
  order: RecordOf['orders']
  /** epoch ms at which the order became so */
  changed: number
}

/**
 * Reads the body of a shop's message about an order.
 *
 * @returns the order, or what is wrong in words with the field it is wrong in
 */
export function readOrderMessage(body: string): ReadOrder | { error: string } {
  let given: unknown
  try {
    given = JSON.parse(body)
  } catch {
    return { error: 'The body is not JSON.' }
  }
  const message = orderMessageSchema.safeParse(given)
  if (!message.success) return { error: z.prettifyError(message.error) }
  for (const [field, value] of Object.entries(message.data.data))
    if (!isCleanText(field) || (value && !isCleanText(value)))
      return {
        error: `data.${field.replaceAll('\0', '')}: holds a character that is none (NUL or half of one).`,
      }
  const columns = Object.fromEntries(exchangeFiles.orders.columns.map(column => [column, null]))
  const read = rowReader(exchangeFiles.orders.schema)({ ...columns, ...rowOfMessage(message.data) })
  if (!('record' in read)) return { error: `data.${read.column}: ${read.reason.replaceAll('_', ' ')}.` }
  return { order: read.record as RecordOf['orders'], changed: message.data.timestamp }
}

/** The order as a row of orders.csv; its status is told by the kind of message unless it is said. */
function rowOfMessage({ type, data }: OrderMessage): Record<string, string | null> {
  const row = Object.fromEntries(Object.entries(data).map(([key, value]) => [key, value?.trim() || null]))
  const partly = type === 'order.refunded' && Number(row.refunded ?? row.total) < Number(row.total)
  return { ...row, status: row.status ?? (partly ? 'partially_refunded' : types[type]) }
}
