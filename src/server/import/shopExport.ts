import Papa from 'papaparse'
import { v7 as uuidv7 } from 'uuid'
import { countsAsOrder, exchangeFiles, type OrderStatus } from '@/core/intake/records'
import { type ExportField, plainFields } from '@/core/intake/shopExport/fields'
import { guessExport } from '@/core/intake/shopExport/guess'
import {
  type ExportKind,
  type ExportMapping,
  exportKinds,
  exportMappingSchema,
  exportProblems,
} from '@/core/intake/shopExport/mapping'
import {
  type ReadExport,
  type ReadOrder,
  readExport,
  readRefunds,
  sameCustomers,
} from '@/core/intake/shopExport/read'
import { formatDay, zoneClock } from '@/core/shared/days'
import { currencyExponent, formatAmount, minor, parseAmount } from '@/core/shared/money'
import type { Database } from '@/data/connect'
import { listDecisions, saveDecision } from '@/data/decisions'
import { keepAside } from '@/data/intake'
import { findMapping, saveMapping } from '@/data/reports'
import { type HeldRefund, heldCustomers, heldOrders, saveRefunds } from '@/data/shopOrders'
import { type ImportOutcome, raiseVersion, type Workspace } from '@/data/workspace'
import { readSheet } from '@/formats/sheet'
import { daysByCurrency } from '../missingRates'
import { inWords } from '../words'
import { asideOf, everySome, importFile, rateFinder, type Watch } from './importFile'

const SAMPLE_ROWS = 200
/** Under which the shop's mappings are kept beside those of networks, whose IDs have no space. */
const shopsKey = (holds: ExportKind) => (holds === 'orders' ? 'the shop' : `the shop ${holds}`)

/** The first rows of a shop's export, with the mapping that was saved for it, or a guess. */
export async function lookAtExport(database: Database, workspace: Workspace, content: string) {
  const { header, lines } = readSheet(content, 'The export')
  const rows = lines.slice(0, SAMPLE_ROWS).map(line => [...line.cells])
  const guess = guessExport({ header, rows }, workspace.settings)
  const saved = await savedFor(database, workspace.id, header, guess.mapping.holds)
  const fits = saved !== null
  return {
    header,
    /** the first rows: some are shown, by all of them forms are guessed */
    rows,
    mapping: fits ? withGuessed(saved, guess.mapping) : guess.mapping,
    doubts: fits ? [] : guess.doubts,
    saved: fits,
  }
}
/** A saved mapping with what is guessed of columns that it does not use: a shop's export may have more than the last. */
function withGuessed(saved: ExportMapping, guess: ExportMapping): ExportMapping {
  const used = new Set(Object.values(saved.columns))
  const fresh = saved.holds === guess.holds ? Object.entries(guess.columns) : []
  return {
    ...saved,
    columns: { ...Object.fromEntries(fresh.filter(([, heading]) => !used.has(heading))), ...saved.columns },
    statuses: { ...guess.statuses, ...saved.statuses },
  }
}

/** The mapping by which a file of these headings was read last. */
async function savedFor(
  database: Database,
  workspace: string,
  header: readonly string[],
  guessed: ExportKind,
) {
  for (const holds of [guessed, ...exportKinds.filter(kind => kind !== guessed)]) {
    const saved = await findMapping(database, workspace, shopsKey(holds), exportMappingSchema)
    if (saved && exportProblems(saved, header, []).length === 0) return saved
  }
  return null
}
export type ExportLook = Awaited<ReturnType<typeof lookAtExport>>

export interface ExportInput {
  file: string
  mapping: ExportMapping
  content: string
}

function readWhole({ file, mapping, content }: ExportInput, progress?: Watch['progress']): ReadExport {
  const { header, lines, damaged } = readSheet(content, file)
  const read = readExport(header, lines, mapping, everySome(progress, lines.length))
  const broken = damaged.map(({ line }) => ({ line, column: header[0] ?? '', reason: 'bad_quotes' as const }))
  return { ...read, rejected: [...broken, ...read.rejected] }
}

/** What is held of the orders of an export, by their IDs. */
async function heldOf(database: Database, workspace: string, orders: readonly ReadOrder[]) {
  const held = await heldOrders(
    database,
    workspace,
    orders.map(order => order.cells.order_id!),
  )
  return new Map(held.map(order => [order.order_id, order]))
}

/** The same orders: of what a file is silent about refunds, those that are held stay. */
function withHeldRefunds(
  orders: readonly ReadOrder[],
  held: Awaited<ReturnType<typeof heldOf>>,
): ReadOrder[] {
  return orders.map(order => {
    if (order.cells.refunded !== null) return order
    const before = held.get(order.cells.order_id!)
    const { currency, total, status } = order.cells
    const refunded = before?.currency === currency ? parseAmount(before!.refunded, currency!) : null
    const kept = minor(Math.min(refunded ?? 0, parseAmount(total!, currency!) ?? 0))
    const own = kept > 0 && status === 'paid' ? before!.status : status!
    return {
      ...order,
      cells: {
        ...order.cells,
        refunded: formatAmount(kept, currency!),
        status: /refunded/.test(own) ? own : status!,
      },
    }
  })
}

/** What of an order a file may leave out, by what it takes to say it. */
const leftOut = [
  ...plainFields.map(field => [field, field === 'customer_id' ? ['customer_id', 'email'] : [field]] as const),
  ['tax', ['tax']] as const,
  ['shipping', ['shipping']] as const,
]

/** The same orders: what the file has no column for stays as it is held. */
function withHeldRest(
  orders: readonly ReadOrder[],
  held: Awaited<ReturnType<typeof heldOf>>,
  { columns }: ExportMapping,
): ReadOrder[] {
  const silent = leftOut.flatMap(([field, by]) =>
    (by as readonly ExportField[]).some(one => columns[one]) ? [] : [field],
  )
  return withHeldRefunds(orders, held).map(order => {
    const before = held.get(order.cells.order_id!)
    if (!before || before.currency !== order.cells.currency) return order
    const kept = silent.map(field => [field, before[field]] as const)
    return { ...order, cells: { ...order.cells, ...Object.fromEntries(kept) } }
  })
}

/** What of an order is compared with what is held, beside its status and amounts, each as a person calls it. */
const compared = {
  ordered_at: 'time',
  customer_id: 'customer',
  landing_url: 'landing page',
  click_id: 'click ID',
  visitor_id: 'visitor',
  utm_source: 'utm_source',
  utm_medium: 'utm_medium',
  utm_campaign: 'utm_campaign',
  utm_term: 'utm_term',
  utm_content: 'utm_content',
  channel: 'channel',
  product_group: 'product group',
  tax: 'tax',
  shipping: 'shipping',
} as const

/** What an export of orders would change: those that are new, and those that are held otherwise. */
async function compareOrders(
  database: Database,
  workspace: Workspace,
  input: ExportInput,
  { progress }: Watch,
) {
  const { orders: read, rejected, sums, totalsLine } = readWhole(input, progress)
  const held = await heldOf(database, workspace.id, read)
  const orders = withHeldRest(read, held, input.mapping)
  const shown = (cells: { [field in 'status' | 'total' | 'refunded' | 'currency']?: string | null }) =>
    [cells.status, cells.total, cells.refunded, cells.currency].join(' ')
  const textOf = (value: unknown) => (value instanceof Date ? value.toISOString() : (value ?? ''))
  const changed = orders.flatMap(({ cells }) => {
    const before = held.get(cells.order_id!)
    if (!before) return []
    const others = (Object.keys(compared) as (keyof typeof compared)[])
      // A channel is kept in small letters.
      .filter(
        field =>
          textOf(before[field]) !==
          textOf(field === 'channel' ? (cells.channel?.toLowerCase() ?? null) : cells[field]),
      )
      .map(field => compared[field])
    const money = shown(before) === shown(cells) ? [] : [shown(cells)]
    const after = [...money, ...others.map(name => `another ${name}`)].join(', ')
    return after ? [{ id: cells.order_id!, before: shown(before), after }] : []
  })
  const dayOf = zoneClock(workspace.settings.time_zone)
  const days = orders.map(({ cells }) => dayOf(Date.parse(cells.ordered_at!)).day).sort((a, b) => a - b)
  const hasRate = await rateFinder(database, workspace)
  const own = workspace.settings.currency
  const without = orders.flatMap(({ cells }) => {
    const day = dayOf(Date.parse(cells.ordered_at!)).day
    return cells.currency === own || hasRate(cells.currency!, day) ? [] : [{ currency: cells.currency!, day }]
  })
  const statuses: Record<string, number> = {}
  for (const { cells } of orders) statuses[cells.status!] = (statuses[cells.status!] ?? 0) + 1
  return {
    holds: 'orders' as const,
    orders: orders.length,
    fresh: orders.filter(({ cells }) => !held.has(cells.order_id!)).length,
    changed: changed.slice(0, 200),
    changedCount: changed.length,
    statuses,
    /** in each currency: the whole file, then by status, then by month of the workspace's zone */
    money: [
      ...moneyBy(orders, () => ({ by: 'all', name: '' })),
      ...moneyBy(orders, ({ status }) => ({ by: 'status', name: status! })),
      ...moneyBy(orders, ({ ordered_at }) => ({
        by: 'month',
        name: formatDay(dayOf(Date.parse(ordered_at!)).day).slice(0, 7),
      })),
    ],
    first: days[0] === undefined ? null : formatDay(days[0]),
    last: days.length === 0 ? null : formatDay(days.at(-1)!),
    rejected: inWords(rejected.slice(0, 200)),
    rejectedCount: rejected.length,
    sums,
    /** what the file's own line of totals says, beside what its orders come to in the same currency */
    totalsLine: totalsLine && {
      ...totalsLine,
      currency: input.mapping.currency,
      orders: sumOfTotals(read, input.mapping.currency),
    },
    /** days of orders that could be in no sum: there is no rate of their currency */
    withoutRate: daysByCurrency(without),
  }
}

/** Totals of the orders of a currency, in minor units, whatever became of them. */
const sumOfTotals = (orders: readonly ReadOrder[], currency: string): number =>
  orders.reduce(
    (sum, { cells }) =>
      cells.currency === currency ? sum + (parseAmount(cells.total ?? '', currency) ?? 0) : sum,
    0,
  )

/** Orders of a file with what they come to, in minor units; revenue is of those that count, less refunds. */
interface MoneySum {
  by: 'all' | 'status' | 'month'
  name: string
  currency: string
  orders: number
  total: number
  refunded: number
  revenue: number
}

function moneyBy(
  orders: readonly ReadOrder[],
  groupOf: (cells: ReadOrder['cells']) => Pick<MoneySum, 'by' | 'name'>,
): MoneySum[] {
  const groups = new Map<string, MoneySum>()
  for (const { cells } of orders) {
    const [group, currency] = [groupOf(cells), cells.currency!]
    const key = `${group.name} ${currency}`
    const sum = groups.get(key) ?? { ...group, currency, orders: 0, total: 0, refunded: 0, revenue: 0 }
    const units = (text: string | null | undefined) => (text && parseAmount(text, currency)) || 0
    const [total, refunded] = [units(cells.total), units(cells.refunded)]
    sum.orders += 1
    sum.total += total
    sum.refunded += refunded
    if (countsAsOrder(cells.status as OrderStatus)) sum.revenue += total - refunded
    groups.set(key, sum)
  }
  return [...groups].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, sum]) => sum)
}

/** What a file of refunds would change of the orders that are held. */
async function compareRefunds(database: Database, workspace: Workspace, input: ExportInput) {
  const { settled, unknown, rejected } = await settledRefunds(database, workspace, input)
  const changed = settled.filter(({ before, after }) => before !== after)
  return {
    holds: 'refunds' as const,
    orders: settled.length,
    unknown: unknown.length,
    firstUnknown: unknown[0] ?? null,
    changed: changed.slice(0, 200),
    changedCount: changed.length,
    rejected: inWords(rejected.slice(0, 200)),
    rejectedCount: rejected.length,
  }
}

/** What went back of each held order by a file, in the order's own currency. */
async function settledRefunds(
  database: Database,
  workspace: Workspace,
  { file, mapping, content }: ExportInput,
) {
  const { header, lines } = readSheet(content, file)
  const { refunds, rejected } = readRefunds(header, lines, mapping)
  const held = new Map(
    (
      await heldOrders(
        database,
        workspace.id,
        refunds.map(refund => refund.order_id),
      )
    ).map(order => [order.order_id, order]),
  )
  const settled: { id: string; before: string; after: string; refund: HeldRefund }[] = []
  for (const { order_id, amounts, currency, line } of refunds) {
    const order = held.get(order_id)
    if (!order) continue
    const digits = currencyExponent(order.currency) ?? 2
    const sums = amounts.map(text => parseAmount(roundedTo(text, digits), order.currency))
    if ((currency && currency !== order.currency) || sums.some(sum => sum === null)) {
      rejected.push({
        line,
        column: mapping.columns.currency ?? 'currency',
        reason: 'not_an_amount',
        value: amounts[0]!,
      })
      continue
    }
    const total = parseAmount(order.total, order.currency) ?? 0
    const back = Math.min(
      total,
      sums.reduce<number>((all, sum) => all + Math.abs(sum!), 0),
    )
    const status = back === total ? 'refunded' : back > 0 ? 'partially_refunded' : 'paid'
    const counts = order.status !== 'cancelled' && order.status !== 'test'
    settled.push({
      id: order_id,
      before: `${order.status} ${order.refunded} ${order.currency}`,
      after: `${counts ? status : order.status} ${formatAmount(minor(back), order.currency)} ${order.currency}`,
      refund: { order_id, refunded: back, status: counts ? status : order.status },
    })
  }
  return { settled, unknown: refunds.map(r => r.order_id).filter(id => !held.has(id)), rejected }
}

/** A decimal with no more digits than a currency has. */
const roundedTo = (text: string, digits: number) => {
  const [whole, fraction = ''] = text.split('.') as [string, string?]
  return digits === 0 ? whole : `${whole}.${fraction.slice(0, digits).padEnd(digits, '0')}`
}

/** Which customers a file says are one. */
async function compareCustomers(database: Database, workspace: Workspace, input: ExportInput) {
  const { header, lines } = readSheet(input.content, input.file)
  const { customers, ofOrder } = await heldCustomers(database, workspace.id)
  const groups = sameCustomers(
    header,
    lines,
    input.mapping,
    customer => customers.has(customer),
    order => ofOrder.get(order) ?? null,
  )
  const settled = new Set(
    (await listDecisions(database, workspace.id)).flatMap(d =>
      d.about === 'customers' ? key(d.customers) : [],
    ),
  )
  const fresh = groups.filter(names => !settled.has(key(names)))
  return {
    holds: 'customers' as const,
    lines: lines.length,
    groups: groups.length,
    fresh: fresh.slice(0, 2000),
  }
}
const key = (names: readonly string[]) => JSON.stringify([...names].sort())

/** What an export would change. */
export function compareExport(
  database: Database,
  workspace: Workspace,
  input: ExportInput,
  watch: Watch = {},
) {
  const { holds } = input.mapping
  return holds === 'refunds'
    ? compareRefunds(database, workspace, input)
    : holds === 'customers'
      ? compareCustomers(database, workspace, input)
      : compareOrders(database, workspace, input, watch)
}
export type ExportDifference = Awaited<ReturnType<typeof compareExport>>

/** Takes an export in: each of its orders replaces what was held of it. Keeps the mapping for next time. */
export async function takeExport(
  database: Database,
  workspace: Workspace,
  input: ExportInput,
  watch: Watch = {},
): Promise<ImportOutcome> {
  const { holds } = input.mapping
  await saveMapping(database, workspace.id, shopsKey(holds), input.mapping)
  if (holds === 'refunds') return takeRefunds(database, workspace, input)
  if (holds === 'customers') return takeCustomers(database, workspace, input)
  const { orders: read, rejected } = readWhole(input)
  const orders = withHeldRest(read, await heldOf(database, workspace.id, read), input.mapping)
  await keepAside(database, workspace.id, rejected.map(asideOf('orders', input.file)))
  const columns = new Set<string>(exchangeFiles.orders.columns)
  for (const { cells } of orders) for (const column of Object.keys(cells)) columns.add(column)
  const fields = [...columns]
  const text = Papa.unparse({
    fields,
    data: orders.map(({ cells }) => fields.map(field => cells[field] ?? '')),
  })
  const outcome = await importFile(database, workspace, 'orders', text, { ...watch, file: input.file })
  // Lines are those of the shop's file, in which an order begins.
  const own = outcome.rejected.map(reject => ({
    ...reject,
    line: orders[reject.line - 2]?.line ?? reject.line,
  }))
  return { ...outcome, rejected: [...rejected, ...own] }
}

/** Settles what went back of held orders: all that the file says of an order replaces what was held of it. */
async function takeRefunds(
  database: Database,
  workspace: Workspace,
  input: ExportInput,
): Promise<ImportOutcome> {
  const { settled, unknown, rejected } = await settledRefunds(database, workspace, input)
  const changed = settled.filter(({ before, after }) => before !== after).map(({ refund }) => refund)
  await database.transaction(async inner => {
    await saveRefunds(inner, workspace.id, changed)
    await raiseVersion(inner, workspace.id)
  })
  const nowhere = unknown.map(id => ({
    line: 0,
    column: 'order_id',
    reason: 'no_such_order' as const,
    value: id,
  }))
  return {
    accepted: changed.length,
    duplicates: settled.length - changed.length,
    rejected: [...rejected, ...nowhere],
  }
}

/** Settles which customers are one, as somebody would by hand: each can be taken back. */
async function takeCustomers(
  database: Database,
  workspace: Workspace,
  input: ExportInput,
): Promise<ImportOutcome> {
  const { groups, fresh } = await compareCustomers(database, workspace, input)
  await database.transaction(async inner => {
    for (const customers of fresh)
      await saveDecision(inner, workspace.id, {
        about: 'customers',
        customers: customers.slice(0, 50),
        id: uuidv7(),
        by: 'a file of customers',
        at: Date.now(),
        why: `the same e-mail in ${input.file}`.slice(0, 500),
      })
    await raiseVersion(inner, workspace.id, 'rules')
  })
  return { accepted: fresh.length, duplicates: groups - fresh.length, rejected: [] }
}
