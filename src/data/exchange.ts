import { createHash } from 'node:crypto'
import { and, eq, gt, type SQL, sql } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'
import type { ClickFacts } from '@/core/intake/clicks'
import type { Records } from '@/core/intake/dataset'
import { type AdRow, type ClickRow, exchangeFiles, type FileKind, type RecordOf } from '@/core/intake/records'
import { entitiesOfRow } from '@/core/intake/rowEntities'
import { BY_HAND, PLACEMENTS } from '@/core/links/savedLink'
import { type Day, formatDay, parseDay, zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import { pathKey, readPath } from '@/core/shared/path'
import type { Executor } from './connect'
import { type SeenEntity, saveSeen } from './entities'
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
      segment: segmentKeys.some(k => r[k])
        ? pathKey(...segmentKeys.map(k => r[k] ?? ''))
        : r.network === PLACEMENTS
          ? BY_HAND
          : '',
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
  const rows = records.map(record => ({ workspace, ...toRow(record) }) as Row)
  if (kind === 'claim-rows') keyClaims(rows)
  const distinct = [
    ...new Map(rows.map(row => [pathKey(...identity[kind].map(k => String(row[k]))), row])).values(),
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

/** Every ad of a workspace as rows, for exports. */
export async function loadAds(database: Executor, workspace: string): Promise<AdRow[]> {
  const entities = await database
    .select()
    .from(schema.adEntities)
    .where(eq(schema.adEntities.workspace, workspace))
  const names = new Map(entities.map(t => [`${t.network}/${t.level}/${t.id}`, t.name]))
  return entities
    .filter(t => t.level === 'ad')
    .map(({ network, campaignId, adSetId, id, name, landingPage, placed }) => ({
      network,
      campaign_id: campaignId,
      campaign_name: names.get(`${network}/campaign/${campaignId}`) ?? null,
      ad_set_id: adSetId || null,
      ad_set_name: names.get(`${network}/ad_set/${adSetId}`) ?? null,
      ad_id: id,
      ad_name: name,
      landing_page: landingPage,
      address: placed,
    }))
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
export async function loadRecords(
  database: Executor,
  workspace: string,
): Promise<Required<Omit<Records, 'clicks'>>> {
  const own = <T extends PgTable>(table: T, column: Parameters<typeof eq>[0]) =>
    database
      .select()
      .from(table as PgTable)
      .where(eq(column, workspace)) as Promise<T['$inferSelect'][]>
  const { network, level, id, name } = schema.adEntities
  const [delivery, orders, claims, claimRows, rates, names] = await Promise.all([
    own(schema.delivery, schema.delivery.workspace),
    own(schema.orders, schema.orders.workspace),
    own(schema.claimSums, schema.claimSums.workspace),
    own(schema.claimRows, schema.claimRows.workspace),
    loadRates(database, workspace),
    database
      .select({ network, level, id, name })
      .from(schema.adEntities)
      .where(eq(schema.adEntities.workspace, workspace)),
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
    names,
  }
}

function segmentOf(segment: string) {
  const parts = segment.startsWith('[') ? readPath(segment) : []
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
