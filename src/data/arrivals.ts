import { and, desc, eq, isNull, notInArray, or, type SQL, sql } from 'drizzle-orm'
import type { ArrivalFilter, ArrivalProblem } from '@/core/intake/arrivalFilter'
import { dayOfId } from '@/core/intake/occurred'
import { APART } from '@/core/signals/mayTell'
import type { Executor } from './connect'
import { adEntities, clicks, events, hops, importBatches, orders, postbacks } from './schema'
import { oneOf } from './store'

type Conditions = Partial<Record<ArrivalProblem, SQL | undefined>>
/** The condition for a wanted problem; `null` where a table cannot have it. */
function withProblem(problem: ArrivalFilter['problem'], conditions: Conditions): SQL | undefined | null {
  if (problem === null) return undefined
  if (problem === 'any') return or(...Object.values(conditions))
  return conditions[problem] ?? null
}

/** The latest clicks, each with the names of its campaign and ad. */
export async function latestClicks(
  database: Executor,
  workspace: string,
  { network, campaign, problem }: ArrivalFilter,
  most: number,
) {
  const wrong = withProblem(problem, {
    not_counted: or(clicks.bot, clicks.repeated),
    no_ad: isNull(clicks.ad_id),
  })
  if (wrong === null) return []
  const named = (level: 'campaign' | 'ad', as: string) =>
    database
      .select()
      .from(adEntities)
      .where(and(eq(adEntities.workspace, workspace), eq(adEntities.level, level)))
      .as(as)
  const [campaigns, ads] = [named('campaign', 'campaigns'), named('ad', 'ads')]
  // The few first, then their names: joined first, every click would be.
  const newest = database
    .select()
    .from(clicks)
    .where(
      and(
        eq(clicks.workspace, workspace),
        network ? eq(clicks.network, network) : undefined,
        campaign ? eq(clicks.campaign_id, campaign) : undefined,
        wrong,
      ),
    )
    .orderBy(desc(clicks.day), desc(clicks.clicked_at))
    .limit(most)
    .as('latest')
  return database
    .select({ ...newest._.selectedFields, campaign: campaigns.name, ad: ads.name })
    .from(newest)
    .leftJoin(campaigns, and(eq(campaigns.network, newest.network), eq(campaigns.id, newest.campaign_id)))
    .leftJoin(ads, and(eq(ads.network, newest.network), eq(ads.id, newest.ad_id)))
    .orderBy(desc(newest.clicked_at))
}

export const latestOrders = (
  database: Executor,
  workspace: string,
  { result }: ArrivalFilter,
  most: number,
) =>
  database
    .select()
    .from(orders)
    .where(and(eq(orders.workspace, workspace), result ? eq(orders.result, result) : undefined))
    .orderBy(desc(orders.ordered_at))
    .limit(most)

type Dated = typeof events | typeof hops | typeof postbacks
/** The latest rows of a table that is keyed by day. */
async function latest<Table extends Dated>(
  database: Executor,
  workspace: string,
  table: Table,
  conditions: SQL | undefined | null,
  most: number,
): Promise<Table['$inferSelect'][]> {
  if (conditions === null) return []
  return (await database
    .select()
    .from(table as Dated)
    .where(and(eq(table.workspace, workspace), conditions))
    .orderBy(desc(table.day), desc(table.at))
    .limit(most)) as Table['$inferSelect'][]
}

export const latestEvents = (
  database: Executor,
  workspace: string,
  { problem, result }: ArrivalFilter,
  most: number,
) => {
  const wrong = withProblem(problem, {
    not_counted: or(events.bot, sql`${events.attributes} ? ${APART}::text`),
  })
  // An event is a result where a rule told it.
  const told = result ? and(eq(events.name, result), sql`${events.attributes} ? 'rule'`) : undefined
  return latest(database, workspace, events, wrong === null ? null : and(wrong, told), most)
}

export const latestHops = (database: Executor, workspace: string, { problem }: ArrivalFilter, most: number) =>
  latest(
    database,
    workspace,
    hops,
    withProblem(problem, { not_counted: eq(hops.bot, true), no_click: isNull(hops.click_id) }),
    most,
  )

export const latestPostbacks = (
  database: Executor,
  workspace: string,
  { problem }: ArrivalFilter,
  most: number,
) =>
  latest(
    database,
    workspace,
    postbacks,
    withProblem(problem, { unread: isNull(postbacks.deal), no_click: isNull(postbacks.click_id) }),
    most,
  )

/** Files of what networks served and claim, as they were taken in. */
export async function latestReports(
  database: Executor,
  workspace: string,
  { network, problem }: ArrivalFilter,
  most: number,
) {
  const wrong = withProblem(problem, { rejected: sql`${importBatches.rejected} > 0` })
  if (wrong === null) return []
  return database
    .select()
    .from(importBatches)
    .where(
      and(
        eq(importBatches.workspace, workspace),
        notInArray(importBatches.kind, ['orders', 'clicks', 'rates']),
        network ? eq(importBatches.network, network) : undefined,
        wrong,
      ),
    )
    .orderBy(desc(importBatches.imported_at))
    .limit(most)
}

/** Clicks by their IDs. An ID of ours mostly tells its day, by which clicks are keyed. */
export async function findClicks(database: Executor, workspace: string, ids: readonly string[]) {
  const find = (some: readonly string[], onDays: SQL | undefined) =>
    some.length === 0
      ? []
      : database
          .select()
          .from(clicks)
          .where(and(eq(clicks.workspace, workspace), onDays, oneOf(clicks.click_id, some)))
  const distinct = [...new Set(ids)]
  const days = [...new Set(distinct.flatMap(id => dayOfId(id) ?? []))]
  const found = days.length > 0 ? await find(distinct, oneOf(clicks.day, days)) : []
  const known = new Set(found.map(click => click.click_id))
  const others = distinct.filter(id => !known.has(id))
  return [...found, ...(await find(others, undefined))]
}

export const MINUTES = 60
const MINUTE_MS = 60_000

/** How many of each kind arrived in each of the 60 minutes before an instant (epoch ms), the latest last. */
export async function countByMinute(
  database: Executor,
  workspace: string,
  until: number,
): Promise<Record<'click' | 'event' | 'hop' | 'postback' | 'order', number[]>> {
  const end = Math.floor(until / MINUTE_MS) * MINUTE_MS + MINUTE_MS
  const [from, to] = [new Date(end - MINUTES * MINUTE_MS), new Date(end)]
  const within = (column: SQL) => sql`workspace = ${workspace} and ${column} >= ${from} and ${column} < ${to}`
  const byDay = sql`day >= ${from.toISOString().slice(0, 10)}`
  const found = await database.execute<{ kind: string; minute: number; count: number }>(sql`
    select kind, floor(extract(epoch from at - ${from}::timestamptz) / 60)::int as minute, count(*)::int as count from (
      select 'click' as kind, clicked_at as at from clicks where ${byDay} and ${within(sql`clicked_at`)}
      union all select 'event', at from events where ${byDay} and ${within(sql`at`)}
      union all select 'hop', at from hops where ${byDay} and ${within(sql`at`)}
      union all select 'postback', at from postbacks where ${byDay} and ${within(sql`at`)}
      union all select 'order', ordered_at from orders where ${within(sql`ordered_at`)}) as arrived
    group by 1, 2`)
  const none = () => Array.from({ length: MINUTES }, () => 0)
  const counts = { click: none(), event: none(), hop: none(), postback: none(), order: none() }
  for (const { kind, minute, count } of found.rows) {
    const of = counts[kind as keyof typeof counts]
    if (minute >= 0 && minute < MINUTES) of[minute] = count
  }
  return counts
}

/** The results that orders count as. */
export const listResults = async (database: Executor, workspace: string): Promise<string[]> =>
  (
    await database
      .selectDistinct({ result: orders.result })
      .from(orders)
      .where(eq(orders.workspace, workspace))
      .orderBy(orders.result)
  ).map(row => row.result)
