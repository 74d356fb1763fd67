import { sql } from 'drizzle-orm'
import { parseDay } from '@/core/shared/days'
import type { Held } from '@/core/weigh/beginning'
import type { Executor } from './connect'

/** What a workspace holds of what the first number needs. */
export async function heldToBegin(
  database: Executor,
  workspace: string,
  zone: string,
): Promise<Omit<Held, 'settled' | 'networks'>> {
  const found = await database.execute<
    Record<'count' | 'links' | 'clicks' | 'events' | 'named', number> & {
      first: string | null
      last: string | null
      spent: Record<string, string> | null
      claiming: string[] | null
    }
  >(sql`
    with o as (select count(*)::int as count, min(ordered_at at time zone ${zone})::date::text as first,
        max(ordered_at at time zone ${zone})::date::text as last from orders where workspace = ${workspace}),
      d as (select network, max(day)::text as last from delivery where workspace = ${workspace} and spend > 0
        group by network),
      c as (select network from claim_sums where workspace = ${workspace}
        union select network from claim_rows where workspace = ${workspace})
    select o.*,
      (select json_object_agg(network, last) from d) as spent,
      (select json_agg(network order by network) from c) as claiming,
      (exists (select 1 from ad_entities where workspace = ${workspace} and landing_page is not null))::int as links,
      (exists (select 1 from clicks where workspace = ${workspace}))::int as clicks,
      (exists (select 1 from events where workspace = ${workspace}))::int as events,
      (exists (select 1 from orders where workspace = ${workspace}
        and (utm_source <> '' or utm_campaign <> '' or landing_url ~* '(^|[?&])utm_(source|campaign)=')))::int as named
    from o`)
  const {
    count = 0,
    first,
    last,
    spent,
    claiming,
    links = 0,
    clicks = 0,
    events = 0,
    named = 0,
  } = found.rows[0] ?? {}
  const day = (text: string) => parseDay(text) ?? 0
  const networks = Object.entries(spent ?? {}).map(([network, text]) => ({ network, last: day(text) }))
  return {
    orders: first && last ? { count, first: day(first), last: day(last) } : null,
    spend: networks.length > 0 ? { networks, last: Math.max(...networks.map(one => one.last)) } : null,
    claiming: claiming ?? [],
    links,
    clicks,
    events,
    named,
  }
}
