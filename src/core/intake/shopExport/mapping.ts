import * as z from 'zod'
import { currencyExponent } from '../../shared/money'
import { orderStatuses } from '../records'
import { decimalMarks } from '../reports/cells'
import { dateOrders } from '../reports/moment'
import { zone } from '../settings'
import { type ExportField, exportFieldNames, plain } from './fields'

/** What an export of a shop may hold. */
export const exportKinds = ['orders', 'refunds', 'customers'] as const
export type ExportKind = (typeof exportKinds)[number]

/** How one shop writes its exports: which of its columns is which, and how it writes days, numbers and statuses. */
export const exportMappingSchema = z.object({
  /** what its lines are: orders or their items, what went back of orders, or customers */
  holds: z.enum(exportKinds).default('orders'),
  /** the heading of each field, as the file has it */
  columns: z.partialRecord(z.enum(exportFieldNames), z.string().min(1).max(200)),
  date_order: z.enum(dateOrders),
  decimal: z.enum(decimalMarks),
  /** of amounts that name none */
  currency: z.string().refine(c => currencyExponent(c) !== null, 'no such currency'),
  /** the zone in which times that name none stand */
  time_zone: zone,
  /** what the amounts of a line are of: the whole order, or one of its items */
  amounts: z.enum(['order', 'line']),
  /** the shop's words for each status, as `plain` writes them */
  statuses: z.record(z.string(), z.enum(orderStatuses)).default({}),
  /** an order that holds this in any cell is a test: a word, an e-mail or a customer; empty for none */
  tests: z.string().max(200).default(''),
})
export type ExportMapping = z.infer<typeof exportMappingSchema>

export type ExportProblem =
  | { code: 'not_mapped'; field: 'order_id' | 'ordered_at' | 'total' | 'refunded' | 'email' }
  | { code: 'no_such_column'; field: ExportField; column: string }
  | { code: 'column_twice'; column: string }
  | { code: 'status_unexplained'; word: string }

/** What keeps an export from being taken by a mapping; nothing when it can be. */
export function exportProblems(
  { holds, columns, statuses }: ExportMapping,
  header: readonly string[],
  statusWords: readonly string[],
): ExportProblem[] {
  const problems: ExportProblem[] = []
  const has = (...fields: ExportField[]) => fields.some(field => columns[field])
  const lacks = (field: (ExportProblem & { code: 'not_mapped' })['field'], ...others: ExportField[]) => {
    if (!has(field, ...others)) problems.push({ code: 'not_mapped', field })
  }
  if (holds === 'customers') {
    lacks('email')
    if (!has('customer_id', 'order_id')) problems.push({ code: 'not_mapped', field: 'order_id' })
  } else {
    lacks('order_id')
    if (holds === 'refunds') lacks('refunded', 'total', 'net')
    else {
      lacks('ordered_at')
      lacks('total', 'net', 'unit_price')
    }
  }
  const mapped = Object.entries(columns) as [ExportField, string][]
  for (const [i, [field, column]] of mapped.entries()) {
    if (!header.includes(column)) problems.push({ code: 'no_such_column', field, column })
    if (mapped.findIndex(([, other]) => other === column) < i) problems.push({ code: 'column_twice', column })
  }
  if (holds === 'orders')
    for (const word of statusWords)
      if (!Object.hasOwn(statuses, plain(word))) problems.push({ code: 'status_unexplained', word })
  return problems
}

/** What an export of orders may not say, and figures would do better with. */
const exportGaps = ['status', 'refunds', 'origin'] as const
export type ExportGap = (typeof exportGaps)[number]

/** What a file of orders does not say by its mapping. */
export function exportGapsOf({ holds, columns }: ExportMapping): ExportGap[] {
  if (holds !== 'orders') return []
  const { landing_url, utm_source, utm_campaign, click_id } = columns
  const says: Record<ExportGap, boolean> = {
    status: columns.status !== undefined,
    refunds: columns.refunded !== undefined,
    origin: (landing_url ?? utm_source ?? utm_campaign ?? click_id) !== undefined,
  }
  return exportGaps.filter(gap => !says[gap])
}
