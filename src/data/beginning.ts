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
    Record<'count' | 'claims' | 'links' | 'clicks' | 'events', number> & {
      first: string | null
      last: string | null
      spend_last: string | null
      networks: string[] | null
    }
  >(sql`
    with o as (select count(*)::int as count, min(ordered_at at time zone ${zone})::date::text as first,
        max(ordered_at at time zone ${zone})::date::text as last from orders where workspace = ${workspace}),
      d as (select max(day)::text as spend_last, array_agg(distinct network) as networks from delivery
        where workspace = ${workspace} and spend > 0)
    select o.*, d.*,
      (exists (select 1 from claim_sums where workspace = ${workspace})
        or exists (select 1 from claim_rows where workspace = ${workspace}))::int as claims,
      (exists (select 1 from ad_entities where workspace = ${workspace} and landing_page is not null))::int as links,
      (exists (select 1 from clicks where workspace = ${workspace}))::int as clicks,
      (exists (select 1 from events where workspace = ${workspace}))::int as events
    from o, d`)
  const {
    count = 0,
    first,
    last,
    spend_last,
    networks,
    claims = 0,
    links = 0,
    clicks = 0,
    events = 0,
  } = found.rows[0] ?? {}
  const day = (text: string) => parseDay(text) ?? 0
  return {
    orders: first && last ? { count, first: day(first), last: day(last) } : null,
    spend: spend_last ? { networks: networks ?? [], last: day(spend_last) } : null,
    claims,
    links,
    clicks,
    events,
  }
}
