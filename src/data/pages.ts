import { sql } from 'drizzle-orm'
import type { Span } from '@/core/shared/days'
import type { Executor } from './connect'

/** Clicks that count, of a span and of one network or of all (''). */
const counts = (workspace: string, { from, until }: Span, network: string) => sql`
  clicks.workspace = ${workspace} and clicks.clicked_at >= ${new Date(from)} and clicks.clicked_at < ${new Date(until)}
  and not clicks.bot and not clicks.repeated and (${network} = '' or clicks.network = ${network})`
/** The same where they are looked through by day. */
const counted = (workspace: string, span: Span, network: string) => sql`${counts(workspace, span, network)}
  and clicks.day between ${utcDay(span.from)}::date - 1 and ${utcDay(span.until)}::date`
const utcDay = (at: number) => new Date(at).toISOString().slice(0, 10)
/** Whether a hop is of such a click, each looked up by its ID: a plan without statistics would look through all. */
const ofCounted = (workspace: string, span: Span, network: string) => sql`exists (select 1 from clicks
  where ${counts(workspace, span, network)} and clicks.click_id = hops.click_id offset 0)`
const page = sql`regexp_replace(coalesce(clicks.landing_url, ''), '^https?://|[?#].*$', '', 'g')`

/** How many clicks arrived on each landing page, and how many of them went on to an offer. */
export async function countLandings(
  database: Executor,
  workspace: string,
  span: Span,
  network: string,
): Promise<{ page: string; arrivals: number; went_on: number }[]> {
  const { rows } = await database.execute<{ page: string; arrivals: number; went_on: number }>(sql`
    select ${page} as page, count(*)::int as arrivals,
      (count(*) filter (where clicks.click_id in
        (select click_id from hops where workspace = ${workspace} and not bot and click_id is not null)))::int as went_on
    from clicks where ${counted(workspace, span, network)} group by 1`)
  return rows
}

/** How many clicks went on to each offer. */
export async function countOffers(
  database: Executor,
  workspace: string,
  span: Span,
  network: string,
): Promise<{ offer: string; arrivals: number }[]> {
  const { rows } = await database.execute<{ offer: string; arrivals: number }>(sql`
    select regexp_replace(offer, '[?#].*$', '') as offer, count(distinct click_id)::int as arrivals from hops
    where workspace = ${workspace} and not bot
      and ${ofCounted(workspace, span, network)} group by 1`)
  return rows
}

/** The number of the side that a click was led to: the longest address that its own begins with; -1 for none. */
const sideOf = (column: ReturnType<typeof sql>, addresses: readonly string[]) => {
  const longest = addresses
    .map((address, side) => ({ address, side }))
    .sort((a, b) => b.address.length - a.address.length)
  return sql`case ${sql.join(
    longest.map(({ address, side }) => sql`when starts_with(${column}, ${address}) then ${side}::int`),
    sql` `,
  )} else -1 end`
}

/** Where a code led its clicks: to each landing page, or on to each offer. */
export interface Split {
  code: string
  by: 'landings' | 'offers'
  addresses: readonly string[]
}
/** The side of each click of a split, by click ID; those of no side are left out. */
export async function clicksOfSplit(
  database: Executor,
  workspace: string,
  { code, by, addresses }: Split,
  span: Span,
): Promise<Map<string, number>> {
  const source =
    by === 'landings'
      ? sql`select clicks.click_id as id, ${sideOf(sql`coalesce(clicks.landing_url, '')`, addresses)} as side
          from clicks where ${counted(workspace, span, '')} and clicks.attributes->>'code' = ${code}`
      : sql`select hops.click_id as id, ${sideOf(sql`hops.offer`, addresses)} as side
          from hops where workspace = ${workspace} and not bot and code = ${code}
            and ${ofCounted(workspace, span, '')}`
  const { rows } = await database.execute<{ id: string; side: number }>(
    sql`select id, side from (${source}) as sides where side >= 0`,
  )
  return new Map(rows.map(({ id, side }) => [id, side]))
}
