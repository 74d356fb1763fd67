import fc from 'fast-check'
import { formatAmount } from '../../shared/money'
import type { Cells } from '../fields'
import type { OrderStatus } from '../records'
import type { DecimalMark } from '../reports/cells'
import type { DateOrder } from '../reports/moment'
import { guessExport, statusWordsIn } from './guess'
import { type ExportMapping, exportProblems } from './mapping'
import { readExport } from './read'

/** The headings and words of shops: number, day, status, total, tax, shipping, refunded, customer. */
const languages = {
  en: {
    head: [
      'Order number',
      'Order date',
      'Status',
      'Grand total',
      'VAT',
      'Shipping cost',
      'Refunded',
      'Customer',
    ],
    words: ['Paid', 'Refunded', 'Partially refunded', 'Cancelled', 'Test'],
  },
  de: {
    head: [
      'Bestellnummer',
      'Bestelldatum',
      'Zahlungsstatus',
      'Gesamtbetrag',
      'MwSt.',
      'Versandkosten',
      'Erstattet',
      'Kunde',
    ],
    words: ['bezahlt', 'erstattet', 'teilweise erstattet', 'storniert', 'Test'],
  },
  fr: {
    head: [
      'Numéro de commande',
      'Date de commande',
      'Statut',
      'Total TTC',
      'TVA',
      'Frais de port',
      'Remboursé',
      'Client',
    ],
    words: ['payée', 'remboursée', 'partiellement remboursée', 'annulée', 'test'],
  },
  ja: {
    head: ['注文番号', '注文日時', 'ステータス', '合計', '消費税', '送料', '返金額', '顧客番号'],
    words: ['支払済', '返金済', '一部返金', 'キャンセル', 'テスト'],
  },
} as const
const statuses: OrderStatus[] = ['paid', 'refunded', 'partially_refunded', 'cancelled', 'test']

export interface Order {
  id: string
  minute: number
  status: OrderStatus
  /** minor units of each item with tax */
  items: number[]
  tax: number
  shipping: number
  part: number
}
export const order: fc.Arbitrary<Order> = fc.record({
  id: fc.stringMatching(/^[A-Z]{2}-\d{3,6}$/),
  minute: fc.integer({ min: 0, max: 600_000 }),
  status: fc.constantFrom(...statuses),
  items: fc.array(fc.integer({ min: 1, max: 900_000 }), { minLength: 1, maxLength: 3 }),
  tax: fc.nat(5000),
  shipping: fc.nat(2000),
  part: fc.double({ min: 0.1, max: 0.9, noNaN: true }),
})
const BEGIN = Date.UTC(2025, 0, 1)
const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0)
const totalOf = (o: Order) => sum(o.items) + o.shipping
const refundedOf = (o: Order) =>
  o.status === 'refunded'
    ? totalOf(o)
    : o.status === 'partially_refunded'
      ? Math.max(1, Math.floor(totalOf(o) * o.part))
      : 0

/** How a shop writes. */
export interface Hand {
  language: keyof typeof languages
  dates: DateOrder
  decimal: DecimalMark
  grouped: boolean
  currency: 'EUR' | 'JPY' | 'KWD'
}
export const hand: fc.Arbitrary<Hand> = fc.record({
  language: fc.constantFrom('en', 'de', 'fr', 'ja'),
  dates: fc.constantFrom('ymd', 'dmy', 'mdy'),
  decimal: fc.constantFrom('.', ','),
  grouped: fc.boolean(),
  currency: fc.constantFrom('EUR', 'JPY', 'KWD'),
})
const writeAmount = (units: number, { currency, decimal, grouped }: Hand) => {
  const [whole, fraction] = formatAmount(units, currency).split('.') as [string, string?]
  const parted = grouped ? whole.replace(/\B(?=(\d{3})+$)/g, decimal === '.' ? ',' : '.') : whole
  return fraction === undefined ? parted : `${parted}${decimal}${fraction}`
}
const writeTime = (minute: number, { dates }: Hand) => {
  const [y, m, d, time] = new Date(BEGIN + minute * 60_000).toISOString().slice(0, 16).split(/[-T]/)
  const day = { ymd: `${y}-${m}-${d}`, dmy: `${d}.${m}.${y}`, mdy: `${m}/${d}/${y}` }[dates]
  return `${day} ${time}`
}
export function write(orders: readonly Order[], by: Hand, amounts: ExportMapping['amounts']) {
  const { head, words } = languages[by.language]
  const header = head.map((text, i) => (i === 3 ? `${text} (${by.currency})` : text))
  const money = (units: number) => writeAmount(units, by)
  const rows = orders.flatMap(o => {
    const before = [o.id, writeTime(o.minute, by), words[statuses.indexOf(o.status)]!]
    const after = [money(o.shipping), money(refundedOf(o)), 'somebody']
    return amounts === 'order'
      ? [[...before, money(totalOf(o)), money(o.tax), ...after]]
      : o.items.map((item, i) => [...before, money(item), money(i === 0 ? o.tax : 0), ...after])
  })
  return { header, rows }
}

/** For tests: what an order is once it is read, as `orders.csv` has it. */
export const orderCells = (o: Order, { currency }: Pick<Hand, 'currency'>) => ({
  order_id: o.id,
  ordered_at: new Date(BEGIN + o.minute * 60_000).toISOString(),
  status: o.status,
  currency,
  total: formatAmount(totalOf(o), currency),
  tax: formatAmount(o.tax, currency),
  shipping: formatAmount(o.shipping, currency),
  refunded: formatAmount(refundedOf(o), currency),
  customer_id: 'somebody',
})

/**
 * For tests: orders as they are read from an export, by what is guessed and what somebody answers who is asked, and
 * nothing else.
 *
 * @throws where a line is rejected, or more has to be said than is asked
 */
export function readBack(
  sheet: { header: string[]; rows: string[][] },
  by: Hand,
  amounts: ExportMapping['amounts'],
): Cells[] {
  const { mapping, doubts } = guessExport(sheet, { currency: by.currency, time_zone: 'UTC' })
  const problems = exportProblems(mapping, sheet.header, statusWordsIn(sheet, mapping.columns))
  const answers = { date_order: by.dates, decimal: by.decimal, currency: by.currency, amounts }
  const settled: ExportMapping = {
    ...mapping,
    ...Object.fromEntries(doubts.map(doubt => [doubt, answers[doubt]])),
  }
  const lines = sheet.rows.map((cells, i) => ({ cells, line: i + 2 }))
  const { orders, rejected } = readExport(sheet.header, lines, settled)
  if (problems.length + rejected.length > 0) throw new Error(JSON.stringify({ problems, rejected }))
  const known = Object.keys(orderCells(ANY, by))
  return orders.map(({ cells }) =>
    Object.fromEntries(Object.entries(cells).filter(([name]) => known.includes(name))),
  )
}
const ANY: Order = { id: '', minute: 0, status: 'paid', items: [1], tax: 0, shipping: 0, part: 0.5 }
