import { and, eq, gt, type SQL, sql } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'
import type { ClickFacts } from '@/core/intake/clicks'
import type { Records } from '@/core/intake/dataset'
import type { AdRow, ClickRow } from '@/core/intake/records'
import { type Day, parseDay, zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import type { Executor } from './connect'
import { listDecisions } from './decisions'
import * as schema from './schema'
import { readSegment } from './segment'
import { listDefinitions, listSlots, resultEvents } from './signals'

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
        device: clicks.device,
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
  const [delivery, orders, claims, claimRows, rates, names, told, slots, definitions, decisions] =
    await Promise.all([
      own(schema.delivery, schema.delivery.workspace),
      own(schema.orders, schema.orders.workspace),
      own(schema.claimSums, schema.claimSums.workspace),
      own(schema.claimRows, schema.claimRows.workspace),
      loadRates(database, workspace),
      database
        .select({ network, level, id, name })
        .from(schema.adEntities)
        .where(eq(schema.adEntities.workspace, workspace)),
      resultEvents(database, workspace),
      listSlots(database, workspace),
      listDefinitions(database, workspace),
      listDecisions(database, workspace),
    ])
  return {
    delivery: delivery.map(r => ({
      ...r.attributes,
      ...r,
      date: toDay(r.day),
      spend: minor(r.spend),
      ad_set_id: r.ad_set_id || null,
      ad_id: r.ad_id || null,
      ...readSegment(r.segment),
      status: r.attributes?.status ?? null,
      daily_budget: r.attributes?.daily_budget ?? null,
    })),
    orders: orders.map(r => ({
      ...r,
      ordered_at: r.ordered_at.getTime(),
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
      }))
      .sort((a, b) => a.claimed_at - b.claimed_at),
    rates,
    names,
    told: told.map(event => ({ ...event, at: event.at.getTime() })),
    slots,
    definitions,
    decisions,
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
