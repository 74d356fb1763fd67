import { and, eq, sql } from 'drizzle-orm'
import { type Journey, journeySchema } from '@/core/signals/journey'
import type { Executor } from './connect'
import { journeys, orders } from './schema'
import { readStored } from './stored'

export const listJourneys = async (database: Executor, workspace: string): Promise<Journey[]> =>
  readStored(
    'journeys',
    journeySchema,
    await database.select().from(journeys).where(eq(journeys.workspace, workspace)).orderBy(journeys.id),
    row => ({ id: row.id, value: row.journey }),
  ).map(({ value }) => value)

export const saveJourney = (database: Executor, workspace: string, journey: Journey) =>
  database
    .insert(journeys)
    .values({ workspace, id: journey.id, journey })
    .onConflictDoUpdate({ target: [journeys.workspace, journeys.id], set: { journey } })

export const removeJourney = (database: Executor, workspace: string, id: string) =>
  database.delete(journeys).where(and(eq(journeys.workspace, workspace), eq(journeys.id, id)))

/** One thing that a shopper did: a page opened (`result` null), or a result told. */
export interface ShopperEvent {
  visitor: string | null
  click: string | null
  /** epoch ms */
  at: number
  page: string | null
  result: string | null
  /** what it is known by at the shop, where it is an order */
  transaction: string | null
}

/** Pages and results that rules told between two instants; programs left out. */
export async function eventsBetween(database: Executor, workspace: string, from: Date, to: Date) {
  const { rows } = await database.execute<{
    visitor: string | null
    click: string | null
    at: string
    page: string | null
    result: string | null
    transaction: string | null
  }>(sql`
    select visitor_id as visitor, click_id as click, extract(epoch from at) * 1000 as at, page,
      case when attributes ? 'rule' then name end as result, transaction_id as transaction
    from events
    where workspace = ${workspace} and day between ${from.toISOString().slice(0, 10)} and ${to.toISOString().slice(0, 10)}
      and at >= ${from} and at < ${to} and not bot and (name = 'page' or attributes ? 'rule')`)
  return rows.map((row): ShopperEvent => ({ ...row, at: Number(row.at) }))
}

/** The ad clicks that events and orders between two instants name, with when they were. */
export async function clicksNamedBetween(database: Executor, workspace: string, from: Date, to: Date) {
  const days = [from, to].map(at => at.toISOString().slice(0, 10))
  const { rows } = await database.execute<{
    id: string
    at: string
    network: string
    campaign: string
    adSet: string
    ad: string
  }>(sql`
    select click_id as id, extract(epoch from clicked_at) * 1000 as at, network, coalesce(campaign_id, '') as campaign,
      coalesce(ad_set_id, '') as "adSet", coalesce(ad_id, '') as ad
    from clicks where workspace = ${workspace} and click_id in (
      select click_id from events
        where workspace = ${workspace} and day between ${days[0]} and ${days[1]} and click_id is not null
      union select click_id from orders
        where workspace = ${workspace} and ordered_at >= ${from} and ordered_at < ${to} and click_id is not null)`)
  return new Map(rows.map(({ id, at, ...ad }) => [id, { at: Number(at), ad }]))
}

export async function ordersBetween(database: Executor, workspace: string, from: Date, to: Date) {
  const rows = await database
    .select({
      transaction: orders.order_id,
      visitor: orders.visitor_id,
      click: orders.click_id,
      at: orders.ordered_at,
      result: orders.result,
      status: orders.status,
    })
    .from(orders)
    .where(
      and(
        eq(orders.workspace, workspace),
        sql`${orders.ordered_at} >= ${from} and ${orders.ordered_at} < ${to}`,
      ),
    )
  return rows.map(row => ({ ...row, at: row.at.getTime() }))
}
