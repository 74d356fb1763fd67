import { currencyExponent } from '../../shared/money'
import { type OrderStatus, orderStatuses } from '../records'
import { currencyIn, type DecimalMark } from '../reports/cells'
import { guessDates, type Sheet, samplesOf } from '../reports/guess'
import { guessByCells, speaksAgainst } from './cells'
import { type ExportField, exportFieldNames, headingWords, plain, statusWords } from './fields'
import type { ExportMapping } from './mapping'

/** What a mapping was guessed of, and could as well be otherwise: somebody is asked. */
export type ExportDoubt = 'date_order' | 'decimal' | 'currency' | 'amounts'

const wordsByField = new Map(
  exportFieldNames.flatMap(field => headingWords[field].split('|').map(words => [words, field] as const)),
)
const statusByWord = new Map(
  orderStatuses.flatMap(status => statusWords[status].split('|').map(word => [word, status] as const)),
)
/** What headings may say besides what they are: a currency, or that they are an amount. */
const isBeside = (word: string) =>
  ['amount', 'value', 'betrag', 'in', 'of', 'the', 'order'].includes(word) ||
  (word.length === 3 && currencyExponent(word.toUpperCase()) !== null)

/** The field that a heading names; null where it says none that is known. */
function fieldOf(heading: string): ExportField | null {
  const text = plain(heading)
  const bare = text
    .split(' ')
    .filter(word => !isBeside(word))
    .join(' ')
  return wordsByField.get(text) ?? wordsByField.get(bare) ?? null
}

/** A mark before the last three digits may part thousands or fractions; before one or two it parts fractions. */
function guessDecimal(samples: readonly string[]): { decimal: DecimalMark; sure: boolean } {
  const parted = samples.filter(text => /\d[.,]\d/.test(text))
  const votes = parted.flatMap(text => {
    const [, last, digits] = /([.,])(\d+)\D*$/.exec(text) ?? []
    if (!last || !digits) return []
    if (digits.length !== 3) return [last]
    const other = last === '.' ? ',' : '.'
    // Two different marks, or one twice: the last of two is for fractions, one that comes twice for thousands.
    if (text.includes(other)) return [last]
    return text.split(last).length > 2 ? [other] : []
  })
  const commas = votes.filter(mark => mark === ',').length
  return {
    decimal: commas * 2 > votes.length ? ',' : '.',
    sure: parted.length === 0 || (votes.length > 0 && (commas === 0 || commas === votes.length)),
  }
}

/** Whether the lines that share an order's number say its total again, or parts of it. */
function guessAmounts(sheet: Sheet, columns: ExportMapping['columns']) {
  const at = (field: ExportField) => sheet.header.indexOf(columns[field] ?? '')
  const [id, total] = [at('order_id'), columns.total ? at('total') : at('net')]
  const byOrder = new Map<string, Set<string>>()
  let repeated = false
  for (const row of sheet.rows) {
    const order = row[id]?.trim() ?? ''
    const seen = byOrder.get(order)
    if (seen) repeated = true
    byOrder.set(order, (seen ?? new Set()).add(row[total]?.trim() ?? ''))
  }
  if (!repeated) return { amounts: total < 0 ? 'line' : 'order', sure: true } as const
  if (total < 0) return { amounts: 'line', sure: true } as const
  const differ = [...byOrder.values()].some(totals => [...totals].filter(Boolean).length > 1)
  return { amounts: differ ? 'line' : 'order', sure: differ } as const
}

/** The words of a shop's status column. */
export const statusWordsIn = (sheet: Sheet, columns: ExportMapping['columns']): string[] =>
  samplesOf(sheet, columns.status)

/**
 * A mapping that fits an export's headings and first rows as well as they tell; somebody corrects it. What headings
 * leave open is guessed from the cells.
 *
 * @param own the workspace's currency and zone, for what the file does not say
 * @param by whether cells may tell what headings leave open
 * @returns with `doubts` about what could as well be otherwise
 */
export function guessExport(
  sheet: Sheet,
  own: { currency: string; time_zone: string },
  by: 'headings' | 'cells' = 'cells',
): { mapping: ExportMapping; doubts: ExportDoubt[] } {
  const columns: ExportMapping['columns'] = {}
  for (const heading of sheet.header) {
    const field = fieldOf(heading)
    if (field && !columns[field] && !speaksAgainst(sheet, heading, field)) columns[field] = heading
  }
  if (by === 'cells') guessByCells(sheet, columns, word => statusByWord.has(plain(word)))
  return { ...guessForms(sheet, columns, own) }
}

/** What lines with such columns are. */
function holdsOf(columns: ExportMapping['columns']): ExportMapping['holds'] {
  const has = (...fields: ExportField[]) => fields.some(field => columns[field])
  if (!has('order_id')) return has('email') && !has('total', 'net', 'unit_price') ? 'customers' : 'orders'
  return has('refunded') && !has('total', 'net', 'unit_price') ? 'refunds' : 'orders'
}

/** How an export writes days, amounts and statuses, by the columns that hold them. */
export function guessForms(
  sheet: Sheet,
  columns: ExportMapping['columns'],
  own: { currency: string; time_zone: string },
): { mapping: ExportMapping; doubts: ExportDoubt[] } {
  const amountColumns = (['total', 'net', 'unit_price', 'tax', 'shipping', 'refunded'] as const).flatMap(
    field => columns[field] ?? [],
  )
  const amounts = amountColumns.flatMap(column => samplesOf(sheet, column))
  const said = [...amountColumns, ...samplesOf(sheet, columns.currency), ...amounts].flatMap(
    text => currencyIn(text) ?? [],
  )
  const currency = said[0] ?? own.currency
  const decimal = guessDecimal(amounts)
  // A currency without fractions has marks for thousands alone.
  const whole = currencyExponent(currency) === 0
  const thousands = amounts.some(text => /\d\.\d{3}/.test(text)) ? ',' : '.'
  const dates = guessDates(samplesOf(sheet, columns.ordered_at))
  const lines = guessAmounts(sheet, columns)
  const statuses: Record<string, OrderStatus> = {}
  for (const word of statusWordsIn(sheet, columns)) {
    const status = statusByWord.get(plain(word))
    if (status) statuses[plain(word)] = status
  }
  return {
    mapping: {
      holds: holdsOf(columns),
      columns,
      date_order: dates.order,
      decimal: whole ? thousands : decimal.decimal,
      currency,
      time_zone: own.time_zone,
      amounts: lines.amounts,
      statuses,
      tests: '',
    },
    doubts: [
      ...(dates.sure ? [] : (['date_order'] as const)),
      ...(decimal.sure || whole ? [] : (['decimal'] as const)),
      ...(said.length > 0 ? [] : (['currency'] as const)),
      ...(lines.sure ? [] : (['amounts'] as const)),
    ],
  }
}
