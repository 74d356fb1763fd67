import { createHash } from 'node:crypto'
import type { PgTable } from 'drizzle-orm/pg-core'
import { exchangeFiles, type FileKind, fileKinds, type RecordOf } from '@/core/intake/records'
import { entitiesOfRow } from '@/core/intake/rowEntities'
import { formatDay } from '@/core/shared/days'
import { pathKey } from '@/core/shared/path'
import type { Executor } from './connect'
import { type SeenEntity, saveSeen } from './entities'
import * as schema from './schema'
import { segmentKey } from './segment'
import { prepareUpsert, ROWS_AT_ONCE } from './store'

export type Row = Record<string, unknown>
const iso = (at: number) => new Date(at).toISOString()
const utcDay = (at: number) => iso(at).slice(0, 10)

/** Columns of the file that the exchange format does not know: kept with the row. */
function attributesOf(kind: FileKind, record: Row): Record<string, string> | null {
  const columns = known.get(kind)!
  let extra: Record<string, string> | null = null
  for (const key in record) {
    const value = record[key]
    if (value === null || value === '' || columns.has(key)) continue
    extra ??= {}
    extra[key] = value as string
  }
  return extra
}
/** Columns of delivery that few reports have: kept with what the exchange format does not know. */
const alsoOfDelivery = ['status', 'daily_budget', 'reach'] as const
function withAlso(extra: Record<string, string> | null, record: Row): Record<string, string> | null {
  const said = alsoOfDelivery.filter(key => record[key] !== null && record[key] !== undefined)
  return said.length === 0
    ? extra
    : { ...extra, ...Object.fromEntries(said.map(key => [key, String(record[key])])) }
}
const known = new Map(fileKinds.map(kind => [kind, new Set<string>(exchangeFiles[kind].columns)]))

/** Some members of a record, null for those that it lacks. */
function pick(record: Row, keys: readonly string[]): Row {
  const picked: Row = {}
  for (const key of keys) picked[key] = record[key] ?? null
  return picked
}

interface Stored<Kind extends FileKind> {
  table: PgTable
  toRow: (record: RecordOf[Kind]) => Row
}

const clickKeys = [
  'click_id',
  'network',
  'campaign_id',
  'ad_set_id',
  'ad_id',
  'visitor_id',
  'network_click_id',
  'landing_url',
  'device',
  'placement',
  'keyword',
  'match_type',
  'source',
  'country',
]
const orderKeys = [
  'order_id',
  'status',
  'result',
  'currency',
  'total',
  'tax',
  'shipping',
  'refunded',
  'customer_id',
  'visitor_id',
  'click_id',
  'landing_url',
  'utm_source',
  'utm_medium',
  'utm_campaign',
  'utm_term',
  'utm_content',
  'channel',
  'product_group',
]
const claimKeys = [
  'network',
  'ad_id',
  'conversion',
  'kind',
  'transaction_id',
  'click_id',
  'value',
  'currency',
]
const sumKeys = [
  'network',
  'campaign_id',
  'ad_set_id',
  'ad_id',
  'conversion',
  'click_through',
  'view_through',
  'value',
  'currency',
]

const stored: { [Kind in FileKind]: Stored<Kind> } = {
  delivery: {
    table: schema.delivery,
    toRow: r => ({
      day: formatDay(r.date),
      ...pick(r, [
        'network',
        'campaign_id',
        'currency',
        'spend',
        'impressions',
        'clicks',
        'campaign_name',
        'ad_set_name',
        'ad_name',
      ]),
      ad_set_id: r.ad_set_id ?? '',
      ad_id: r.ad_id ?? '',
      segment: segmentKey(r),
      attributes: withAlso(attributesOf('delivery', r), r),
    }),
  },
  clicks: {
    table: schema.clicks,
    toRow: r => ({
      day: utcDay(r.clicked_at),
      clicked_at: iso(r.clicked_at),
      ...pick(r, clickKeys),
      attributes: attributesOf('clicks', r),
    }),
  },
  orders: {
    table: schema.orders,
    toRow: r => ({
      ordered_at: iso(r.ordered_at),
      ...pick(r, orderKeys),
      attributes: attributesOf('orders', r),
    }),
  },
  claims: {
    table: schema.claimSums,
    toRow: r => ({ day: formatDay(r.date), ...pick(r, sumKeys), attributes: attributesOf('claims', r) }),
  },
  'claim-rows': {
    table: schema.claimRows,
    toRow: r => ({
      day: r.date === null ? utcDay(r.claimed_at) : formatDay(r.date),
      date: r.date === null ? null : formatDay(r.date),
      claimed_at: iso(r.claimed_at),
      ...pick(r, claimKeys),
      attributes: attributesOf('claim-rows', r),
    }),
  },
  rates: {
    table: schema.rates,
    toRow: r => ({
      day: formatDay(r.date),
      ...pick(r, ['base', 'quote', 'rate']),
      attributes: attributesOf('rates', r),
    }),
  },
  ads: { table: schema.adEntities, toRow: r => pick(r, exchangeFiles.ads.columns) },
}

/** The columns that make two rows of a file the same entity; the last one of a file holds. */
const identity: Record<FileKind, readonly string[]> = {
  delivery: ['day', 'network', 'campaign_id', 'ad_set_id', 'ad_id', 'segment'],
  clicks: ['day', 'click_id'],
  orders: ['order_id'],
  claims: ['day', 'network', 'campaign_id', 'ad_set_id', 'ad_id', 'conversion'],
  'claim-rows': ['day', 'claim_key'],
  rates: ['day', 'base', 'quote'],
  ads: ['network', 'ad_id'],
}

/**
 * Single claims have no ID of their own, and a network may report the same one twice: a claim is told
 * by its content and by how often that content was met before. The same file again is then the same claims.
 */
function keyClaim(row: Row, met: Map<string, number>): void {
  const content = JSON.stringify([row.date, row.claimed_at, ...claimKeys.map(k => row[k])])
  const before = met.get(content) ?? 0
  met.set(content, before + 1)
  row.claim_key = `${createHash('sha256').update(content).digest('base64url').slice(0, 22)}.${before}`
}

/**
 * Makes rows as they are stored of the records of a file. Each is met from the last to the first, because of
 * several that are the same entity the last one holds: of those that are met later nothing comes.
 */
export function rowMaker<Kind extends FileKind>(
  workspace: string,
  kind: Kind,
): (record: RecordOf[Kind]) => Row | null {
  const { toRow } = stored[kind]
  const [only, ...more] = identity[kind]
  const keyOf =
    more.length === 0
      ? (row: Row) => String(row[only!])
      : (row: Row) => pathKey(...identity[kind].map(k => String(row[k])))
  const met = new Set<string>()
  const claims = new Map<string, number>()
  return record => {
    const row = toRow(record)
    if (kind === 'claim-rows') keyClaim(row, claims)
    const key = keyOf(row)
    if (met.has(key)) return null
    met.add(key)
    row.workspace = workspace
    return row
  }
}

/** Kinds whose rows name ads: a name is told by its latest day, or by its last row, so that their order matters. */
export type NamingKind = 'delivery' | 'ads'
export const isNaming = (kind: FileKind): kind is NamingKind => kind === 'delivery' || kind === 'ads'

/** Rows that were made from a whole file's last to its first, in the order in which they are to be stored. */
export const inStoringOrder = (made: Row[]): Row[] =>
  made.reverse().sort((a, b) => String(a.day).localeCompare(String(b.day)))

/** The rows of a whole exchange file as they are stored, in that order. */
export function rowsOf<Kind extends FileKind>(
  workspace: string,
  kind: Kind,
  records: readonly RecordOf[Kind][],
): Row[] {
  const make = rowMaker(workspace, kind)
  const rows: Row[] = []
  for (let i = records.length - 1; i >= 0; i--) {
    const row = make(records[i]!)
    if (row) rows.push(row)
  }
  return isNaming(kind) ? inStoringOrder(rows) : rows.reverse()
}

/**
 * Makes some rows ready to be stored, in the order in which they are.
 *
 * @returns what stores them, and gives how many were new or changed
 */
export function prepareRows(
  workspace: string,
  kind: FileKind,
  [first, ...more]: readonly Row[],
): (database: Executor) => Promise<number> {
  if (!first) return async () => 0
  const rows: [Row, ...Row[]] = [first, ...more]
  const entities = isNaming(kind) ? seenEntities(rows, utcDay(Date.now())) : null
  const upsert = kind === 'ads' ? null : prepareUpsert(stored[kind].table, rows)
  return async database => {
    const accepted = upsert ? await upsert(database) : 0
    const seen = entities ? await saveSeen(database, workspace, ...entities) : 0
    return upsert ? accepted : Math.min(rows.length, seen)
  }
}

export async function storeRecords<Kind extends FileKind>(
  database: Executor,
  workspace: string,
  kind: Kind,
  records: readonly RecordOf[Kind][],
): Promise<number> {
  const rows = rowsOf(workspace, kind, records)
  let accepted = 0
  for (let i = 0; i < rows.length; i += ROWS_AT_ONCE)
    accepted += await prepareRows(workspace, kind, rows.slice(i, i + ROWS_AT_ONCE))(database)
  return accepted
}

/** Entities that rows name, each once: as the last row has them, and as earlier rows named them. */
function seenEntities(rows: readonly Row[], today: string): [entities: SeenEntity[], former: SeenEntity[]] {
  const last = new Map<string, SeenEntity>()
  const former: SeenEntity[] = []
  for (const row of rows)
    for (const entity of entitiesOfRow(row as Parameters<typeof entitiesOfRow>[0])) {
      const key = pathKey(entity.network, entity.level, entity.id)
      const before = last.get(key)
      const own =
        entity.level === 'ad' ? { landing_page: textOf(row.landing_page), placed: textOf(row.address) } : {}
      const seen = {
        ...entity,
        ...own,
        name: entity.name ?? before?.name ?? null,
        day: textOf(row.day) ?? today,
      }
      if (before?.name && before.name !== seen.name) former.push(before)
      last.set(key, before?.name === seen.name ? { ...seen, day: before.day } : seen)
    }
  return [[...last.values()], former]
}
const textOf = (value: unknown): string | null => (typeof value === 'string' && value !== '' ? value : null)
