import { exchangeFiles, type FileKind, fileKinds } from '@/core/intake/records'
import { readStretch } from '@/core/intake/stretch'
import { formatDay, parseDay } from '@/core/shared/days'
import { formatAmount } from '@/core/shared/money'
import type { Conversion } from '@/core/weigh/conversions'
import type { Executor } from '@/data/connect'
import { type Cut, daysOf, extraColumns, type RecordKind, rowsOfDay } from '@/data/exportRows'
import { loadAds } from '@/data/loadRecords'
import type { Workspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'

type Row = Record<string, unknown>

export const recordKinds = [
  ...fileKinds,
  'events',
  'sales',
  'set-aside',
] as const satisfies readonly RecordKind[]

/** All days and networks. */
export const wholeCut = { from: '0001-01-01', to: '9999-12-31', network: null }

/** Columns of what is no exchange file. */
const ownColumns: Record<Exclude<RecordKind, FileKind>, readonly string[]> = {
  events: [
    'event_id',
    'at',
    'name',
    'page',
    'referrer',
    'visitor_id',
    'click_id',
    'value',
    'currency',
    'transaction_id',
    'country',
  ],
  'set-aside': ['id', 'kind', 'at', 'reason', 'raw', 'settled'],
  sales: ['partner', 'deal', 'click_id', 'amount', 'currency', 'status', 'first_at', 'changed_at'],
}
const columnsOf = (kind: RecordKind): readonly string[] =>
  kind in exchangeFiles
    ? exchangeFiles[kind as FileKind].columns
    : ownColumns[kind as keyof typeof ownColumns]

/** How each kind of value is written; columns that are not named here are text as they stand. */
const amounts = new Set(['spend', 'total', 'tax', 'shipping', 'refunded', 'amount'])
const instants = new Set(['ordered_at', 'clicked_at', 'claimed_at', 'at', 'first_at', 'changed_at'])

function writeCell(column: string, row: Row, currency: string): unknown {
  const value = column === 'date' ? (row.date ?? row.day) : row[column]
  if (value === null || value === undefined) return ''
  if (column === 'date')
    return typeof value === 'number'
      ? formatDay(value)
      : value instanceof Date
        ? value.toISOString().slice(0, 10)
        : String(value).slice(0, 10)
  if (instants.has(column)) return new Date(value as string | number | Date).toISOString()
  return amounts.has(column) ? formatAmount(Number(value), currency) : value
}

/**
 * Records of a kind and period as CSV, a day at a time, so that nothing has to be held whole.
 *
 * @yields parts of the file, the first with its header line
 */
export async function* recordsCsv(
  database: Executor,
  { id, settings }: Workspace,
  kind: RecordKind,
  { from, to, network }: Omit<Cut, 'zone'>,
): AsyncGenerator<string> {
  const known = columnsOf(kind)
  const withoutHeader = (text: string) => text.slice(text.indexOf('\n') + 1)
  if (kind === 'ads') {
    const ads = (await loadAds(database, id)).filter(ad => !network || ad.network === network)
    yield writeCsv(known, [])
    if (ads.length > 0) yield withoutHeader(writeCsv(known, ads as unknown as Row[]))
    return
  }
  const extra = (await extraColumns(database, id, kind)).filter(
    column => !known.includes(column) && column !== 'stretch',
  )
  const columns = [...known, ...extra]
  yield writeCsv(columns, [])
  const cut = { from, to, network, zone: settings.time_zone }
  const days = async function* () {
    for (const day of await daysOf(database, id, kind, cut))
      yield { day, rows: await rowsOfDay(database, id, kind, day, cut) }
  }
  for await (const rows of wholeStretches(days())) {
    const written = rows.map(row => {
      const currency = String(row.currency ?? settings.currency)
      const attributes = (row.attributes as Row | null) ?? {}
      return Object.fromEntries([
        // Some columns of the files are kept with those that the files do not know.
        ...known.map(column => [column, writeCell(column, { ...attributes, ...row }, currency)]),
        ...extra.map(column => [column, attributes[column] ?? '']),
      ])
    })
    yield withoutHeader(writeCsv(columns, written))
  }
}

/** Figures of a row that sums days. */
const summed = ['spend', 'impressions', 'clicks', 'click_through', 'view_through', 'value'] as const

/** Rows by day, those that are parts of a longer stretch as one row again, as far as its days are all there. */
async function* wholeStretches(
  days: AsyncIterable<{ day: string; rows: readonly Row[] }>,
): AsyncGenerator<Row[]> {
  const open = new Map<string, { row: Row; last: number; until: number }>()
  const done = ({ row, last }: { row: Row; last: number }): Row => ({
    ...row,
    date: row.day,
    date_to: row.day === formatDay(last) ? null : formatDay(last),
  })
  for await (const { day: text, rows } of days) {
    const day = parseDay(text)!
    const finished: Row[] = []
    const plain: Row[] = []
    for (const row of rows) {
      const attributes = row.attributes as Record<string, string> | null
      const stretch = readStretch(attributes?.stretch)
      if (!stretch) {
        plain.push(row)
        continue
      }
      const { day: _, attributes: __, revision: ___, ...own } = row
      for (const figure of summed) delete own[figure]
      const key = JSON.stringify([attributes?.stretch, own])
      const held = open.get(key)
      if (held && held.last === day - 1) {
        addFigures(held.row, row)
        held.last = day
        continue
      }
      if (held) finished.push(done(held))
      open.set(key, { row: { ...row, attributes: { ...attributes } }, last: day, until: stretch.to })
    }
    for (const [key, held] of open)
      if (held.last < day || held.last >= held.until) {
        finished.push(done(held))
        open.delete(key)
      }
    yield [...finished, ...plain]
  }
  if (open.size > 0) yield [...open.values()].map(done)
}

function addFigures(sum: Row, row: Row): void {
  for (const figure of summed) {
    const [a, b] = [sum[figure], row[figure]]
    if (b === null || b === undefined) continue
    const digits = figure === 'value' ? (String(b).split('.')[1]?.length ?? 0) : 3
    sum[figure] = figure === 'value' ? (Number(a) + Number(b)).toFixed(digits) : round(Number(a) + Number(b))
  }
  const [to, from] = [sum.attributes, row.attributes] as Record<string, string>[]
  if (to?.reach && from?.reach) to.reach = String(Number(to.reach) + Number(from.reach))
}
const round = (count: number) => Math.round(count * 1000) / 1000

/** A file of records that there are some of. */
export interface RecordFile {
  name: string
  parts: AsyncGenerator<string>
}

/** All records of some kinds, each as a file; what there is none of is left out. One is to be read before the next. */
export async function* recordFiles(
  database: Executor,
  workspace: Workspace,
  kinds: readonly RecordKind[],
): AsyncGenerator<RecordFile> {
  for (const kind of kinds) {
    const parts = recordsCsv(database, workspace, kind, wholeCut)
    const header = (await parts.next()).value
    const first = await parts.next()
    if (first.done) continue
    const whole = async function* () {
      yield header
      yield first.value
      yield* parts
    }
    yield { name: `${kind}.csv`, parts: whole() }
  }
}

const conversionColumns = [
  'order_id',
  'ordered_at',
  'result',
  'evidence',
  'by',
  'network',
  'campaign_id',
  'campaign_name',
  'ad_set_id',
  'ad_set_name',
  'ad_id',
  'ad_name',
  'share',
  'value',
  'currency',
  'claimed_by',
]

/** Results that count, each with the ads that brought it, as CSV: a line for each ad's part. */
export const conversionsCsv = (
  conversions: readonly Conversion[],
  currency: string,
  result: string,
): string =>
  writeCsv(
    conversionColumns,
    conversions.map(({ at, value, claimedBy, share, ...own }) => ({
      ...own,
      ordered_at: new Date(at).toISOString(),
      result,
      share: share / 1e6,
      value: formatAmount(value, currency),
      currency,
      claimed_by: claimedBy.join(' '),
    })),
  )
