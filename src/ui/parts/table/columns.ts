import type { ReactNode } from 'react'
import { formatAmount } from '@/core/shared/money'
import { type Formats, UNKNOWN } from '../../format'

/** A column of a `DataTable`. */
export interface Column<Row> {
  id: string
  /** its ID where none is given; empty for a column of what can be done */
  heading?: string
  /** what it is sorted, filtered and copied by; null stands last */
  value: (row: Row) => number | string | null
  /** how a value is written: a number as a count and words as they are, where nothing is said */
  as?: keyof typeof ways
  /** of an amount that is not in the workspace's currency */
  currency?: (row: Row) => string
  /** what is shown, where that is not the value as it is written */
  cell?: (row: Row) => ReactNode
  /** why a row has no figure: told where it has none */
  none?: (row: Row) => string
  /** what is copied, where that is not the value */
  copied?: (row: Row) => string
  /** what the heading means */
  hint?: string
  /** px, to begin with */
  width?: number
  /** whether it is read from its left: its values are words */
  words?: boolean
  /** whether long words go on in another line */
  wraps?: boolean
  /** whether its values can be chosen from above the table */
  pick?: boolean
  /** whether it is not shown before it is asked for */
  asked?: boolean
}

/** How values are written: amounts in minor units, shares of one, instants in ms, days as `YYYY-MM-DD`. */
const ways = {
  count: (value: number, { count }: Formats) => count(value),
  tenths: (value: number, { tenths }: Formats) => tenths(value),
  amount: (value: number, { money }: Formats, currency?: string) => money(value, currency),
  share: (value: number, { smallPercent }: Formats) => smallPercent(value),
  instant: (value: number, { instant }: Formats) => instant(value),
  day: (value: string, { day }: Formats) => day(value),
}

/** What stands in a cell. */
export function written<Row>(column: Column<Row>, row: Row, formats: Formats): ReactNode {
  if (column.cell) return column.cell(row)
  const value = column.value(row)
  if (value === null) return column.words ? '' : UNKNOWN
  const way = column.as ?? (typeof value === 'number' ? 'count' : null)
  return way ? ways[way](value as never, formats, column.currency?.(row)) : value
}

export const headingOf = ({ id, heading }: Pick<Column<never>, 'id' | 'heading'>) => heading ?? id

/** Which columns are shown, in which order and how wide. */
export interface Layout {
  order: string[]
  hidden: string[]
  widths: Record<string, number>
}
export const usualLayout = (columns: readonly Column<never>[]): Layout => ({
  order: columns.map(c => c.id),
  hidden: columns.filter(c => c.asked).map(c => c.id),
  widths: {},
})

/** As it stands in an address: `name.name!width.-hidden`; the columns that it does not know come after. */
export function layoutFrom(text: string, columns: readonly Column<never>[]): Layout {
  const usual = usualLayout(columns)
  const known = new Set(usual.order)
  const layout: Layout = { order: [], hidden: [], widths: {} }
  for (const part of text.split('.')) {
    const hidden = part.startsWith('-')
    const [id = '', width] = part.slice(hidden ? 1 : 0).split('!')
    if (!known.delete(id)) continue
    layout.order.push(id)
    if (hidden) layout.hidden.push(id)
    if (Number(width) > 0) layout.widths[id] = Math.min(2000, Number(width))
  }
  for (const id of known) {
    layout.order.push(id)
    if (usual.hidden.includes(id)) layout.hidden.push(id)
  }
  return layout
}
export const textOfLayout = ({ order, hidden, widths }: Layout): string =>
  order
    .map(id => `${hidden.includes(id) ? '-' : ''}${id}${widths[id] ? `!${Math.round(widths[id])}` : ''}`)
    .join('.')

/** Moves a column one place, over those that are hidden. */
export function moved({ order, hidden, widths }: Layout, id: string, by: 1 | -1): Layout {
  const shown = order.filter(one => !hidden.includes(one))
  const other = shown[shown.indexOf(id) + by]
  if (!other) return { order, hidden, widths }
  return { order: order.map(one => (one === id ? other : one === other ? id : one)), hidden, widths }
}

/** So many decimals as are shown: a share of one has two more than its per cent. */
const decimals = { tenths: 1, share: 4 } as const

/** A cell as other programs read it: an amount in major units, an instant in UTC, other figures as exact as shown. */
function textOf<Row>(column: Column<Row>, row: Row, currency: string): string {
  const value = column.value(row)
  if (column.copied) return column.copied(row)
  if (typeof value !== 'number') return value ?? ''
  if (column.as === 'amount') return formatAmount(Math.round(value), column.currency?.(row) ?? currency)
  if (column.as === 'instant') return new Date(value).toISOString()
  const digits = column.as === 'tenths' || column.as === 'share' ? decimals[column.as] : 4
  return String(Number(value.toFixed(digits)))
}

const NUMBER = /^-?\d+(\.\d+)?$/
/** What a spreadsheet would run as a formula is marked as text; a number below nought is a number. */
const asCell = (cell: string): string => (/^[=+\-@\t\r]/.test(cell) && !NUMBER.test(cell) ? `'${cell}` : cell)

/** Rows as a spreadsheet takes them from the clipboard: a tab between cells, none within. */
export const pasted = <Row>(
  columns: readonly Column<Row>[],
  rows: readonly Row[],
  currency: string,
): string =>
  [columns.map(headingOf), ...rows.map(row => columns.map(c => textOf(c, row, currency)))]
    .map(cells => cells.map(cell => cell.replace(/[\t\r\n]+/g, ' ')).join('\t'))
    .join('\n')

/** Rows with their headings, for CSV. */
export const cellsOf = <Row>(columns: readonly Column<Row>[], rows: readonly Row[], currency: string) => ({
  fields: columns.map(headingOf),
  data: rows.map(row => columns.map(c => asCell(textOf(c, row, currency)))),
})

/** Whether a row holds some words, in any of its cells. */
export function holds<Row>(
  columns: readonly Column<Row>[],
  row: Row,
  words: readonly string[],
  currency: string,
  besides = '',
): boolean {
  if (words.length === 0) return true
  const text = [besides, ...columns.map(c => textOf(c, row, currency))].join(' ').toLowerCase()
  return words.every(word => text.includes(word))
}
