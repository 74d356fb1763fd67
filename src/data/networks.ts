import { and, eq, sql } from 'drizzle-orm'
import type { Executor } from './connect'
import { networkProfiles } from './schema'

/** What is held of a network. */
export interface HeldOfNetwork {
  network: string
  ads: number
  /** the first and last day of which it reported spend, `YYYY-MM-DD` */
  first: string | null
  last: string | null
  claims: boolean
  clicks: number
}

/** What is held of each network of which anything is: of those without a data sheet as well. */
export async function heldByNetwork(database: Executor, workspace: string): Promise<HeldOfNetwork[]> {
  const found = await database.execute<HeldOfNetwork & Record<string, unknown>>(sql`
    with ads as (select network, count(*) filter (where level = 'ad')::int as ads from ad_entities
        where workspace = ${workspace} group by network),
      days as (select network, min(day)::text as first, max(day)::text as last from delivery
        where workspace = ${workspace} group by network),
      told as (select network from claim_sums where workspace = ${workspace}
        union select network from claim_rows where workspace = ${workspace}),
      seen as (select network, count(*)::int as clicks from clicks where workspace = ${workspace} group by network)
    select network, coalesce(ads, 0) as ads, first, last, coalesce(clicks, 0) as clicks,
      network in (select network from told) as claims
    from ads full join days using (network) full join (select distinct network from told) t using (network)
      full join seen using (network)
    order by network`)
  return found.rows
}

/** Whether anything but reports says the network's name: a plan, a code, a result's slot, what was told to it. */
export async function isSpokenOf(database: Executor, workspace: string, network: string): Promise<boolean> {
  const found = await database.execute<{ spoken: boolean }>(sql`
    select exists (select 1 from tag_plans where workspace = ${workspace} and network = ${network}
        and parameters::text <> '{}')
      or exists (select 1 from routes where workspace = ${workspace} and network = ${network})
      or exists (select 1 from signals where workspace = ${workspace} and network = ${network})
      or exists (select 1 from relays where workspace = ${workspace} and network = ${network}) as spoken`)
  return found.rows[0]?.spoken ?? false
}

export const removeProfile = (database: Executor, workspace: string, id: string) =>
  database
    .delete(networkProfiles)
    .where(and(eq(networkProfiles.workspace, workspace), eq(networkProfiles.id, id)))
