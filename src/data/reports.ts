import { and, eq, sql } from 'drizzle-orm'
import type * as z from 'zod'
import type { ClaimSumRow, DeliveryRow } from '@/core/intake/records'
import { type Day, formatDay, parseDay } from '@/core/shared/days'
import type { Executor } from './connect'
import { keepAll } from './importLog'
import { claimSums, delivery, reportMappings } from './schema'
import { oneOf } from './store'
import { storeRecords } from './storeRecords'

/** How somebody settled a network's report, or another file of any columns; null before. */
export async function findMapping<Schema extends z.ZodType>(
  database: Executor,
  workspace: string,
  network: string,
  schema: Schema,
): Promise<z.infer<Schema> | null> {
  const [row] = await database
    .select()
    .from(reportMappings)
    .where(and(eq(reportMappings.workspace, workspace), eq(reportMappings.network, network)))
  const read = schema.safeParse(row?.mapping)
  return read.success ? read.data : null
}

export const saveMapping = (database: Executor, workspace: string, network: string, mapping: object) =>
  database
    .insert(reportMappings)
    .values({ workspace, network, mapping })
    .onConflictDoUpdate({ target: [reportMappings.workspace, reportMappings.network], set: { mapping } })

/** Every mapping that somebody settled, each with what it is of. */
export const listMappings = async (database: Executor, workspace: string) =>
  (await database.select().from(reportMappings).where(eq(reportMappings.workspace, workspace))).map(
    ({ network: of, mapping }) => ({ of, mapping: mapping as Record<string, unknown> }),
  )

export const removeMapping = (database: Executor, workspace: string, of: string) =>
  database
    .delete(reportMappings)
    .where(and(eq(reportMappings.workspace, workspace), eq(reportMappings.network, of)))

/** What is held of a network's days: a line a day and currency. `value` is a decimal string. */
export async function heldByDay(database: Executor, workspace: string, network: string, from: Day, to: Day) {
  const found = await database.execute<{
    day: string
    currency: string | null
    spend: string
    impressions: string
    clicks: string
    claims: string
    value: string
  }>(sql`
    with own_rows as (select exists (select 1 from claim_rows where workspace = ${workspace} and network = ${network}) as yes),
    held as (
      select day, currency, spend, impressions, clicks, 0 as claims, 0::numeric as value from delivery
        where workspace = ${workspace} and network = ${network}
      union all
      select day, currency, 0, 0, 0, click_through + view_through, coalesce(value::numeric, 0) from claim_sums
        where workspace = ${workspace} and network = ${network} and not (select yes from own_rows)
      union all
      select day, currency, 0, 0, 0, 1, coalesce(value::numeric, 0) from claim_rows
        where workspace = ${workspace} and network = ${network})
    select day::text, currency, sum(spend)::text as spend, sum(impressions)::text as impressions,
      sum(clicks)::text as clicks, sum(claims)::text as claims, sum(value)::text as value
    from held where day between ${formatDay(from)} and ${formatDay(to)} group by 1, 2 order by 1`)
  return found.rows.map(row => ({
    day: parseDay(row.day) ?? 0,
    currency: row.currency,
    spend: Number(row.spend),
    impressions: Number(row.impressions),
    clicks: Number(row.clicks),
    claims: Number(row.claims),
    value: row.value,
  }))
}

/** The longer stretches of which a network's sums are held that touch some days, each as it was written. */
export async function heldStretches(
  database: Executor,
  workspace: string,
  network: string,
  from: Day,
  to: Day,
): Promise<string[]> {
  const of = (table: string) => sql`select attributes->>'stretch' as stretch from ${sql.raw(table)}
    where workspace = ${workspace} and network = ${network} and day between ${formatDay(from)} and ${formatDay(to)}
      and attributes ? 'stretch'`
  const { rows } = await database.execute<{ stretch: string }>(
    sql`${of('delivery')} union ${of('claim_sums')} order by 1`,
  )
  return rows.map(row => row.stretch)
}

/** Puts what a report says in the place of what some days of a network held; null leaves a side as it is. */
export async function replaceDays(
  database: Executor,
  workspace: string,
  network: string,
  days: readonly Day[],
  {
    delivery: spent,
    claims,
  }: { delivery: readonly DeliveryRow[] | null; claims: readonly ClaimSumRow[] | null },
): Promise<void> {
  const of = (table: typeof delivery | typeof claimSums) =>
    and(eq(table.workspace, workspace), eq(table.network, network), oneOf(table.day, days.map(formatDay)))
  if (spent) {
    await keepAll(database, delivery, of(delivery))
    await database.delete(delivery).where(of(delivery))
    await storeRecords(database, workspace, 'delivery', spent)
  }
  if (claims) {
    await keepAll(database, claimSums, of(claimSums))
    await database.delete(claimSums).where(of(claimSums))
    await storeRecords(database, workspace, 'claims', claims)
  }
}
