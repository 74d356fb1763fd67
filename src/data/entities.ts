import { and, asc, eq, ne, sql } from 'drizzle-orm'
import type { RowEntity } from '@/core/intake/rowEntities'
import { entityKey } from '@/core/links/account'
import type { Executor } from './connect'
import { keepBefore } from './importLog'
import { adEntities, adEntityNames } from './schema'

/** A campaign, ad set or ad as a report, a file or a person names it; what is null stays as it is held. */
export interface SeenEntity extends RowEntity {
  /** since when it has this name, `YYYY-MM-DD` */
  day: string
  landing_page?: string | null
  /** the address that stands at the network */
  placed?: string | null
}

const BATCH = 4000

/**
 * Keeps campaigns, ad sets and ads, each of them once.
 *
 * @param former the same under names that they had before
 * @returns how many were new or changed
 */
export async function saveSeen(
  database: Executor,
  workspace: string,
  entities: readonly SeenEntity[],
  former: readonly SeenEntity[] = [],
): Promise<number> {
  let changed = 0
  const keysOf = (some: readonly SeenEntity[]) => some.map(entity => ({ ...entity, workspace }))
  await keepBefore(database, adEntities, keysOf(entities))
  await keepBefore(
    database,
    adEntityNames,
    keysOf([...former, ...entities].filter(entity => entity.name !== null)),
  )
  for (let i = 0; i < entities.length; i += BATCH) {
    const batch = JSON.stringify(entities.slice(i, i + BATCH))
    const { rowCount } = await database.execute(sql`
      insert into ad_entities as held
        (workspace, network, level, id, campaign_id, ad_set_id, name, landing_page, placed)
      select ${workspace}, r.network, r.level, r.id, r.campaign_id, r.ad_set_id,
        coalesce(r.name, known.name, r.id), coalesce(r.landing_page, known.landing_page),
        coalesce(r.placed, known.placed)
      from json_to_recordset(${batch}::json) as r(network text, level text, id text, campaign_id text,
        ad_set_id text, name text, landing_page text, placed text)
      left join ad_entities known on known.workspace = ${workspace} and known.network = r.network
        and known.level = r.level and known.id = r.id
      on conflict (workspace, network, level, id) do update set
        campaign_id = excluded.campaign_id, ad_set_id = excluded.ad_set_id, name = excluded.name,
        landing_page = excluded.landing_page, placed = excluded.placed
      where (held.campaign_id, held.ad_set_id, held.name, held.landing_page, held.placed)
        is distinct from (excluded.campaign_id, excluded.ad_set_id, excluded.name, excluded.landing_page,
          excluded.placed)`)
    changed += rowCount ?? 0
  }
  const named = [...former, ...entities].filter(entity => entity.name !== null)
  for (let i = 0; i < named.length; i += BATCH)
    await database.execute(sql`
      insert into ad_entity_names (workspace, network, level, id, name, first_day)
      select ${workspace}, network, level, id, name, day
      from json_to_recordset(${JSON.stringify(named.slice(i, i + BATCH))}::json)
        as r(network text, level text, id text, name text, day date)
      on conflict do nothing`)
  return changed
}

export interface NewEntity {
  network: string
  level: 'campaign' | 'ad_set' | 'ad'
  id: string
  campaignId: string
  adSetId: string
  name: string
}

/** Adds campaigns, ad sets and ads, or renames those that are there, as of a day. */
export const saveEntities = (
  database: Executor,
  workspace: string,
  entities: readonly NewEntity[],
  day: string,
): Promise<number> =>
  saveSeen(
    database,
    workspace,
    entities.map(({ campaignId, adSetId, ...e }) => ({
      ...e,
      campaign_id: campaignId,
      ad_set_id: adSetId,
      day,
    })),
  )

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
  for (const { network, level, id, name } of rows) (former[entityKey(network, level, id)] ??= []).push(name)
  return former
}

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

/** IDs of what is called so at a level, by its ID before all, else by its present name. */
export async function findEntities(
  database: Executor,
  workspace: string,
  network: string,
  level: 'campaign' | 'ad_set' | 'ad',
  called: string,
): Promise<string[]> {
  const rows = await database
    .select({ id: adEntities.id, name: adEntities.name })
    .from(adEntities)
    .where(
      and(
        eq(adEntities.workspace, workspace),
        eq(adEntities.network, network),
        eq(adEntities.level, level),
        sql`(${adEntities.id} = ${called} or lower(${adEntities.name}) = lower(${called}))`,
      ),
    )
  const byId = rows.filter(row => row.id === called)
  return (byId.length > 0 ? byId : rows).map(row => row.id)
}

/** Keeps a name under which a campaign, ad set or ad is met beside its present one. */
export const addName = (
  database: Executor,
  workspace: string,
  {
    now,
    ...named
  }: { network: string; level: 'campaign' | 'ad_set' | 'ad'; id: string; name: string; now: number },
) =>
  database
    .insert(adEntityNames)
    .values({ workspace, ...named, firstDay: new Date(now).toISOString().slice(0, 10) })
    .onConflictDoNothing()
