import { createHash } from 'node:crypto'
import { and, eq, getTableColumns, getTableName, gt, type SQL, sql } from 'drizzle-orm'
import type { AnyPgColumn } from 'drizzle-orm/pg-core'
import { inOrder, rowKinds } from '@/core/intake/change'
import type { ClickColumns, ClickFacts, NamedClicks } from '@/core/intake/clicks'
import type { Records } from '@/core/intake/dataset'
import type { AdRow, ClaimSumRow, ClickRow, DeliveryRow } from '@/core/intake/records'
import { type Day, parseDay, zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import type { Executor } from './connect'
import { listDecisions } from './decisions'
import { listFormerNames } from './entities'
import * as schema from './schema'
import { readSegment } from './segment'
import { listDefinitions, listSlots, resultEventsAfter } from './signals'
import { oneOf } from './store'
import { listPlanVersions, listProfiles, type Part } from './workspace'

const toDay = (text: string): Day => parseDay(text) ?? 0

/** Every ad of a workspace as rows, for exports. */
export async function loadAds(database: Executor, workspace: string): Promise<AdRow[]> {
  const entities = await database
    .select()
    .from(schema.adEntities)
    .where(eq(schema.adEntities.workspace, workspace))
  const names = new Map(entities.map(e => [`${e.network}/${e.level}/${e.id}`, e.name]))
  return entities
    .filter(e => e.level === 'ad')
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

/** Every revision is above this one. */
export const BEFORE_ALL = -1

/** What of a workspace is no row: it is small, and read as a whole. */
export async function loadRules(database: Executor, workspace: string) {
  const { network, level, id, name } = schema.adEntities
  const [rates, names, slots, definitions, decisions, profiles, plans, formerNames] = await Promise.all([
    loadRates(database, workspace),
    database
      .select({ network, level, id, name })
      .from(schema.adEntities)
      .where(eq(schema.adEntities.workspace, workspace))
      .orderBy(network, level, id),
    listSlots(database, workspace),
    listDefinitions(database, workspace),
    listDecisions(database, workspace),
    listProfiles(database, workspace),
    listPlanVersions(database, workspace),
    listFormerNames(database, workspace),
  ])
  return { rates, names, slots, definitions, decisions, links: { profiles, plans, formerNames } }
}

export async function loadDelivery(database: Executor, workspace: string): Promise<DeliveryRow[]> {
  const rows = await database.select().from(schema.delivery).where(eq(schema.delivery.workspace, workspace))
  return rows.map(r => ({
    ...r.attributes,
    ...r,
    date: toDay(r.day),
    spend: minor(r.spend),
    ad_set_id: r.ad_set_id || null,
    ad_id: r.ad_id || null,
    ...readSegment(r.segment),
    status: r.attributes?.status ?? null,
    daily_budget: r.attributes?.daily_budget ?? null,
    reach: r.attributes?.reach === undefined ? null : Number(r.attributes.reach),
  }))
}

export async function loadClaims(database: Executor, workspace: string): Promise<ClaimSumRow[]> {
  const rows = await database.select().from(schema.claimSums).where(eq(schema.claimSums.workspace, workspace))
  return rows.map(r => ({ ...r, date: toDay(r.day), stretch: r.attributes?.stretch ?? null }))
}

const newer = (table: RevisedTable, workspace: string, revision: number) =>
  and(eq(table.workspace, workspace), gt(table.revision, revision))
type RevisedTable = typeof schema.orders | typeof schema.claimRows | typeof schema.clicks

/** The orders that were written after a revision. */
export async function loadOrdersAfter(database: Executor, workspace: string, revision: number) {
  const rows = await database
    .select()
    .from(schema.orders)
    .where(newer(schema.orders, workspace, revision))
  return rows.map(r => ({
    ...r,
    ordered_at: r.ordered_at.getTime(),
    total: minor(r.total),
    tax: minor(r.tax),
    shipping: minor(r.shipping),
    refunded: minor(r.refunded),
  }))
}

/** The claims told singly that were written after a revision. */
export async function loadClaimRowsAfter(database: Executor, workspace: string, revision: number) {
  const rows = await database
    .select()
    .from(schema.claimRows)
    .where(newer(schema.claimRows, workspace, revision))
  return rows.map(r => ({
    ...r,
    claimed_at: r.claimed_at.getTime(),
    date: r.date === null ? null : toDay(r.date),
  }))
}

/** The results told by rules that were written after a revision. */
export const loadToldAfter = async (database: Executor, workspace: string, revision: number) =>
  (await resultEventsAfter(database, workspace, revision)).map(event => ({
    ...event,
    at: event.at.getTime(),
  }))

/** What changed of a workspace since a version of it: parts that are read as a whole, and rows of later revisions. */
export interface News {
  version: number
  parts: Part[]
  orders: boolean
  claimRows: boolean
  told: boolean
  clicks: boolean
}

/** Asks for what changed since a version; null where there is no such workspace. */
export async function findNews(database: Executor, workspace: string, since: number): Promise<News | null> {
  const later = (table: string, more = '') =>
    sql.raw(
      `exists (select 1 from ${table} where ${table}.workspace = w.id and revision > ${Number(since)}${more})`,
    )
  const { rows } = await database.execute<
    Record<'orders' | 'claimRows' | 'told' | 'clicks', boolean> & {
      version: string
      changed: Partial<Record<Part, number>>
    }
  >(sql`select w.version, w.changed, ${later('orders')} as orders, ${later('claim_rows')} as "claimRows",
    ${later('events', " and attributes ? 'rule'")} as told, ${later('clicks')} as clicks
    from workspaces w where w.id = ${workspace}`)
  const [row] = rows
  if (!row) return null
  const { version, changed, ...found } = row
  const parts = (Object.keys(changed) as Part[]).filter(part => changed[part]! > since)
  return { ...found, version: Number(version), parts }
}

/** Every record of a workspace but its clicks, in the order in which they are judged. */
export async function loadRecords(database: Executor, workspace: string) {
  const [rules, delivery, claims, orders, claimRows, told] = await Promise.all([
    loadRules(database, workspace),
    loadDelivery(database, workspace),
    loadClaims(database, workspace),
    loadOrdersAfter(database, workspace, BEFORE_ALL),
    loadClaimRowsAfter(database, workspace, BEFORE_ALL),
    loadToldAfter(database, workspace, BEFORE_ALL),
  ])
  return {
    ...rules,
    delivery: inOrder('delivery', delivery),
    claims: inOrder('claims', claims),
    orders: inOrder('orders', orders),
    claimRows: inOrder('claimRows', claimRows),
    told: inOrder('told', told),
  }
}

const { clicks } = schema
const clickFacts = {
  click_id: clicks.click_id,
  clicked_at: sql<number>`extract(epoch from ${clicks.clicked_at})::float8 * 1000`,
  network: clicks.network,
  campaign_id: clicks.campaign_id,
  ad_set_id: clicks.ad_set_id,
  ad_id: clicks.ad_id,
  visitor_id: clicks.visitor_id,
  network_click_id: clicks.network_click_id,
  device: clicks.device,
}
const someClicks = (database: Executor, workspace: string, some: SQL): Promise<ClickFacts[]> =>
  database
    .select(clickFacts)
    .from(clicks)
    .where(and(eq(clicks.workspace, workspace), some))

/** The clicks that were written after a revision. */
export const loadClicksAfter = (database: Executor, workspace: string, revision: number) =>
  someClicks(database, workspace, gt(clicks.revision, revision))

/** The clicks that are named by an ID or by their visitor, and all others of the same visitors. */
export async function loadNamedClicks(
  database: Executor,
  workspace: string,
  named: NamedClicks,
): Promise<ClickFacts[]> {
  const by = (column: AnyPgColumn, values: ReadonlySet<string>) =>
    values.size === 0 ? [] : someClicks(database, workspace, oneOf(column, [...values]))
  const own = [
    ...(await by(clicks.click_id, named.clickIds)),
    ...(await by(clicks.network_click_id, named.networkClickIds)),
  ]
  const visitors = new Set([...named.visitors, ...own.flatMap(click => click.visitor_id ?? [])])
  return [...own, ...(await by(clicks.visitor_id, visitors))]
}

/** Each ad that clicks name, once. */
export async function loadClickAds(database: Executor, workspace: string): Promise<ClickColumns['ads']> {
  return database
    .selectDistinct({
      network: clicks.network,
      campaign: sql<string>`coalesce(${clicks.campaign_id}, '')`,
      adSet: sql<string>`coalesce(${clicks.ad_set_id}, '')`,
      ad: sql<string>`coalesce(${clicks.ad_id}, '')`,
    })
    .from(clicks)
    .where(eq(clicks.workspace, workspace))
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

/** The tables that records are read from. */
const tablesOfRecords = [
  schema.delivery,
  schema.claimSums,
  schema.claimRows,
  schema.orders,
  schema.clicks,
  schema.events,
  schema.rates,
  schema.adEntities,
  schema.adEntityNames,
  schema.networkProfiles,
  schema.tagPlanVersions,
  schema.signals,
  schema.results,
  schema.decisions,
]
/** What makes records of rows. */
const loaders = [
  loadRules,
  loadDelivery,
  loadClaims,
  loadOrdersAfter,
  loadClaimRowsAfter,
  loadToldAfter,
  loadRecords,
  someClicks,
  loadClickAds,
  loadRates,
]

/** A hash of what records are: the columns of every table they are read from, the kinds of rows, and how they are made. */
export function formOfRecords(): string {
  const columns = tablesOfRecords.map(table => [
    getTableName(table),
    Object.values(getTableColumns(table)).map(column => [column.name, column.getSQLType()]),
  ])
  return createHash('sha256')
    .update(JSON.stringify([columns, rowKinds, Object.keys(clickFacts), loaders.map(String)]))
    .digest('hex')
}
