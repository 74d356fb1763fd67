import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { formatAmount } from '../../shared/money'
import type { OrderStatus } from '../records'
import type { DateOrder, DecimalMark } from '../reports/cells'
import { guessExport, statusWordsIn } from './guess'
import { type ExportMapping, exportProblems } from './mapping'
import { readExport } from './read'

const own = { currency: 'EUR', time_zone: 'Europe/Lisbon' }
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

interface Order {
  id: string
  minute: number
  status: OrderStatus
  /** minor units of each item with tax */
  items: number[]
  tax: number
  shipping: number
  part: number
}
const order: fc.Arbitrary<Order> = fc.record({
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
interface Hand {
  language: keyof typeof languages
  dates: DateOrder
  decimal: DecimalMark
  grouped: boolean
  currency: 'EUR' | 'JPY' | 'KWD'
}
const hand: fc.Arbitrary<Hand> = fc.record({
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
function write(orders: readonly Order[], by: Hand, amounts: ExportMapping['amounts']) {
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

describe('an export of a shop', () => {
  it('is read as it was meant, or what it could mean is asked', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(order, { minLength: 1, maxLength: 25, selector: o => o.id }),
        hand,
        fc.constantFrom('order', 'line'),
        (orders, by, amounts) => {
          const sheet = write(orders, by, amounts)
          const { mapping, doubts } = guessExport(sheet, { currency: by.currency, time_zone: 'UTC' })
          const words = statusWordsIn(sheet, mapping.columns)
          expect(exportProblems(mapping, sheet.header, words)).toEqual([])
          // Somebody answers what is asked, and nothing else.
          const answers = { date_order: by.dates, decimal: by.decimal, currency: by.currency, amounts }
          const settled: ExportMapping = {
            ...mapping,
            ...Object.fromEntries(doubts.map(doubt => [doubt, answers[doubt]])),
          }
          const repeats = new Set(sheet.rows.map(row => row[0])).size < sheet.rows.length
          if (!repeats && amounts === 'line') return // Then a line is an order, whose total has its shipping in it.
          const { orders: read, rejected } = readExport(
            sheet.header,
            sheet.rows.map((cells, i) => ({ cells, line: i + 2 })),
            settled,
          )
          expect(rejected).toEqual([])
          expect(read.map(r => r.cells)).toEqual(
            orders.map(o =>
              expect.objectContaining({
                order_id: o.id,
                ordered_at: new Date(BEGIN + o.minute * 60_000).toISOString(),
                status: o.status,
                currency: by.currency,
                total: formatAmount(totalOf(o), by.currency),
                tax: formatAmount(o.tax, by.currency),
                shipping: formatAmount(o.shipping, by.currency),
                refunded: formatAmount(refundedOf(o), by.currency),
                customer_id: 'somebody',
              }),
            ),
          )
        },
      ),
    )
  })

  const read = (text: string, change: Partial<ExportMapping> = {}) => {
    const [header, ...rows] = text.split('\n').map(line => line.split(';')) as [string[], ...string[][]]
    const guess = guessExport({ header, rows }, own)
    const lines = rows.map((cells, i) => ({ cells, line: i + 2 }))
    return { ...guess, ...readExport(header, lines, { ...guess.mapping, ...change }) }
  }
  it('has what went back in lines below nothing, and tax apart', () => {
    const { orders, mapping, rejected } = read(
      'Order ID;Date;Net total (GBP);VAT;Shipping\nA1;2026-11-02 09:30;100.00;20.00;5.00\nA2;2026-11-03;50.00;10.00;0.00\nA1;2026-11-09;-40.00;-8.00;\nB9;2026-11-09;-1.00;-0.20;',
    )
    expect(mapping).toMatchObject({ currency: 'GBP', amounts: 'line' })
    expect(
      orders.map(o => [o.cells.order_id, o.cells.total, o.cells.tax, o.cells.refunded, o.cells.status]),
    ).toEqual([
      ['A1', '125.00', '20.00', '48.00', 'partially_refunded'],
      ['A2', '60.00', '10.00', '0.00', 'paid'],
    ])
    expect(orders[0]!.cells.ordered_at).toBe('2026-11-02T09:30:00.000Z')
    expect(rejected).toMatchObject([{ line: 5, reason: 'negative_amount' }])
  })
  it('says which totals are not what they are made of', () => {
    const { sums } = read(
      'order;date;total;net;tax;shipping\n1;2026-11-02;125.00;100.00;20.00;5.00\n2;2026-11-02;60.00;50.00;10.00;0.00\n3;2026-11-02;61.00;50.00;10.00;0.00',
    )
    expect(sums).toEqual({ compared: 3, odd: [4] })
  })
  it('takes no heading for what its words do not say', () => {
    const { mapping } = read(
      'Order;Order notes;Date;Ship date;Total;Total items;Tax rate\n1;none;2026-11-02;2026-11-04;5.00;2;0.2',
    )
    expect(mapping.columns).toEqual({ order_id: 'Order', ordered_at: 'Date', total: 'Total' })
  })
  it('keeps what it does not know, and says what cannot be read, with its line', () => {
    const { orders, rejected } = read(
      'Order no;Created at;Status;Total;Gift note\n1;2026-11-02T10:00:00+01:00;Paid;5.00;for Ana\n2;soon;Paid;5.00;\n3;2026-11-02;strange;5.00;\n;2026-11-02;Paid;5.00;\n4;2026-11-02;Paid;five;',
    )
    expect(orders.map(o => [o.cells.ordered_at, o.cells['Gift note']])).toEqual([
      ['2026-11-02T09:00:00.000Z', 'for Ana'],
    ])
    expect(rejected.map(r => [r.line, r.column, r.reason])).toEqual([
      [3, 'Created at', 'not_an_instant'],
      [4, 'Status', 'unknown_status'],
      [5, 'Order no', 'required'],
      [6, 'Total', 'not_an_amount'],
    ])
  })
  it('asks where a mark could part thousands or fractions, and where lines say the same again', () => {
    expect(read('Order;Date;Total (EUR)\n1;2026-11-02;1.234').doubts).toEqual(['decimal'])
    expect(read('Order;Date;Total (EUR)\n1;2026-11-02;5.00\n1;2026-11-02;5.00').doubts).toEqual(['amounts'])
    expect(read('Order;Date;Total\n1;22.11.2026;5.00').doubts).toEqual(['currency'])
    expect(read('Order;Date;Total in EUR\n1;02/11/2026;5.00').doubts).toEqual(['date_order'])
  })
})
