import { DAY_MS, localHours } from '../../shared/days'
import { currencyExponent, formatAmount, minor, parseAmount } from '../../shared/money'
import type { Cells, Reject } from '../fields'
import { exchangeFiles, type OrderStatus } from '../records'
import { readFigure } from '../reports/cells'
import { momentReader, readTime } from '../reports/moment'
import type { ReportLine } from '../reports/read'
import { type ExportField, plain, plainFields } from './fields'
import type { ExportMapping } from './mapping'

/** An order as `orders.csv` has it, by the first line that names it. */
export interface ReadOrder {
  line: number
  /** `refunded` is null where the file says nothing of refunds */
  cells: Cells
}
export interface ReadExport {
  orders: ReadOrder[]
  rejected: Reject[]
  /** of orders that say their total and what it is made of: how many there are, and the lines of those that do not add up */
  sums: { compared: number; odd: number[] }
  /** what a line says that sums the others, in minor units of the mapping's currency */
  totalsLine: { line: number; total: number } | null
}

/** An instant from a day and a time as a shop writes them; noon where it writes no time. */
function instantReader({ date_order, time_zone }: ExportMapping) {
  const readMoment = momentReader(date_order)
  const localHour = localHours(time_zone)
  return (text: string, apart: string): string | null => {
    const read = readMoment(text)
    if (read === null) return null
    const seconds = apart === '' ? (read.seconds ?? NOON) : readTime(apart)
    if (seconds === null) return null
    const hour = Math.floor(seconds / 3600)
    const at =
      read.offset === null
        ? localHour(read.day, hour) + (seconds - hour * 3600) * 1000
        : read.day * DAY_MS + (seconds - read.offset * 60) * 1000
    return new Date(at).toISOString()
  }
}
const NOON = 12 * 3600

type Amounts = Record<
  'total' | 'net' | 'tax' | 'shipping' | 'discount' | 'refunded' | 'unit_price',
  number | null
>
const amountFields = ['total', 'net', 'tax', 'shipping', 'discount', 'refunded', 'unit_price'] as const

/** The lines of one order, and what they come to. */
interface Folded {
  first: { line: number; cells: Cells; currency: string }
  lines: (Amounts & { quantity: number; group: string | null })[]
}

/**
 * Reads a shop's export by its mapping into orders as `orders.csv` has them. Lines that name the same order are
 * folded into one; a line below nothing is what went back of it. Columns that are not mapped go along as they are.
 *
 * @param seen is told how many lines are read
 */
export function readExport(
  header: readonly string[],
  lines: Iterable<ReportLine>,
  mapping: ExportMapping,
  seen: (lines: number) => void = () => {},
): ReadExport {
  const at = Object.fromEntries(
    Object.entries(mapping.columns).map(([field, heading]) => [field, header.indexOf(heading)]),
  ) as Partial<Record<ExportField, number>>
  const known = new Set<string>(exchangeFiles.orders.columns)
  const mapped = new Set(Object.values(at))
  // An e-mail beside the customer's number is kept as it is.
  if (at.customer_id !== undefined && at.email !== undefined) mapped.delete(at.email)
  const others = header.flatMap((heading, i) =>
    mapped.has(i) || known.has(heading.trim().toLowerCase()) ? [] : [[heading, i] as const],
  )
  const readInstant = instantReader(mapping)
  const orders = new Map<string, Folded>()
  const rejected: Reject[] = []
  let totalsLine: ReadExport['totalsLine'] = null
  const isTest = testFinder(mapping.tests)
  let read = 0
  for (const { cells, line } of lines) {
    seen(read++)
    if (cells.every(cell => cell.trim() === '')) continue
    const cell = (field: ExportField) => (at[field] === undefined ? '' : (cells[at[field]]?.trim() ?? ''))
    const refuse = (field: ExportField, reason: Reject['reason']) =>
      void rejected.push({
        line,
        column: mapping.columns[field] ?? field,
        reason,
        value: cell(field).slice(0, 80),
      })
    const id = cell('order_id')
    const totals = (id === '' || TOTALS.test(plain(id))) && readInstant(cell('ordered_at'), '') === null
    if (totals) {
      const sum = readAmounts(cell, mapping.currency, currencyExponent(mapping.currency) ?? 2, mapping)
      const said = typeof sum === 'string' ? null : (sum.total ?? sum.net)
      if (said !== null) {
        totalsLine = { line, total: said }
        continue
      }
    }
    if (id === '') {
      refuse('order_id', 'required')
      continue
    }
    const before = orders.get(id)
    const currency = cell('currency').toUpperCase() || before?.first.currency || mapping.currency
    const digits = currencyExponent(currency)
    if (digits === null) {
      refuse('currency', 'not_a_currency')
      continue
    }
    const amounts = readAmounts(cell, currency, digits, mapping)
    if (typeof amounts === 'string') {
      refuse(amounts, 'not_an_amount')
      continue
    }
    const quantity = cell('quantity') === '' ? 1 : Number(readFigure(cell('quantity'), mapping.decimal, 6))
    const own = { ...amounts, quantity, group: cell('product_group') || null }
    if (before) {
      before.lines.push(own)
      continue
    }
    const ordered = readInstant(cell('ordered_at'), cell('ordered_time'))
    if (ordered === null) {
      refuse('ordered_at', cell('ordered_at') === '' ? 'required' : 'not_an_instant')
      continue
    }
    const word = plain(cell('status'))
    const status: OrderStatus | undefined = word === '' ? 'paid' : mapping.statuses[word]
    if (!status) {
      refuse('status', 'unknown_status')
      continue
    }
    orders.set(id, {
      first: {
        line,
        currency,
        cells: {
          order_id: id,
          ordered_at: ordered,
          status: isTest(cells) ? 'test' : status,
          currency,
          ...Object.fromEntries(plainFields.map(field => [field, cell(field) || null])),
          customer_id: cell('customer_id') || cell('email') || null,
          ...Object.fromEntries(others.map(([heading, i]) => [heading, cells[i]?.trim() || null])),
        },
      },
      lines: [own],
    })
  }
  return {
    ...fold(orders, mapping, rejected),
    totalsLine,
    rejected: rejected.sort((a, b) => a.line - b.line),
  }
}

/** What stands in the place of an order's number on a line that sums the others. */
const TOTALS =
  /^(grand |sub )?(totals?|sums?|summe|gesamt(summe)?|totaux|totale|razem|suma|ogolem|total geral|soma|totaal)$/

/** Whether some cell of a line holds a word, as one of its words or as a whole. */
function testFinder(word: string): (cells: readonly string[]) => boolean {
  const wanted = word.trim().toLowerCase()
  if (wanted === '') return () => false
  const within = new RegExp(
    `(?<![\\p{L}\\p{N}])${wanted.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\p{L}\\p{N}])`,
    'u',
  )
  return cells => cells.some(cell => within.test(cell.toLowerCase()))
}

/** The amounts of a line in minor units; null for what it does not say, the field for what is none. */
function readAmounts(
  cell: (field: ExportField) => string,
  currency: string,
  digits: number,
  { decimal }: ExportMapping,
): Amounts | (typeof amountFields)[number] {
  const amounts = {} as Amounts
  for (const field of amountFields) {
    // Brackets around an amount are the bookkeeper's sign for less.
    const text = cell(field).replace(/^\((.*)\)$/, '-$1')
    const figure = text === '' ? '' : readFigure(text, decimal, digits)
    const amount = figure === '' ? null : figure === null ? undefined : parseAmount(figure, currency)
    if (amount === undefined || (figure !== '' && amount === null)) return field
    amounts[field] = amount
  }
  return amounts
}

/** Orders from the lines that name them. */
function fold(
  orders: ReadonlyMap<string, Folded>,
  { amounts: of, columns }: ExportMapping,
  rejected: Reject[],
): Pick<ReadExport, 'orders' | 'sums'> {
  const read: ReadOrder[] = []
  const sums: ReadExport['sums'] = { compared: 0, odd: [] }
  const fileSaysRefunds =
    columns.refunded !== undefined ||
    [...orders.values()].some(({ lines }) => lines.some(line => worthOf(line) < 0))
  for (const { first, lines } of orders.values()) {
    const booked = lines.filter(line => worthOf(line) >= 0)
    const back = lines.filter(line => worthOf(line) < 0)
    if (booked.length === 0) {
      const column = columns.total ?? columns.net ?? 'total'
      rejected.push({ line: first.line, column, reason: 'negative_amount' })
      continue
    }
    /** of the whole order: it stands on each of its lines again, or on one alone */
    const once = (field: keyof Amounts) => booked.find(line => line[field] !== null)?.[field] ?? 0
    const all = (field: keyof Amounts) => booked.reduce((sum, line) => sum + (line[field] ?? 0), 0)
    const isSame = (field: keyof Amounts) => new Set(booked.flatMap(line => line[field] ?? [])).size <= 1
    const whole = (field: keyof Amounts) => (of === 'order' || isSame(field) ? once(field) : all(field))
    const each = (field: keyof Amounts) => (of === 'order' ? once(field) : all(field))
    const [shipping, tax] = [whole('shipping'), each('tax')]
    const goods = of === 'order' ? worthOf(booked[0]!) : booked.reduce((sum, line) => sum + worthOf(line), 0)
    // The total of an order has shipping in it, that of an item has not, nor has what is without tax.
    const total = of === 'order' && columns.total ? goods : goods + shipping
    const refunded = Math.min(total, whole('refunded') - back.reduce((sum, line) => sum + worthOf(line), 0))
    if (columns.total && columns.net) {
      sums.compared += 1
      if (!addsUp(total, each('net'), tax, shipping, whole('discount'))) sums.odd.push(first.line)
    }
    const amount = (units: number) => formatAmount(minor(units), first.currency)
    const { status } = first.cells
    const saysRefunds = fileSaysRefunds || /refunded/.test(status ?? '')
    // An order of several groups is of that of its dearest item.
    const dearest = booked.reduce((best, line) => (worthOf(line) > worthOf(best) ? line : best))
    read.push({
      line: first.line,
      cells: {
        ...first.cells,
        status:
          status !== 'paid' || refunded === 0
            ? status!
            : refunded === total
              ? 'refunded'
              : 'partially_refunded',
        total: amount(total),
        tax: amount(tax),
        shipping: amount(shipping),
        refunded: saysRefunds ? amount(refunded) : null,
        product_group: dearest.group,
      },
    })
  }
  return { orders: read, sums }
}

/** What the goods of a line come to with tax: as it says, or as their parts make it. */
function worthOf({ total, net, tax, unit_price, quantity, discount }: Folded['lines'][number]): number {
  if (total !== null) return total
  if (net !== null) return net + (tax ?? 0)
  return Math.round((unit_price ?? 0) * quantity) - (discount ?? 0)
}

/** Whether a total is what it is said to be made of; shipping and discount may be in what is without tax already. */
const addsUp = (total: number, net: number, tax: number, shipping: number, discount: number): boolean =>
  [0, shipping].some(sent => [0, discount].some(off => Math.abs(net + tax + sent - off - total) <= 1))

/** What went back of one order. */
export interface ReadRefund {
  line: number
  order_id: string
  /** a decimal of no currency yet: that of the order, where the file says none */
  amounts: string[]
  currency: string | null
}

/** Reads a file of what went back: its lines, summed up by order. */
export function readRefunds(
  header: readonly string[],
  lines: Iterable<ReportLine>,
  mapping: ExportMapping,
): { refunds: ReadRefund[]; rejected: Reject[] } {
  const { columns } = mapping
  const of = columns.refunded ?? columns.total ?? columns.net ?? ''
  const [id, amount, currency] = [columns.order_id, of, columns.currency].map(name =>
    header.indexOf(name ?? ''),
  )
  const refunds = new Map<string, ReadRefund>()
  const rejected: Reject[] = []
  for (const { cells, line } of lines) {
    if (cells.every(cell => cell.trim() === '')) continue
    const order_id = cells[id!]?.trim() ?? ''
    const text = cells[amount!]?.trim().replace(/^\((.*)\)$/, '$1') ?? ''
    const figure = text === '' ? null : readFigure(text, mapping.decimal, 6)
    if (order_id === '' || figure === null) {
      const column = order_id === '' ? (columns.order_id ?? 'order_id') : of
      rejected.push({
        line,
        column,
        reason: order_id === '' ? 'required' : 'not_an_amount',
        value: text.slice(0, 80),
      })
      continue
    }
    const known = refunds.get(order_id)
    if (known) known.amounts.push(figure)
    else
      refunds.set(order_id, {
        line,
        order_id,
        amounts: [figure],
        currency: (currency! >= 0 && cells[currency!]?.trim().toUpperCase()) || null,
      })
  }
  return { refunds: [...refunds.values()], rejected }
}

/**
 * The customers of a file who are one: those whose numbers, e-mails or orders stand on lines of the same e-mail.
 *
 * @param customerOf the customer of an order, null for one that is not held
 * @returns names of each, as orders hold them, of which there are at least two
 */
export function sameCustomers(
  header: readonly string[],
  lines: Iterable<ReportLine>,
  { columns }: ExportMapping,
  isHeld: (customer: string) => boolean,
  customerOf: (order: string) => string | null,
): string[][] {
  const [number, email, order] = [columns.customer_id, columns.email, columns.order_id].map(name =>
    header.indexOf(name ?? ''),
  )
  const byMail = new Map<string, Set<string>>()
  for (const { cells } of lines) {
    const cell = (at: number | undefined) => (at === undefined || at < 0 ? '' : (cells[at]?.trim() ?? ''))
    const mail = cell(email)
    if (mail === '') continue
    const names = [mail, mail.toLowerCase(), cell(number), customerOf(cell(order)) ?? ''].filter(
      name => name !== '' && isHeld(name),
    )
    const known = byMail.get(mail.toLowerCase()) ?? new Set()
    for (const name of names) known.add(name)
    byMail.set(mail.toLowerCase(), known)
  }
  return [...byMail.values()].filter(names => names.size > 1).map(names => [...names].sort())
}
