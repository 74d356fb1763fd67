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
import { upsertRows } from './store'

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
const sumKeys = ['network', 'ad_id', 'conversion', 'click_through', 'view_through', 'value', 'currency']

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
      attributes: attributesOf('delivery', r),
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
  claims: ['day', 'network', 'ad_id', 'conversion'],
  'claim-rows': ['day', 'claim_key'],
  rates: ['day', 'base', 'quote'],
  ads: ['network', 'ad_id'],
}

/**
 * Single claims have no ID of their own, and a network may report the same one twice: a claim is told
 * by its content and by how often the file held that content before it. The same file again is then
 * the same claims.
 */
function keyClaims(rows: Row[]): void {
  const seen = new Map<string, number>()
  for (const row of rows) {
    const content = JSON.stringify([row.date, row.claimed_at, ...claimKeys.map(k => row[k])])
    const before = seen.get(content) ?? 0
    seen.set(content, before + 1)
    row.claim_key = `${createHash('sha256').update(content).digest('base64url').slice(0, 22)}.${before}`
  }
}

/** The rows of a whole exchange file as they are stored: of two that are the same entity, the last one. */
export function rowsOf<Kind extends FileKind>(
  workspace: string,
  kind: Kind,
  records: readonly RecordOf[Kind][],
): Row[] {
  const { toRow } = stored[kind]
  const rows = records.map(record => {
    const row = toRow(record)
    row.workspace = workspace
    return row
  })
  if (kind === 'claim-rows') keyClaims(rows)
  const [only, ...more] = identity[kind]
  const keyOf =
    more.length === 0
      ? (row: Row) => row[only!]
      : (row: Row) => pathKey(...identity[kind].map(k => String(row[k])))
  const distinct = [...new Map(rows.map(row => [keyOf(row), row])).values()]
  // Names are told by their latest day, and a file may be stored in parts.
  return kind === 'delivery' ? distinct.sort((a, b) => String(a.day).localeCompare(String(b.day))) : distinct
}

/** Stores some rows of `rowsOf`, in its order. Gives how many were new or changed. */
export async function storeRows(
  database: Executor,
  workspace: string,
  kind: FileKind,
  rows: readonly Row[],
): Promise<number> {
  const entities = () => seenEntities(rows, utcDay(Date.now()))
  if (kind === 'ads') return Math.min(rows.length, await saveSeen(database, workspace, ...entities()))
  const accepted = await upsertRows(database, stored[kind].table, rows)
  if (kind === 'delivery') await saveSeen(database, workspace, ...entities())
  return accepted
}

export const storeRecords = <Kind extends FileKind>(
  database: Executor,
  workspace: string,
  kind: Kind,
  records: readonly RecordOf[Kind][],
): Promise<number> => storeRows(database, workspace, kind, rowsOf(workspace, kind, records))

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
