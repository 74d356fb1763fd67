import fc from 'fast-check'
import Papa from 'papaparse'
import { expect, it } from 'vitest'
import { guessMapping } from '@/core/intake/reports/guess'
import { readReport } from '@/core/intake/reports/read'
import { guessExport } from '@/core/intake/shopExport/guess'
import { readExport } from '@/core/intake/shopExport/read'
import { type Day, formatDay, parseDay } from '@/core/shared/days'
import { formatAmount, parseAmount } from '@/core/shared/money'
import { readSheet } from './sheet'

const own = { currency: 'EUR', time_zone: 'UTC' }
const FIRST = parseDay('2026-10-01')!
/** A table written as text and read again. */
function written(header: string[], rows: string[][], delimiter: string) {
  const read = readSheet(Papa.unparse([header, ...rows], { delimiter, newline: '\r\n' }), 'drawn.csv')
  expect(read.damaged).toEqual([])
  return { header: [...read.header], rows: read.lines.map(line => [...line.cells]), lines: read.lines }
}
const delimiters = fc.constantFrom(',', ';', '\t', '|')

const MONTHS = {
  en: ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'],
  fr: ['janv.', 'févr.', 'mars', 'avr.', 'mai', 'juin', 'juil.', 'août', 'sept.', 'oct.', 'nov.', 'déc.'],
  pl: ['sty', 'lut', 'mar', 'kwi', 'maj', 'cze', 'lip', 'sie', 'wrz', 'paź', 'lis', 'gru'],
}
type Habit = { date: (day: Day) => string; money: (cents: number) => string; words: string[] }
const parts = (day: Day) => formatDay(day).split('-') as [string, string, string]
const dates = {
  iso: (day: Day) => formatDay(day),
  dotted: (day: Day) => parts(day).reverse().join('.'),
  slashed: (day: Day) => parts(day).reverse().join('/'),
  american: (day: Day) => `${parts(day)[1]}/${parts(day)[2]}/${parts(day)[0]}`,
  english: (day: Day) => `${MONTHS.en[Number(parts(day)[1]) - 1]} ${Number(parts(day)[2])}, ${parts(day)[0]}`,
  french: (day: Day) => `${Number(parts(day)[2])} ${MONTHS.fr[Number(parts(day)[1]) - 1]} ${parts(day)[0]}`,
  polish: (day: Day) => `${Number(parts(day)[2])} ${MONTHS.pl[Number(parts(day)[1]) - 1]} ${parts(day)[0]}`,
  serial: (day: Day) => String(day + 25_569),
}
const grouped = (cents: number, between: string, mark: string) => {
  const [whole, rest] = formatAmount(cents, 'EUR').split('.') as [string, string]
  return `${whole.replace(/\B(?=(\d{3})+$)/g, between)}${mark}${rest}`
}
const moneys = {
  point: (cents: number) => formatAmount(cents, 'EUR'),
  thousands: (cents: number) => grouped(cents, ',', '.'),
  comma: (cents: number) => grouped(cents, '', ','),
  dots: (cents: number) => grouped(cents, '.', ','),
  blanks: (cents: number) => grouped(cents, '\u202f', ','),
  sign: (cents: number) => `${grouped(cents, ' ', ',')} €`,
  swiss: (cents: number) => grouped(cents, '’', '.'),
}
const headings = {
  en: ['Day', 'Campaign', 'Ad', 'Cost', 'Clicks', 'Purchases', 'Purchase value'],
  de: ['Tag', 'Kampagne', 'Anzeige', 'Ausgaben', 'Klicks', 'Käufe', 'Umsatz'],
  fr: ['Jour', 'Campagne', 'Annonce', 'Montant dépensé', 'Clics', 'Achats', 'Valeur des achats'],
  pt: ['Dia', 'Campanha', 'Anúncio', 'Investimento', 'Cliques', 'Compras', 'Valor das compras'],
  pl: ['Dzień', 'Kampania', 'Ad', 'Wydatki', 'Kliknięcia', 'Zakupy', 'Wartość zakupów'],
}
const habit = fc.record({
  date: fc.constantFrom(...Object.values(dates)),
  money: fc.constantFrom(...Object.values(moneys)),
  words: fc.constantFrom(...Object.values(headings)),
})

const reportRow = fc.record({
  day: fc.integer({ min: 0, max: 50 }),
  campaign: fc.constantFrom('Autumn', 'Été, indien', 'Zima; 2026', 'Garn | rot'),
  ad: fc.constantFrom('Oak', 'Elm', 'Ash'),
  spend: fc.integer({ min: 0, max: 900_000 }),
  clicks: fc.integer({ min: 0, max: 5000 }),
  purchases: fc.integer({ min: 0, max: 40 }),
  value: fc.integer({ min: 0, max: 3_000_000 }),
})

/** Sums by day, network and campaign of what a report's rows say. */
const sumsOf = (rows: readonly { key: string; figures: number[] }[]) => {
  const sums = new Map<string, number[]>()
  for (const { key, figures } of rows)
    sums.set(
      key,
      figures.map((figure, i) => figure + (sums.get(key)?.[i] ?? 0)),
    )
  return Object.fromEntries([...sums].filter(([, figures]) => figures.some(Boolean)).sort())
}

it('a report in any habit comes back the same, or is asked about', () => {
  let compared = 0
  fc.assert(
    fc.property(
      fc.array(reportRow, { minLength: 1, maxLength: 14 }),
      habit,
      delimiters,
      (drawn, how: Habit, delimiter) => {
        const rows = drawn.map(row => [
          ...[how.date(FIRST + row.day), row.campaign, row.ad, how.money(row.spend), String(row.clicks)],
          ...[String(row.purchases), how.money(row.purchases > 0 ? row.value : 0)],
        ])
        const sheet = written(how.words, rows, delimiter)
        const { mapping, doubts } = guessMapping(sheet, null, own)
        if (doubts.length > 0) return
        const read = readReport(sheet.header, sheet.lines, mapping, 'kelpie', (_, name) => name)
        expect(read.rejected).toEqual([])
        const there = sumsOf([
          ...read.delivery.map(row => ({
            key: `${formatDay(row.date)} ${row.campaign_id}`,
            figures: [row.spend, row.clicks, 0, 0],
          })),
        ])
        // What sums the others to the unit is left out as a total: then it is the file's own that is held against.
        const kept = read.totals > 0 ? null : drawn
        if (!kept) return
        compared += 1
        expect(there).toEqual(
          sumsOf(
            kept.map(row => ({
              key: `${formatDay(FIRST + row.day)} ${row.campaign}`,
              figures: [row.spend, row.clicks, 0, 0],
            })),
          ),
        )
        const claims = read.claims.reduce((sum, row) => sum + row.click_through, 0)
        const worth = read.claims.reduce((sum, row) => sum + (parseAmount(row.value ?? '0', 'EUR') ?? 0), 0)
        expect([claims, worth]).toEqual([
          kept.reduce((sum, row) => sum + row.purchases, 0),
          kept.reduce((sum, row) => sum + (row.purchases > 0 ? row.value : 0), 0),
        ])
      },
    ),
    { numRuns: 2500 },
  )
  expect(compared).toBeGreaterThan(1500)
})

const shopHeadings = {
  en: ['Order', 'Date', 'Status', 'Total', 'Landing page', 'E-mail'],
  de: ['Bestellnummer', 'Bestelldatum', 'Zahlungsstatus', 'Gesamtbetrag', 'Einstiegsseite', 'E-Mail'],
  pl: ['Numer zamówienia', 'Data zamówienia', 'Stan', 'Suma', 'Strona wejścia', 'Adres e-mail'],
  none: ['c1', 'c2', 'c3', 'c4', 'c5', 'c6'],
}
const shopRow = fc.record({
  day: fc.integer({ min: 0, max: 50 }),
  status: fc.constantFrom('paid', 'cancelled', 'refunded'),
  total: fc.integer({ min: 100, max: 900_000 }),
  landed: fc.constantFrom(
    'utm_source=kelpie&utm_campaign=a',
    'https://tarnbrook.example/kits?utm_source=kelpie',
    '',
  ),
})

it('an export in any habit comes back the same, or is asked about', () => {
  let compared = 0
  fc.assert(
    fc.property(
      fc.array(shopRow, { minLength: 4, maxLength: 14 }),
      fc.constantFrom(
        dates.iso,
        dates.dotted,
        dates.slashed,
        dates.american,
        dates.english,
        dates.french,
        dates.polish,
      ),
      fc.constantFrom(...Object.values(moneys)),
      fc.constantFrom(...Object.values(shopHeadings)),
      delimiters,
      (drawn, date, money, header, delimiter) => {
        const rows = drawn.map((row, i) => [
          `TL-${1000 + i}`,
          date(FIRST + row.day),
          row.status,
          money(row.total),
          row.landed,
          `k${i}@mail.example`,
        ])
        const sheet = written(header, rows, delimiter)
        const { mapping, doubts } = guessExport(sheet, own)
        const asked = doubts.filter(doubt => doubt !== 'currency')
        const { columns } = mapping
        // What is not found at all is asked for before anything is imported.
        if (asked.length > 0 || !columns.order_id || !columns.ordered_at || !columns.total || !columns.status)
          return
        compared += 1
        const read = readExport(sheet.header, sheet.lines, mapping)
        expect(read.rejected).toEqual([])
        expect(
          read.orders.map(({ cells }) => [
            cells.order_id,
            cells.ordered_at?.slice(0, 10),
            cells.status,
            cells.total,
          ]),
        ).toEqual(
          drawn.map((row, i) => [
            `TL-${1000 + i}`,
            formatDay(FIRST + row.day),
            row.status,
            formatAmount(row.total, 'EUR'),
          ]),
        )
      },
    ),
    { numRuns: 2500 },
  )
  expect(compared).toBeGreaterThan(1500)
})
