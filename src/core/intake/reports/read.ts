import { type Day, formatDay, type Period } from '../../shared/days'
import { currencyExponent, formatAmount, minor, parseAmount } from '../../shared/money'
import { pathKey, perPath } from '../../shared/path'
import { type Cells, type Reject, rowReader } from '../fields'
import { type ClaimSumRow, type DeliveryRow, exchangeFiles } from '../records'
import { layClaims, layDelivery } from '../stretch'
import type { Level } from '../tree'
import { isBelow, readFigure } from './cells'
import { countedOf, type ReportField, type ReportMapping, tellsClaims, tellsSpend } from './mapping'
import { dateOrders } from './moment'
import { spanReader } from './span'

export interface ReportLine {
  cells: readonly string[]
  /** line of the file, from 1 */
  line: number
}

export interface ReadReport {
  /** sums by day, ad and segment */
  delivery: DeliveryRow[]
  /** sums by day, conversion and the lowest level that the report names */
  claims: ClaimSumRow[]
  rejected: Reject[]
  /** lines of totals, which hold nothing of their own */
  totals: number
  /** cells that say only below which figure theirs is: they are counted as nothing */
  hidden: number
  /** the first line of each sum */
  lineOf: Map<DeliveryRow | ClaimSumRow, number>
}

const levelFields = {
  campaign: ['campaign_id', 'campaign_name'],
  ad_set: ['ad_set_id', 'ad_set_name'],
  ad: ['ad_id', 'ad_name'],
} as const
/** Decimals of conversions. */
const PARTS = 3
type ConversionField = 'click_through' | 'view_through' | 'value'
const segments = ['keyword', 'match_type', 'placement', 'source', 'device'] as const

/**
 * Reads a network's report by its mapping into sums as the exchange files have them. Lines that differ
 * only in what is not mapped are added up. Amounts finer than their currency are rounded half up.
 *
 * @param idOf the ID of what a report only names; the name itself where nobody knows it
 * @param seen is told how many lines are read
 */
export function readReport(
  header: readonly string[],
  lines: Iterable<ReportLine>,
  mapping: ReportMapping,
  network: string,
  idOf: (level: Level, name: string) => string,
  seen: (lines: number) => void = () => {},
): ReadReport {
  const at = Object.fromEntries(
    Object.entries(mapping.columns).map(([field, heading]) => [field, header.indexOf(heading)]),
  ) as Partial<Record<ReportField, number>>
  const readSpan = spanOfLine(mapping)
  const readDelivery = rowReader(exchangeFiles.delivery.schema)
  const readClaims = rowReader(exchangeFiles.claims.schema)
  const blank: Cells = Object.fromEntries(exchangeFiles.delivery.columns.map(c => [c, null]))
  const delivery = new Map<string, DeliveryRow>()
  const claims = new Map<string, ClaimSumRow>()
  const rejected: Reject[] = []
  let totals = 0
  let hidden = 0
  const figures = [
    ...(['spend', 'impressions', 'clicks', 'reach'] as const).flatMap(field => at[field] ?? []),
    ...countedOf(mapping).flatMap(one =>
      [one.click_through, one.view_through, one.value].flatMap(heading =>
        heading === undefined ? [] : header.indexOf(heading),
      ),
    ),
  ]
  const lineOf: ReadReport['lineOf'] = new Map()

  const place = (heading: string | undefined) => (heading === undefined ? undefined : header.indexOf(heading))
  const counted = countedOf(mapping).map((one, i) => ({
    conversion: one.conversion,
    isFirst: i === 0,
    at: {
      click_through: place(one.click_through),
      view_through: place(one.view_through),
      value: place(one.value),
    },
  }))
  const all = [...lines]
  const cellOf = ({ cells }: ReportLine, field: ReportField) =>
    at[field] === undefined ? '' : (cells[at[field]]?.trim() ?? '')
  const sums = sumLines(all, at, cellOf, mapping)
  for (const [i, own] of all.entries()) {
    seen(i)
    const { line } = own
    const cell = (field: ReportField) => cellOf(own, field)
    const refuseCell = (place: number, reason: Reject['reason']) =>
      rejected.push({
        line,
        column: header[place] ?? '',
        reason,
        value: (own.cells[place]?.trim() ?? '').slice(0, 80),
      })
    const refuse = (field: ReportField, reason: Reject['reason']) =>
      rejected.push({
        line,
        column: mapping.columns[field] ?? field,
        reason,
        value: cell(field).slice(0, 80),
      })
    const span = readSpan(cell)
    if (isTotal(cell) || sums.has(own)) {
      totals += 1
      continue
    }
    if (typeof span === 'string') {
      const text = cell(span)
      const reason = text === '' ? 'required' : isDateOtherwise(text) ? 'other_date_order' : 'not_a_date'
      refuse(span, reason)
      continue
    }
    const named: Cells = { date: formatDay(span.from), date_to: formatDay(span.to), network }
    for (const level of ['campaign', 'ad_set', 'ad'] as const) {
      const [id, name] = levelFields[level].map(cell) as [string, string]
      named[`${level}_id`] = id || (name && idOf(level, name)) || null
      named[`${level}_name`] = name || null
    }
    const currency = cell('currency').toUpperCase() || mapping.currency
    const digits = currencyExponent(currency) ?? 2
    const figure = (field: ReportField, places = digits) => readFigure(cell(field), mapping.decimal, places)
    const { cells } = own
    const badColumn = (fields: readonly ConversionField[], isGood: (text: string) => boolean) =>
      counted
        .flatMap(one => fields.flatMap(field => one.at[field] ?? []))
        .find(place => !isGood(cells[place]?.trim() ?? ''))
    const notAnAmount =
      figure('spend') === null
        ? at.spend
        : badColumn(['value'], text => readFigure(text, mapping.decimal, digits) !== null)
    if (notAnAmount !== undefined) {
      refuseCell(notAnAmount, 'not_an_amount')
      continue
    }
    const isCount = (field: ReportField) => /^\d+(\.0+)?$/.test(figure(field, 6) ?? '')
    // Networks credit conversions in parts.
    const isParts = (text: string) => /^\d/.test(readFigure(text, mapping.decimal, PARTS) ?? '')
    const field = (['impressions', 'clicks', 'reach'] as const).find(one => !isCount(one))
    const miscounted = field ? at[field] : badColumn(['click_through', 'view_through'], isParts)
    if (miscounted !== undefined) {
      refuseCell(miscounted, 'not_a_count')
      continue
    }
    hidden += figures.filter(place => isBelow(cells[place] ?? '')).length
    const taken = { delivery: null as DeliveryRow | null, claims: [] as ClaimSumRow[] }
    const back = (column: string): ReportField =>
      column in mapping.columns ? (column as ReportField) : 'ad_id'
    if (tellsSpend(mapping)) {
      const read = readDelivery({
        ...blank,
        ...named,
        ...Object.fromEntries(segments.map(s => [s, cell(s) || null])),
        currency,
        spend: figure('spend'),
        impressions: figure('impressions', 0),
        clicks: figure('clicks', 0),
        reach: at.reach === undefined || cell('reach') === '' ? null : figure('reach', 0),
      })
      if ('record' in read) taken.delivery = read.record as DeliveryRow
      else refuse(back(read.column), read.reason)
    }
    if (tellsClaims(mapping) && (taken.delivery || !tellsSpend(mapping))) {
      for (const { at: own, ...one } of counted) {
        const part = (field: ConversionField) =>
          own[field] === undefined ? '' : (cells[own[field]]?.trim() ?? '')
        const read = readClaims({
          date: named.date ?? null,
          date_to: named.date_to ?? null,
          network,
          campaign_id: named.campaign_id ?? null,
          ad_set_id: named.ad_set_id ?? null,
          ad_id: named.ad_id ?? null,
          conversion: (one.isFirst && cell('conversion')) || one.conversion,
          click_through: readFigure(part('click_through'), mapping.decimal, PARTS),
          view_through: readFigure(part('view_through'), mapping.decimal, PARTS),
          value: own.value === undefined ? null : readFigure(part('value'), mapping.decimal, digits),
          currency,
        })
        if ('record' in read) taken.claims.push(read.record as ClaimSumRow)
        else refuse(back(read.column), read.reason)
      }
    }
    for (const row of taken.delivery ? layDelivery(taken.delivery) : []) {
      lineOf.set(row, line)
      addDelivery(delivery, row)
    }
    for (const row of taken.claims.filter(claimed => claimed.click_through + claimed.view_through > 0))
      for (const own of layClaims(row)) {
        lineOf.set(own, line)
        addClaims(claims, own)
      }
  }
  return { delivery: [...delivery.values()], claims: [...claims.values()], rejected, totals, hidden, lineOf }
}

/** Whether a line sums others: it names a total, or nothing, where others name a day, a campaign or an ad. */
function isTotal(cell: (field: ReportField) => string): boolean {
  const names = Object.values(levelFields).flat().map(cell)
  return (
    (cell('date') === '' && names.every(name => name === '')) ||
    /^(grand |sub-? ?)?totals?\b/i.test(cell('date')) ||
    names.some(name => /^(grand |sub-? ?)?totals?:?$/i.test(name))
  )
}

const idFields = ['campaign_id', 'ad_set_id', 'ad_id'] as const
const summedFields = ['spend', 'impressions', 'clicks', 'click_through', 'view_through'] as const
/** Amounts may have been rounded one by one before they were summed. */
const ROUNDING = 0.005

/**
 * Lines that sum the others, whatever they are called: without an ID where others have one (or, where no column is
 * an ID, the first or the last line), and with figures that are those of the others together, of the same day where
 * they name one.
 */
function sumLines(
  lines: readonly ReportLine[],
  at: Partial<Record<ReportField, number>>,
  cellOf: (line: ReportLine, field: ReportField) => string,
  mapping: ReportMapping,
): ReadonlySet<ReportLine> {
  const ids = idFields.filter(field => at[field] !== undefined)
  const fields = summedFields.filter(field => at[field] !== undefined)
  const named = lines.filter(line => !isTotal(field => cellOf(line, field)))
  const candidates =
    ids.length > 0
      ? named.filter(line => ids.every(field => cellOf(line, field) === ''))
      : [...new Set([named[0], named.at(-1)])].flatMap(line => line ?? [])
  if (candidates.length === 0 || fields.length === 0) return new Set()
  const { decimal } = mapping
  const readSpan = spanOfLine(mapping)
  const spanOf = (line: ReportLine) => {
    const span = readSpan(field => cellOf(line, field))
    return typeof span === 'string' ? null : span
  }
  const keyOf = (span: Period | null) => (span ? `${span.from} ${span.to}` : null)
  let whole: Period = { from: Number.POSITIVE_INFINITY, to: Number.NEGATIVE_INFINITY }
  const figuresOf = (line: ReportLine) =>
    fields.map(field => Number(readFigure(cellOf(line, field), decimal, 6) ?? Number.NaN))
  const isSummed = new Set(ids.length > 0 ? candidates : [])
  const sums = new Map<string | null, { lines: number; figures: number[] }>()
  const add = (day: string | null, figures: readonly number[]) => {
    const sum = sums.get(day) ?? { lines: 0, figures: fields.map(() => 0) }
    sums.set(day, { lines: sum.lines + 1, figures: sum.figures.map((value, i) => value + figures[i]!) })
  }
  for (const line of named) {
    if (isSummed.has(line)) continue
    const figures = figuresOf(line)
    const span = spanOf(line)
    if (span) {
      add(keyOf(span), figures)
      whole = { from: Math.min(whole.from, span.from), to: Math.max(whole.to, span.to) }
    }
    add(null, figures)
  }
  const isSum = (line: ReportLine): boolean => {
    const own = figuresOf(line)
    const span = spanOf(line)
    // A line of all the days of the file sums them all.
    const ofAll = span !== null && span.from <= whole.from && span.to >= whole.to && span.to > span.from
    const sum = sums.get(ofAll ? null : keyOf(span))
    if (!sum) return false
    // Where it is among those that are summed, the others come to the sum less itself.
    const itself = isSummed.has(line) ? 0 : 1
    const others = sum.lines - itself
    return (
      others >= (ids.length > 0 ? 1 : 2) &&
      own.some(value => value > 0) &&
      own.every(
        (value, i) =>
          Math.abs(value * (1 + itself) - sum.figures[i]!) <=
          (fields[i] === 'spend' ? ROUNDING * others + 1e-6 : 1e-6),
      )
    )
  }
  return new Set(candidates.filter(isSum))
}

const isDateOtherwise = (text: string): boolean => dateOrders.some(order => spanReader(order)(text) !== null)

/** Reads the days that a line sums; gives the field that cannot be read where one cannot. */
function spanOfLine({
  columns,
  date_order,
  covers,
}: ReportMapping): (cell: (field: ReportField) => string) => Period | 'date' | 'date_to' {
  const read = perPath(text => spanReader(date_order, columns.date_to ? 'day' : covers)(text!))
  return cell => {
    const first = read(cell('date'))
    if (!first) return 'date'
    if (!columns.date_to) return first
    const last = read(cell('date_to'))
    return last && last.to >= first.from ? { from: first.from, to: last.to } : 'date_to'
  }
}

function addDelivery(sums: Map<string, DeliveryRow>, row: DeliveryRow): void {
  const { date, campaign_id, ad_set_id, ad_id, currency } = row
  const parts = [campaign_id, ad_set_id, ad_id, currency, ...segments.map(s => row[s])]
  const key = pathKey(String(date), ...parts.map(part => part ?? ''))
  const sum = sums.get(key)
  if (!sum) return void sums.set(key, row)
  sum.spend = minor(sum.spend + row.spend)
  sum.impressions += row.impressions
  sum.clicks += row.clicks
  if (row.reach !== null) sum.reach = (sum.reach ?? 0) + row.reach
}

function addClaims(sums: Map<string, ClaimSumRow>, row: ClaimSumRow): void {
  const key = pathKey(String(row.date), row.campaign_id, row.ad_set_id, row.ad_id, row.conversion)
  const sum = sums.get(key)
  if (!sum) return void sums.set(key, row)
  sum.click_through = addParts(sum.click_through, row.click_through)
  sum.view_through = addParts(sum.view_through, row.view_through)
  if (sum.value === null) sum.value = row.value
  else sum.value = formatAmount(worthOf(sum) + worthOf(row), row.currency ?? '')
}

const addParts = (a: number, b: number) => Math.round((a + b) * 10 ** PARTS) / 10 ** PARTS

const worthOf = ({ value, currency }: ClaimSumRow) => (value && currency && parseAmount(value, currency)) || 0

/** What a day of a network comes to. */
export interface DaySum {
  day: Day
  /** minor units, in one currency */
  spend: number
  impressions: number
  clicks: number
  claims: number
  value: number
}

/** The days of a report, each with what it sums to in the report's currency. */
export function sumByDay({ delivery, claims }: Pick<ReadReport, 'delivery' | 'claims'>): DaySum[] {
  const days = new Map<Day, DaySum>()
  const of = (day: Day) => {
    let sum = days.get(day)
    if (!sum) days.set(day, (sum = { day, spend: 0, impressions: 0, clicks: 0, claims: 0, value: 0 }))
    return sum
  }
  for (const row of delivery) {
    const sum = of(row.date)
    sum.spend += row.spend
    sum.impressions += row.impressions
    sum.clicks += row.clicks
  }
  for (const row of claims) {
    const sum = of(row.date)
    sum.claims = addParts(sum.claims, row.click_through + row.view_through)
    sum.value += worthOf(row)
  }
  return [...days.values()].sort((a, b) => a.day - b.day)
}

/** What a report's conversions come to by their name, in the report's currency. */
export function sumByConversion(
  claims: readonly ClaimSumRow[],
): { conversion: string; count: number; value: number }[] {
  const sums = new Map<string, { conversion: string; count: number; value: number }>()
  for (const row of claims) {
    const sum = sums.get(row.conversion) ?? { conversion: row.conversion, count: 0, value: 0 }
    sum.count = addParts(sum.count, row.click_through + row.view_through)
    sum.value += worthOf(row)
    sums.set(row.conversion, sum)
  }
  return [...sums.values()]
}
