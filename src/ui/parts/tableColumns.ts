import type { ReactNode } from 'react'
import { formatAmount } from '@/core/shared/money'

/** A column of a `DataTable`. */
export interface Column<Row> {
  id: string
  heading: string
  /** what it is sorted, filtered and copied by; null stands last */
  value: (row: Row) => number | string | null
  /** what is shown, where that is not the value */
  cell?: (row: Row) => ReactNode
  /** of a value in minor units: it is copied as an amount */
  currency?: string
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

function textOf<Row>(column: Column<Row>, row: Row): string {
  const value = column.value(row)
  if (column.copied) return column.copied(row)
  return column.currency && typeof value === 'number'
    ? formatAmount(Math.round(value), column.currency)
    : String(value ?? '')
}

/** Rows as a spreadsheet takes them from the clipboard: a tab between cells, none within. */
export const pasted = <Row>(columns: readonly Column<Row>[], rows: readonly Row[]): string =>
  [columns.map(c => c.heading), ...rows.map(row => columns.map(c => textOf(c, row)))]
    .map(cells => cells.map(cell => cell.replace(/[\t\r\n]+/g, ' ')).join('\t'))
    .join('\n')

/** Rows with their headings, for CSV. */
export const cellsOf = <Row>(columns: readonly Column<Row>[], rows: readonly Row[]) => ({
  fields: columns.map(c => c.heading),
  data: rows.map(row => columns.map(c => textOf(c, row))),
})

/** Whether a row holds some words, in any of its cells. */
export function holds<Row>(
  columns: readonly Column<Row>[],
  row: Row,
  words: readonly string[],
  besides = '',
): boolean {
  if (words.length === 0) return true
  const text = [besides, ...columns.map(c => textOf(c, row))].join(' ').toLowerCase()
  return words.every(word => text.includes(word))
}
