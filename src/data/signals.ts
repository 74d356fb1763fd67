import { and, eq, gt, gte, type SQL, sql } from 'drizzle-orm'
import type { OrderStatus } from '@/core/intake/records'
import { type ResultDefinition, resultSchema } from '@/core/signals/result'
import { type Rule, ruleSchema } from '@/core/signals/rule'
import type { Executor } from './connect'
import { claimRows, claimSums, delivery, events, orders, results, rules, signals } from './schema'
import { oneOf } from './store'
import { readStored } from './stored'

export const listDefinitions = async (database: Executor, workspace: string): Promise<ResultDefinition[]> =>
  readStored(
    'results',
    resultSchema,
    await database.select().from(results).where(eq(results.workspace, workspace)).orderBy(results.id),
    row => ({ id: row.id, value: row.definition }),
  ).map(({ value }) => value)

export const saveDefinition = (database: Executor, workspace: string, definition: ResultDefinition) =>
  database
    .insert(results)
    .values({ workspace, id: definition.id, definition })
    .onConflictDoUpdate({ target: [results.workspace, results.id], set: { definition } })

/** The results that orders were booked as, whether anybody has defined them or not. */
export async function bookedResults(database: Executor, workspace: string): Promise<string[]> {
  const rows = await database
    .selectDistinct({ result: orders.result })
    .from(orders)
    .where(eq(orders.workspace, workspace))
  return rows.map(row => row.result).sort()
}

/** The rules of a workspace, or of all. */
export const listRules = async (
  database: Executor,
  workspace?: string,
): Promise<(Rule & { workspace: string })[]> =>
  readStored(
    'rules',
    ruleSchema,
    await database
      .select()
      .from(rules)
      .where(workspace === undefined ? undefined : eq(rules.workspace, workspace))
      .orderBy(rules.id),
    row => ({ id: row.id, value: row.rule }),
  ).map(({ row, value }) => ({ ...value, workspace: row.workspace }))

export const saveRule = (database: Executor, workspace: string, rule: Rule) =>
  database
    .insert(rules)
    .values({ workspace, id: rule.id, rule })
    .onConflictDoUpdate({ target: [rules.workspace, rules.id], set: { rule } })

export const removeRule = (database: Executor, workspace: string, id: string) =>
  database.delete(rules).where(and(eq(rules.workspace, workspace), eq(rules.id, id)))

export const listSlots = (database: Executor, workspace: string) =>
  database.select().from(signals).where(eq(signals.workspace, workspace))

/** Maps a result onto a network's slot; an empty slot takes the mapping back. */
export async function saveSlot(
  database: Executor,
  workspace: string,
  network: string,
  result: string,
  slot: string,
): Promise<void> {
  const own = and(eq(signals.workspace, workspace), eq(signals.network, network), eq(signals.result, result))
  if (slot === '') await database.delete(signals).where(own)
  else
    await database
      .insert(signals)
      .values({ workspace, network, result, slot })
      .onConflictDoUpdate({ target: [signals.workspace, signals.network, signals.result], set: { slot } })
}

const toldByRules = (workspace: string, some: SQL | undefined) =>
  and(eq(events.workspace, workspace), sql`${events.attributes} ? 'rule'`, eq(events.bot, false), some)

/** What rules told since an instant; programs left out. */
export const resultEvents = (database: Executor, workspace: string, since: Date) =>
  database
    .select()
    .from(events)
    .where(
      toldByRules(workspace, and(gte(events.day, since.toISOString().slice(0, 10)), gte(events.at, since))),
    )

/** What rules told that was stored after a revision; programs left out. */
export const resultEventsAfter = (database: Executor, workspace: string, revision: number) =>
  database
    .select()
    .from(events)
    .where(toldByRules(workspace, gt(events.revision, revision)))

export const ordersSince = (database: Executor, workspace: string, since: Date) =>
  database
    .select()
    .from(orders)
    .where(and(eq(orders.workspace, workspace), gte(orders.ordered_at, since)))

/** Since when the shop itself, beside partners (`isPartnerSale`), tells of each result, epoch ms. */
export async function resultsOfShop(
  database: Executor,
  workspace: string,
): Promise<ReadonlyMap<string, number>> {
  const rows = await database
    .select({ result: orders.result, since: sql<string>`min(${orders.ordered_at})` })
    .from(orders)
    .where(
      and(
        eq(orders.workspace, workspace),
        sql`not (coalesce(${orders.channel}, '') = 'partner' and position(':' in ${orders.order_id}) > 0)`,
      ),
    )
    .groupBy(orders.result)
  return new Map(rows.map(row => [row.result, new Date(row.since).getTime()]))
}

/** What the shop says of some transactions that are its orders, whenever they were. */
export async function orderStatuses(
  database: Executor,
  workspace: string,
  ids: readonly string[],
): Promise<Map<string, OrderStatus>> {
  if (ids.length === 0) return new Map()
  const rows = await database
    .select({ id: orders.order_id, status: orders.status })
    .from(orders)
    .where(and(eq(orders.workspace, workspace), oneOf(orders.order_id, [...new Set(ids)])))
  return new Map(rows.map(row => [row.id, row.status]))
}

/** Single claims since an instant: when each network heard of which conversion. */
export const claimsSince = (database: Executor, workspace: string, since: Date) =>
  database
    .select({
      network: claimRows.network,
      conversion: claimRows.conversion,
      at: claimRows.claimed_at,
      transaction: claimRows.transaction_id,
    })
    .from(claimRows)
    .where(and(eq(claimRows.workspace, workspace), gte(claimRows.claimed_at, since)))

/** Days’ sums of claims since an instant’s day: how many of which conversion each network claims. */
export const claimSumsSince = (database: Executor, workspace: string, since: Date) =>
  database
    .select({
      network: claimSums.network,
      conversion: claimSums.conversion,
      day: claimSums.day,
      count: sql<number>`(${claimSums.click_through} + ${claimSums.view_through})`,
    })
    .from(claimSums)
    .where(and(eq(claimSums.workspace, workspace), gte(claimSums.day, since.toISOString().slice(0, 10))))

/** The last day on which each network reported that it served anything. */
export async function lastServedDays(database: Executor, workspace: string): Promise<Map<string, string>> {
  const rows = await database
    .select({ network: delivery.network, day: sql<string>`max(${delivery.day})::text` })
    .from(delivery)
    .where(eq(delivery.workspace, workspace))
    .groupBy(delivery.network)
  return new Map(rows.map(row => [row.network, row.day]))
}

/** Addresses of pages that the tag reported since an instant, without what a visitor brought along, the most visited first. */
export async function pagesSince(database: Executor, workspace: string, since: Date, most: number) {
  const { rows } = await database.execute<{ page: string; visits: number }>(sql`
    select page, count(*)::int as visits from events
    where workspace = ${workspace} and day >= ${since.toISOString().slice(0, 10)} and at >= ${since}
      and page is not null and name = 'page'
    group by 1 order by 2 desc limit ${most}`)
  return rows
}
