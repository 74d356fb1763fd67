import { and, asc, desc, eq, gte, inArray, isNotNull, lte, ne, sql } from 'drizzle-orm'
import { thingKey } from '@/core/links/account'
import { type LinkChange, type Parameters, type PlanScope, scopeKey } from '@/core/links/change'
import { type NamingRule, namingRuleSchema } from '@/core/links/naming'
import type { ArrivedClick } from '@/core/links/parameterArrivals'
import { adTarget, type HeldNow } from '@/core/links/rebase'
import { PLACEMENTS, type SavedLink, savedLinkSchema } from '@/core/links/savedLink'
import type { Executor } from './connect'
import {
  adEntities,
  adEntityNames,
  clicks,
  delivery,
  namingRules,
  orders,
  savedLinkHistory,
  savedLinks,
} from './schema'
import { upsertRows } from './store'

/** Applies changes of what ads carry; to be called in one transaction. Each kind is one statement. */
export async function applyChanges(
  database: Executor,
  workspace: string,
  changes: readonly LinkChange[],
): Promise<void> {
  // Of two changes of the same thing the last holds; one statement may touch a row but once.
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
  if (plans.size > 0)
    await database.execute(sql`
      insert into tag_plans (workspace, network, level, scope, parameters)
      select ${workspace}, network, level, scope, parameters
      from json_to_recordset(${JSON.stringify([...plans.values()])}::json)
        as r(network text, level text, scope text, parameters json)
      on conflict (workspace, network, level, scope) do update set parameters = excluded.parameters`)
  if (ads.size > 0)
    await database.execute(sql`
      update ad_entities set landing_page = r.page, straight = r.straight
      from json_to_recordset(${JSON.stringify([...ads.values()])}::json)
        as r(network text, id text, page text, straight boolean)
      where ad_entities.workspace = ${workspace} and ad_entities.network = r.network
        and ad_entities.level = 'ad' and ad_entities.id = r.id`)
}

/** What is held of the things that changes are about; nobody else changes it before the transaction ends. */
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
 * All campaigns, ad sets and ads of networks, and all tag plans, each as the JSON text of its rows (`ThingRow`,
 * and network, level, scope, parameters): for tens of thousands the database writes it faster than rows are read.
 */
export async function stationRows(
  database: Executor,
  workspace: string,
): Promise<{ things: string; plans: string }> {
  const found = await database.execute<{ things: string; plans: string }>(sql`
    select
      (select coalesce(json_agg(json_build_array(network, level, id, campaign_id, ad_set_id, name,
        landing_page, straight, placed)), '[]')::text
        from ad_entities where workspace = ${workspace} and network <> ${PLACEMENTS}) as things,
      (select coalesce(json_agg(json_build_array(network, level, scope, parameters)), '[]')::text
        from tag_plans where workspace = ${workspace} and parameters::text <> '{}') as plans`)
  return found.rows[0]!
}

/** Names that campaigns, ad sets and ads had before the present one, oldest first, by `network/level/id`. */
export async function listFormerNames(
  database: Executor,
  workspace: string,
): Promise<Record<string, string[]>> {
  const own = and(
    eq(adEntities.workspace, adEntityNames.workspace),
    eq(adEntities.network, adEntityNames.network),
    eq(adEntities.level, sql`${adEntityNames.level}`),
    eq(adEntities.id, adEntityNames.id),
  )
  const rows = await database
    .select({
      network: adEntityNames.network,
      level: adEntityNames.level,
      id: adEntityNames.id,
      name: adEntityNames.name,
    })
    .from(adEntityNames)
    .innerJoin(adEntities, own)
    .where(and(eq(adEntityNames.workspace, workspace), ne(adEntityNames.name, adEntities.name)))
    .orderBy(asc(adEntityNames.firstDay))
  const former: Record<string, string[]> = {}
  for (const { network, level, id, name } of rows) (former[thingKey(network, level, id)] ??= []).push(name)
  return former
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

export interface StoredLink {
  code: string
  link: SavedLink
}
export const listSavedLinks = async (database: Executor, workspace: string): Promise<StoredLink[]> =>
  (
    await database
      .select({ code: savedLinks.code, link: savedLinks.link })
      .from(savedLinks)
      .where(eq(savedLinks.workspace, workspace))
  ).map(row => ({ code: row.code, link: savedLinkSchema.parse(row.link) }))

/** Keeps a saved link; what it was before stays in its history. */
export async function saveLink(
  database: Executor,
  workspace: string,
  { code, link }: StoredLink,
  before: StoredLink | null,
  at: Date,
): Promise<void> {
  if (before) {
    await database.insert(savedLinkHistory).values({ workspace, code: before.code, at, link: before.link })
    if (before.code !== code) {
      const own = and(eq(savedLinks.workspace, workspace), eq(savedLinks.code, before.code))
      await database.delete(savedLinks).where(own)
      await database
        .update(savedLinkHistory)
        .set({ code })
        .where(and(eq(savedLinkHistory.workspace, workspace), eq(savedLinkHistory.code, before.code)))
    }
  }
  await database
    .insert(savedLinks)
    .values({ workspace, code, link })
    .onConflictDoUpdate({ target: [savedLinks.workspace, savedLinks.code], set: { link } })
}

export const listLinkHistory = async (database: Executor, workspace: string, code: string) =>
  (
    await database
      .select({ at: savedLinkHistory.at, link: savedLinkHistory.link })
      .from(savedLinkHistory)
      .where(and(eq(savedLinkHistory.workspace, workspace), eq(savedLinkHistory.code, code)))
      .orderBy(desc(savedLinkHistory.at))
  ).map(row => ({ at: row.at.getTime(), link: savedLinkSchema.parse(row.link) }))

/** Ad clicks that count, from one day to another. */
const countedClicks = (workspace: string, { from, to }: { from: string; to: string }) =>
  and(
    eq(clicks.workspace, workspace),
    gte(clicks.day, from),
    lte(clicks.day, to),
    eq(clicks.bot, false),
    eq(clicks.repeated, false),
  )

/** Ad clicks that count, by `network/ad`, from one day to another. */
export async function countAdClicks(
  database: Executor,
  workspace: string,
  from: string,
  to: string,
): Promise<Map<string, number>> {
  const rows = await database
    .select({ network: clicks.network, ad: clicks.ad_id, count: sql<number>`count(*)::int` })
    .from(clicks)
    .where(countedClicks(workspace, { from, to }))
    .groupBy(clicks.network, clicks.ad_id)
  return new Map(rows.map(row => [`${row.network}/${row.ad ?? ''}`, row.count]))
}

const BY_HAND = 'by hand'
/** Keeps what a placement cost by day, in place of what was entered before. Amounts in minor units. */
export async function saveHandCost(
  database: Executor,
  workspace: string,
  { network, campaign, ad_set, ad }: SavedLink,
  currency: string,
  days: readonly { day: string; amount: number }[],
): Promise<void> {
  const own = and(
    eq(delivery.workspace, workspace),
    eq(delivery.network, network),
    eq(delivery.ad_id, ad.id),
    eq(delivery.segment, BY_HAND),
  )
  await database.delete(delivery).where(own)
  await upsertRows(
    database,
    delivery,
    days.map(({ day, amount }) => ({
      workspace,
      day,
      network,
      campaign_id: campaign.id,
      ad_set_id: ad_set.id,
      ad_id: ad.id,
      segment: BY_HAND,
      currency,
      spend: amount,
      impressions: 0,
      clicks: 0,
      campaign_name: campaign.name,
      ad_set_name: ad_set.name,
      ad_name: ad.name,
    })),
  )
}

export const listNamingRules = async (
  database: Executor,
  workspace: string,
): Promise<(NamingRule & { id: string })[]> =>
  (
    await database
      .select()
      .from(namingRules)
      .where(eq(namingRules.workspace, workspace))
      .orderBy(asc(namingRules.id))
  ).map(row => ({ id: row.id, ...namingRuleSchema.parse(row.rule) }))

/** The present name of a campaign, ad set or ad; null where there is none of that ID. */
export async function findName(
  database: Executor,
  workspace: string,
  network: string,
  level: 'campaign' | 'ad_set' | 'ad',
  id: string,
): Promise<string | null> {
  const [found] = await database
    .select({ name: adEntities.name })
    .from(adEntities)
    .where(
      and(
        eq(adEntities.workspace, workspace),
        eq(adEntities.network, network),
        eq(adEntities.level, level),
        eq(adEntities.id, id),
      ),
    )
  return found?.name ?? null
}

/** One ad with its campaign and ad set, by name and ID; null for an unknown one. */
export async function findAd(database: Executor, workspace: string, network: string, id: string) {
  const own = and(eq(adEntities.workspace, workspace), eq(adEntities.network, network))
  const [ad] = await database
    .select()
    .from(adEntities)
    .where(and(own, eq(adEntities.level, 'ad'), eq(adEntities.id, id)))
  if (!ad) return null
  const nameOf = (level: 'campaign' | 'ad_set', of: string) =>
    findName(database, workspace, network, level, of)
  return {
    network,
    campaign: { id: ad.campaignId, name: (await nameOf('campaign', ad.campaignId)) ?? ad.campaignId },
    ad_set: { id: ad.adSetId, name: (await nameOf('ad_set', ad.adSetId)) ?? ad.adSetId },
    ad: { id, name: ad.name },
    landingPage: ad.landingPage,
  }
}

export const saveNamingRule = (database: Executor, workspace: string, id: string, rule: NamingRule) =>
  database
    .insert(namingRules)
    .values({ workspace, id, rule })
    .onConflictDoUpdate({ target: [namingRules.workspace, namingRules.id], set: { rule } })

export const removeNamingRule = (database: Executor, workspace: string, id: string) =>
  database.delete(namingRules).where(and(eq(namingRules.workspace, workspace), eq(namingRules.id, id)))

/** What clicks can be listed by, each with its columns. */
export const sourceColumns = {
  source: [clicks.source],
  keyword: [clicks.keyword, clicks.match_type],
  placement: [clicks.placement],
  device: [clicks.device],
} as const
export type SourceKind = keyof typeof sourceColumns

export interface SourceLine {
  network: string
  /** the source, the placement or the device; or the keyword and its match type */
  values: string[]
  clicks: number
  visitors: number
  /** orders that carry the ID of one of these clicks and count, and what they are worth in minor units */
  orders: number
  value: number
}

/** The clicks of a line of sources, the latest first, each with the order that carries it, if any. */
export async function listSourceClicks(
  database: Executor,
  workspace: string,
  kind: SourceKind,
  { from, to, network, values }: { from: string; to: string; network: string; values: readonly string[] },
  most: number,
) {
  const [first, second] = sourceColumns[kind]
  const rows = await database
    .select({
      id: clicks.click_id,
      at: clicks.clicked_at,
      ad: clicks.ad_id,
      order: orders.order_id,
      value: sql<number | null>`(${orders.total} - ${orders.refunded})::float8`,
      currency: orders.currency,
    })
    .from(clicks)
    .leftJoin(orders, bookedClick)
    .where(
      and(
        countedClicks(workspace, { from, to }),
        eq(clicks.network, network),
        eq(first, values[0] ?? ''),
        second ? eq(sql`coalesce(${second}, '')`, values[1] ?? '') : undefined,
      ),
    )
    .orderBy(sql`${orders.order_id} is null`, desc(clicks.clicked_at))
    .limit(most)
  return rows.map(row => ({ ...row, at: row.at.getTime() }))
}

/** An order that counts and carries the click's ID. */
const bookedClick = and(
  eq(orders.workspace, clicks.workspace),
  eq(orders.click_id, clicks.click_id),
  inArray(orders.status, ['paid', 'partially_refunded']),
)

/** Ad clicks of a span of days by source, keyword, placement or device, with the orders that carry them; most clicks first. */
export async function listSources(
  database: Executor,
  workspace: string,
  kind: SourceKind,
  { from, to, network }: { from: string; to: string; network?: string | undefined },
  most: number,
): Promise<SourceLine[]> {
  const columns = sourceColumns[kind]
  const rows = await database
    .select({
      network: clicks.network,
      first: columns[0],
      second: columns[1] ?? sql<null>`null`,
      clicks: sql<number>`count(distinct ${clicks.click_id})::int`,
      visitors: sql<number>`count(distinct ${clicks.visitor_id})::int`,
      orders: sql<number>`count(${orders.order_id})::int`,
      value: sql<number>`coalesce(sum(${orders.total} - ${orders.refunded}), 0)::float8`,
    })
    .from(clicks)
    .leftJoin(orders, bookedClick)
    .where(
      and(
        countedClicks(workspace, { from, to }),
        network === undefined ? undefined : eq(clicks.network, network),
        ne(sql`coalesce(${columns[0]}, '')`, ''),
      ),
    )
    .groupBy(clicks.network, ...columns)
    .orderBy(desc(sql`count(distinct ${clicks.click_id})`))
    .limit(most)
  return rows.map(({ first, second, ...row }) => ({
    ...row,
    values: [first ?? '', ...(second ? [second] : [])],
  }))
}
