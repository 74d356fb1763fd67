import { currencyExponent } from '../../shared/money'
import { type DecimalMark, readFigure } from '../reports/cells'
import type { Sheet } from '../reports/guess'
import { dateOrders, momentReader } from '../reports/moment'
import type { ExportField } from './fields'

/** What a column's cells are, whatever its heading says. */
export type CellKind = 'number' | 'moment' | 'address' | 'email' | 'currency' | 'amount' | 'words'

/** So many of a column's cells must be of a kind. */
const MOST = 0.9
/** Orders that carry an address or parameters may be few. */
const SOME = 0.15
const MOST_WORDS = 8
const ROWS = 200

/** An address, or parameters alone. */
const ADDRESS =
  /^(https?:\/\/|www\.)|^[/?]?[^\s]*[?&]?[a-z_]{2,}=[^\s&]+&[a-z_]{2,}=|[?&](utm_\w+|\w*clid|aq_\w+)=/i
const EMAIL = /^[^\s@]+@[^\s@]+\.[^\s@]+$/
const NUMBERED = /^(?=.*\d)[\p{L}\d#/_-]{1,40}$/u

interface Seen {
  heading: string
  cells: string[]
  filled: string[]
}
const columnsOf = ({ header, rows }: Sheet): Seen[] =>
  header.map((heading, i) => {
    const cells = rows.slice(0, ROWS).map(row => row[i]?.trim() ?? '')
    return { heading, cells, filled: cells.filter(Boolean) }
  })
const share = (some: readonly string[], is: (text: string) => boolean) =>
  some.length === 0 ? 0 : some.filter(is).length / some.length
const isMoment = (text: string) =>
  /[^\d.,]/.test(text) && dateOrders.some(order => momentReader(order)(text) !== null)
const readAmount = (text: string, mark: DecimalMark) => readFigure(text.replace(/^\((.*)\)$/, '-$1'), mark, 2)
const isAmount = (text: string) =>
  /\d[.,]\d{1,2}(?!\d)/.test(text) && (readAmount(text, '.') !== null || readAmount(text, ',') !== null)

/** The kind of a column's cells; null where they are none that matters. */
export function kindOf({ cells, filled }: Pick<Seen, 'cells' | 'filled'>): CellKind | null {
  if (filled.length === 0) return null
  if (share(filled, text => EMAIL.test(text)) >= MOST) return 'email'
  if (share(cells, text => ADDRESS.test(text)) >= SOME) return 'address'
  if (share(filled, isMoment) >= MOST) return 'moment'
  if (share(filled, text => /^[A-Z]{3}$/.test(text) && currencyExponent(text) !== null) >= MOST)
    return 'currency'
  if (
    share(filled, isAmount) >= 0.5 &&
    share(filled, text => readAmount(text, '.') !== null || readAmount(text, ',') !== null) >= MOST
  )
    return 'amount'
  const different = new Set(filled).size
  if (share(filled, text => NUMBERED.test(text)) >= MOST && different >= filled.length * 0.5) return 'number'
  if (
    different <= MOST_WORDS &&
    filled.length >= different * 2 &&
    share(filled, text => !/\d/.test(text)) >= MOST
  )
    return 'words'
  return null
}

const isFigure = (text: string) => readAmount(text, '.') !== null || readAmount(text, ',') !== null
/** Fields whose cells are all of a kind, and what a cell of theirs is at the least. */
const mustBe: Partial<Record<ExportField, (text: string) => boolean>> = {
  // A name of somebody is no number, even under a heading that some shops use for it.
  order_id: text => /\d/.test(text) || !/\s/.test(text),
  ordered_at: text => /\d/.test(text),
  email: text => text.includes('@'),
  currency: text => /\p{Sc}|^\p{L}{2,4}$/u.test(text),
  ...Object.fromEntries(
    (['total', 'net', 'tax', 'shipping', 'discount', 'refunded', 'unit_price', 'quantity'] as const).map(
      field => [field, isFigure],
    ),
  ),
}

/** Whether a column's cells speak against what its heading says it is. */
export function speaksAgainst(sheet: Sheet, heading: string, field: ExportField): boolean {
  const is = mustBe[field]
  const { filled } = columnsOf(sheet).find(column => column.heading === heading)!
  return is !== undefined && filled.length > 0 && share(filled, is) < 0.5
}

/**
 * Fields that headings left open, by what the cells are: what is numbered and never twice is the order, what holds
 * addresses with parameters the landing page, and so on; amounts by which of them is what the others make together.
 *
 * @param taken columns that headings told, by field; those found are added
 * @param isStatus whether a word is one of a status in any language
 */
export function guessByCells(
  sheet: Sheet,
  taken: Partial<Record<ExportField, string>>,
  isStatus: (word: string) => boolean,
): void {
  const used = new Set(Object.values(taken))
  const open = columnsOf(sheet).filter(column => !used.has(column.heading))
  const ofKind = (kind: CellKind) =>
    open.filter(column => !used.has(column.heading) && kindOf(column) === kind)
  const give = (field: ExportField, column: Seen | undefined) => {
    if (taken[field] || !column) return
    taken[field] = column.heading
    used.add(column.heading)
  }
  const isUnique = ({ filled, cells }: Seen) =>
    filled.length === cells.length && new Set(filled).size === filled.length
  if (!taken.order_id) {
    const numbered = ofKind('number')
    give('order_id', numbered.find(isUnique) ?? (numbered.length === 1 ? numbered[0] : undefined))
  }
  give('ordered_at', ofKind('moment')[0])
  if (!taken.utm_source && !taken.utm_campaign)
    give('landing_url', ofKind('address').find(holdsParameters) ?? ofKind('address')[0])
  give('email', ofKind('email')[0])
  give('currency', ofKind('currency')[0])
  give(
    'status',
    ofKind('words').find(column => share(column.filled, isStatus) >= 0.5),
  )
  if (taken.total || taken.net || taken.unit_price) return
  const amounts = ofKind('amount')
  const made = amounts.length > 1 ? whatMakesWhat(amounts) : null
  if (made) for (const [field, column] of Object.entries(made)) give(field as ExportField, column)
  else if (amounts.length === 1) give('total', amounts[0])
}
const holdsParameters = ({ filled }: Seen) => share(filled, text => /[?&=]/.test(text)) > 0

/** The total among amounts, and what makes it: goods and tax and shipping, less a discount; null where nothing does. */
function whatMakesWhat(
  amounts: readonly Seen[],
): Partial<Record<'total' | 'net' | 'tax' | 'shipping' | 'discount', Seen>> | null {
  const mark: DecimalMark =
    share(
      amounts.flatMap(column => column.filled),
      text => /,\d{1,2}\D*$/.test(text),
    ) > 0.5
      ? ','
      : '.'
  const cents = new Map(
    amounts.map(column => [
      column,
      column.cells.map(text =>
        text === '' ? 0 : Math.round(Number(readAmount(text, mark) ?? Number.NaN) * 100),
      ),
    ]),
  )
  const rows = amounts[0]!.cells.length
  const sum = (column: Seen) => cents.get(column)!.reduce((all, one) => all + one, 0)
  const makes = (total: Seen, plus: readonly Seen[], minus: readonly Seen[]) => {
    let fits = 0
    for (let i = 0; i < rows; i++) {
      const at = (column: Seen) => cents.get(column)![i]!
      const made =
        plus.reduce((all, column) => all + at(column), 0) -
        minus.reduce((all, column) => all + Math.abs(at(column)), 0)
      if (Math.abs(made - at(total)) <= 1) fits += 1
    }
    return fits >= rows * 0.95
  }
  const byWorth = [...amounts].sort((a, b) => sum(b) - sum(a)).slice(0, 6)
  for (const total of byWorth) {
    const others = byWorth.filter(column => column !== total && sum(column) !== 0)
    for (let chosen = (1 << others.length) - 1; chosen > 0; chosen--) {
      const some = others.filter((_, i) => chosen & (1 << i))
      if (some.length < 2 && others.length > 1) continue
      for (const less of [null, ...some]) {
        const plus = some.filter(column => column !== less)
        if (plus.length === 0 || !makes(total, plus, less ? [less] : [])) continue
        const [net, ...rest] = plus.sort((a, b) => sum(b) - sum(a))
        // Tax goes with the goods, shipping is one of a few prices.
        const kinds = (column: Seen) => new Set(cents.get(column)!).size
        const [tax, shipping] = rest.length === 2 ? rest.sort((a, b) => kinds(b) - kinds(a)) : rest
        const alone = rest.length === 1 && kinds(rest[0]!) <= Math.max(3, rows / 10)
        return {
          total,
          net: net!,
          ...(alone ? { shipping: tax! } : { ...(tax && { tax }), ...(shipping && { shipping }) }),
          ...(less && { discount: less }),
        }
      }
    }
  }
  return { total: byWorth[0]! }
}

/** Columns that are not used although their cells look as if they mattered. */
export function unusedThatMatter(
  sheet: Sheet,
  columns: Partial<Record<ExportField, string>>,
): { heading: string; holds: 'amount' | 'address' | 'email' }[] {
  const used = new Set(Object.values(columns))
  return columnsOf(sheet).flatMap(column => {
    const kind = used.has(column.heading) ? null : kindOf(column)
    return kind === 'amount' || kind === 'address' || (kind === 'email' && !columns.customer_id)
      ? [{ heading: column.heading, holds: kind }]
      : []
  })
}
