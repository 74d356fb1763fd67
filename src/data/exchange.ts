import { createHash } from 'node:crypto'
import { and, eq, gt, type SQL, sql } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'
import type { ClickFacts } from '@/core/intake/clicks'
import type { Records } from '@/core/intake/dataset'
import { type ClickRow, exchangeFiles, type FileKind, type RecordOf } from '@/core/intake/records'
import { type Day, formatDay, parseDay, zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import type { Executor } from './connect'
import * as schema from './schema'
import { upsertRows } from './store'

export type Row = Record<string, unknown>
const iso = (at: number) => new Date(at).toISOString()
const utcDay = (at: number) => iso(at).slice(0, 10)
const toDay = (text: string): Day => parseDay(text) ?? 0

/** Columns of the file that the exchange format does not know: kept with the row. */
function attributesOf(kind: FileKind, record: object): Record<string, string> | null {
  const known: readonly string[] = exchangeFiles[kind].columns
  const extra = Object.entries(record).filter(
    ([key, value]) => !known.includes(key) && value !== null && value !== '',
  )
  return extra.length > 0 ? Object.fromEntries(extra) : null
}
const pick = (record: Row, keys: readonly string[]): Row =>
  Object.fromEntries(keys.map(k => [k, record[k] ?? null]))

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
const segmentKeys = ['keyword', 'match_type', 'placement', 'source', 'device'] as const

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
      segment: segmentKeys
        .map(k => r[k] ?? '')
        .join('\u001f')
        .replace(/^\u001f+$/, ''),
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
}

/** The columns that make two rows of a file the same thing; the last one of a file holds. */
const identity: Record<FileKind, readonly string[]> = {
  delivery: ['day', 'network', 'campaign_id', 'ad_set_id', 'ad_id', 'segment'],
  clicks: ['day', 'click_id'],
  orders: ['order_id'],
  claims: ['day', 'network', 'ad_id', 'conversion'],
  'claim-rows': ['day', 'claim_key'],
  rates: ['day', 'base', 'quote'],
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

/** The rows of a whole exchange file as they are stored: of two that are the same thing, the last one. */
export function rowsOf<Kind extends FileKind>(
  workspace: string,
  kind: Kind,
  records: readonly RecordOf[Kind][],
): Row[] {
  const { toRow } = stored[kind]
  const rows = records.map(record => ({ workspace, ...toRow(record) }) as Row)
  if (kind === 'claim-rows') keyClaims(rows)
  const distinct = [
    ...new Map(rows.map(row => [identity[kind].map(k => row[k]).join('\u001f'), row])).values(),
  ]
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
  const accepted = await upsertRows(database, stored[kind].table, rows)
  if (kind === 'delivery') await storeNames(database, workspace, rows)
  return accepted
}

export const storeRecords = <Kind extends FileKind>(
  database: Executor,
  workspace: string,
  kind: Kind,
  records: readonly RecordOf[Kind][],
): Promise<number> => storeRows(database, workspace, kind, rowsOf(workspace, kind, records))

/** Keeps the campaigns, ad sets and ads that delivery rows in order of days name, with every name they had. */
async function storeNames(database: Executor, workspace: string, rows: readonly Row[]): Promise<void> {
  const entities = new Map<string, Row>()
  const names = new Map<string, Row>()
  for (const row of rows) {
    for (const level of ['campaign', 'ad_set', 'ad'] as const) {
      const id = String(row[`${level}_id`] ?? '')
      if (!id) continue
      const key = [row.network, level, id].join('\u001f')
      const name = row[`${level}_name`] ? String(row[`${level}_name`]) : id
      const ids = { workspace, network: row.network, level, id }
      entities.set(key, {
        ...ids,
        campaign_id: row.campaign_id,
        ad_set_id: level === 'campaign' ? '' : row.ad_set_id,
        name,
      })
      if (!names.has(`${key}\u001f${name}`))
        names.set(`${key}\u001f${name}`, { ...ids, name, first_day: row.day })
    }
  }
  await upsertRows(database, schema.adEntities, [...entities.values()])
  await upsertRows(database, schema.adEntityNames, [...names.values()], ['first_day'])
}

/** Every click of a workspace as rows, for exports. */
export async function loadClicks(database: Executor, workspace: string): Promise<ClickRow[]> {
  const rows = await database.select().from(schema.clicks).where(eq(schema.clicks.workspace, workspace))
  return rows.map(r => ({ ...r, clicked_at: r.clicked_at.getTime() }))
}

/** A transaction may be seen this much later than the clicks in it say that they arrived. */
const LATEST_COMMIT_MS = 60_000

/**
 * Hands over what counts of each click that arrived since an instant, or of all, in chunks of days. Some
 * that arrived shortly before are handed over again.
 *
 * @returns when the latest of them arrived; `since` where there is none
 */
export async function eachClick(
  database: Executor,
  workspace: string,
  since: Date | null,
  take: (click: ClickFacts) => void,
): Promise<Date | null> {
  const { clicks } = schema
  const own = eq(clicks.workspace, workspace)
  const fetch = async (some: SQL | undefined) => {
    const rows = await database
      .select({
        click_id: clicks.click_id,
        clicked_at: sql<number>`extract(epoch from ${clicks.clicked_at})::float8 * 1000`,
        network: clicks.network,
        campaign_id: clicks.campaign_id,
        ad_set_id: clicks.ad_set_id,
        ad_id: clicks.ad_id,
        visitor_id: clicks.visitor_id,
        network_click_id: clicks.network_click_id,
        uncounted: sql<boolean>`${clicks.bot} or ${clicks.repeated}`,
      })
      .from(clicks)
      .where(and(own, some))
    for (const row of rows) take(row)
  }
  const [latest] = await database.select({ at: sql<string | null>`max(arrived_at)` }).from(clicks).where(own)
  if (since) {
    await fetch(gt(clicks.arrived_at, new Date(since.getTime() - LATEST_COMMIT_MS)))
  } else {
    const days = await database.select({ day: clicks.day }).from(clicks).where(own).groupBy(clicks.day)
    for (const { day } of days) await fetch(eq(clicks.day, day))
  }
  return latest?.at ? new Date(latest.at) : since
}

/** Every record of a workspace but its clicks, as the core takes them. */
export async function loadRecords(database: Executor, workspace: string): Promise<Omit<Records, 'clicks'>> {
  const own = <T extends PgTable>(table: T, column: Parameters<typeof eq>[0]) =>
    database
      .select()
      .from(table as PgTable)
      .where(eq(column, workspace)) as Promise<T['$inferSelect'][]>
  const [delivery, orders, claims, claimRows, rates] = await Promise.all([
    own(schema.delivery, schema.delivery.workspace),
    own(schema.orders, schema.orders.workspace),
    own(schema.claimSums, schema.claimSums.workspace),
    own(schema.claimRows, schema.claimRows.workspace),
    loadRates(database, workspace),
  ])
  return {
    delivery: delivery.map(r => ({
      ...r.attributes,
      ...r,
      date: toDay(r.day),
      spend: minor(r.spend),
      ad_set_id: r.ad_set_id || null,
      ad_id: r.ad_id || null,
      ...segmentOf(r.segment),
      status: r.attributes?.status ?? null,
      daily_budget: r.attributes?.daily_budget ?? null,
    })),
    orders: orders.map(r => ({
      ...r,
      ordered_at: r.ordered_at.getTime(),
      status: r.status as RecordOf['orders']['status'],
      total: minor(r.total),
      tax: minor(r.tax),
      shipping: minor(r.shipping),
      refunded: minor(r.refunded),
    })),
    claims: claims.map(r => ({ ...r, date: toDay(r.day) })),
    claimRows: claimRows
      .map(r => ({
        ...r,
        claimed_at: r.claimed_at.getTime(),
        date: r.date === null ? null : toDay(r.date),
        kind: r.kind as 'click' | 'view',
      }))
      .sort((a, b) => a.claimed_at - b.claimed_at),
    rates,
  }
}

function segmentOf(segment: string) {
  const parts = segment.split('\u001f')
  const at = (k: (typeof segmentKeys)[number]) => parts[segmentKeys.indexOf(k)] || null
  return {
    keyword: at('keyword'),
    match_type: at('match_type'),
    placement: at('placement'),
    source: at('source'),
    device: at('device'),
  }
}

/** First and last day, in a zone, on which the workspace holds anything; null when it holds nothing. */
export async function dataSpan(
  database: Executor,
  workspace: string,
  zone: string,
): Promise<{ from: Day; to: Day } | null> {
  const found = await database.execute<{ from: string | null; to: string | null }>(sql`
    select min(d)::text as from, max(d)::text as to from (
      select min(day)::timestamptz as d from delivery where workspace = ${workspace}
      union all select max(day)::timestamptz from delivery where workspace = ${workspace}
      union all select min(ordered_at) from orders where workspace = ${workspace}
      union all select max(ordered_at) from orders where workspace = ${workspace}
      union all select max(clicked_at) from clicks where workspace = ${workspace}
        and day = (select max(day) from clicks where workspace = ${workspace})) as ends`)
  const { from, to } = found.rows[0] ?? {}
  const day = (text: string) => zoneClock(zone)(new Date(text).getTime()).day
  return from && to ? { from: day(from), to: day(to) } : null
}

export async function loadRates(database: Executor, workspace: string): Promise<Records['rates']> {
  const rows = await database.select().from(schema.rates).where(eq(schema.rates.workspace, workspace))
  return rows.map(r => ({ day: toDay(r.day), base: r.base, quote: r.quote, rate: r.rate }))
}
