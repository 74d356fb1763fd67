import { and, desc, eq, gte, isNotNull, sql } from 'drizzle-orm'
import { type LinkChange, type Parameters, type PlanScope, scopeKey } from '@/core/links/change'
import type { ArrivedClick } from '@/core/links/parameterArrivals'
import { adTarget, type HeldNow } from '@/core/links/rebase'
import { PLACEMENTS } from '@/core/links/savedLink'
import type { Executor } from './connect'
import { adEntities, clicks } from './schema'

/**
 * Applies changes of what ads carry; to be called in one transaction. Each kind is one statement. What a plan was
 * stays readable: a version of it is kept.
 *
 * @param since from when the plans hold; from this moment where it is not said
 */
export async function applyChanges(
  database: Executor,
  workspace: string,
  changes: readonly LinkChange[],
  since?: Date,
): Promise<void> {
  // Of two changes of the same entity the last holds; one statement may touch a row but once.
  const plans = new Map<string, object>()
  const ads = new Map<string, object>()
  for (const change of changes)
    if (change.what === 'plan') {
      const { network, level, scope, after } = change
      plans.set(JSON.stringify([network, level, scope]), { network, level, scope, parameters: after })
    } else {
      const { network, ad, after } = change
      ads.set(JSON.stringify([network, ad]), {
        network,
        id: ad,
        page: after.landingPage,
        straight: after.straight,
      })
    }
  if (plans.size > 0) {
    const rows = sql`json_to_recordset(${JSON.stringify([...plans.values()])}::json)
        as r(network text, level text, scope text, parameters json)`
    await database.execute(sql`
      insert into tag_plans (workspace, network, level, scope, parameters)
      select ${workspace}, network, level, scope, parameters from ${rows}
      on conflict (workspace, network, level, scope) do update set parameters = excluded.parameters`)
    await database.execute(sql`
      insert into tag_plan_versions (workspace, network, level, scope, since, parameters)
      select ${workspace}, network, level, scope, ${since ? since.toISOString() : sql`clock_timestamp()`}::timestamptz, parameters from ${rows}
      on conflict (workspace, network, level, scope, since) do update set parameters = excluded.parameters`)
  }
  if (ads.size > 0)
    await database.execute(sql`
      update ad_entities set landing_page = r.page, straight = r.straight
      from json_to_recordset(${JSON.stringify([...ads.values()])}::json)
        as r(network text, id text, page text, straight boolean)
      where ad_entities.workspace = ${workspace} and ad_entities.network = r.network
        and ad_entities.level = 'ad' and ad_entities.id = r.id`)
}

/** What is held of the entities that changes are about; nobody else changes it before the transaction ends. */
export async function readHeld(
  database: Executor,
  workspace: string,
  changes: readonly LinkChange[],
): Promise<HeldNow> {
  const plans = changes.flatMap(c =>
    c.what === 'plan' ? [{ network: c.network, level: c.level, scope: c.scope }] : [],
  )
  const ads = changes.flatMap(c => (c.what === 'ad' ? [{ network: c.network, id: c.ad }] : []))
  const held: HeldNow = { plans: new Map(), leads: new Map() }
  if (plans.length > 0) {
    const { rows } = await database.execute<
      { [Fact in keyof PlanScope]: PlanScope[Fact] } & { parameters: Parameters }
    >(sql`
      select network, level, scope, parameters from tag_plans
      join json_to_recordset(${JSON.stringify(plans)}::json) as r(network text, level text, scope text)
        using (network, level, scope)
      where workspace = ${workspace} for update of tag_plans`)
    for (const { parameters, ...scope } of rows) held.plans.set(scopeKey(scope), parameters)
  }
  if (ads.length > 0) {
    const { rows } = await database.execute<{
      network: string
      id: string
      page: string | null
      straight: boolean
    }>(sql`
      select network, id, landing_page as page, straight from ad_entities
      join json_to_recordset(${JSON.stringify(ads)}::json) as r(network text, id text) using (network, id)
      where workspace = ${workspace} and level = 'ad' for update of ad_entities`)
    for (const { network, id, page, straight } of rows)
      held.leads.set(adTarget(network, id), { landingPage: page, straight })
  }
  return held
}

export interface PlacedAddress {
  network: string
  id: string
  placed: string
}
/** Notes which address stands at the network for each ad. */
export async function notePlaced(
  database: Executor,
  workspace: string,
  placed: readonly PlacedAddress[],
): Promise<void> {
  if (placed.length > 0)
    await database.execute(sql`
      update ad_entities set placed = r.placed
      from json_to_recordset(${JSON.stringify(placed)}::json) as r(network text, id text, placed text)
      where ad_entities.workspace = ${workspace} and ad_entities.network = r.network
        and ad_entities.level = 'ad' and ad_entities.id = r.id`)
}

/**
 * All campaigns, ad sets and ads of networks, and all tag plans, each as the JSON text of its rows (`EntityRow`,
 * and network, level, scope, parameters): for tens of thousands the database writes it faster than rows are read.
 */
export async function stationRows(
  database: Executor,
  workspace: string,
): Promise<{ entities: string; plans: string }> {
  const found = await database.execute<{ entities: string; plans: string }>(sql`
    select
      (select coalesce(json_agg(json_build_array(network, level, id, campaign_id, ad_set_id, name,
        landing_page, straight, placed)), '[]')::text
        from ad_entities where workspace = ${workspace} and network <> ${PLACEMENTS}) as entities,
      (select coalesce(json_agg(json_build_array(network, level, scope, parameters)), '[]')::text
        from tag_plans where workspace = ${workspace} and parameters::text <> '{}') as plans`)
  return found.rows[0]!
}

export const listLandingPages = (
  database: Executor,
  workspace: string,
): Promise<{ network: string; page: string }[]> =>
  database
    .selectDistinct({ network: adEntities.network, page: sql<string>`${adEntities.landingPage}` })
    .from(adEntities)
    .where(and(eq(adEntities.workspace, workspace), isNotNull(adEntities.landingPage)))

/** The latest ad clicks since an instant, newest first, each with the query that it came with. */
export async function latestQueries(
  database: Executor,
  workspace: string,
  since: Date,
  most: number,
): Promise<ArrivedClick[]> {
  const query = sql<string>`coalesce(${clicks.attributes} ->> 'query', substring(${clicks.landing_url} from '\\?([^#]*)'), '')`
  const rows = await database
    .select({
      network: clicks.network,
      campaignId: clicks.campaign_id,
      adSetId: clicks.ad_set_id,
      adId: clicks.ad_id,
      at: clicks.clicked_at,
      query,
    })
    .from(clicks)
    .where(
      and(
        eq(clicks.workspace, workspace),
        gte(clicks.day, since.toISOString().slice(0, 10)),
        gte(clicks.clicked_at, since),
        eq(clicks.bot, false),
        eq(clicks.repeated, false),
      ),
    )
    .orderBy(desc(clicks.clicked_at))
    .limit(most)
  return rows.map(row => ({
    ...row,
    campaignId: row.campaignId ?? '',
    adSetId: row.adSetId ?? '',
    adId: row.adId ?? '',
    at: row.at.getTime(),
  }))
}
