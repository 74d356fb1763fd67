import { sql } from 'drizzle-orm'
import { PROVISIONAL } from '@/core/links/provisional'
import type { Executor } from './connect'
import { nextRevision } from './revision'

const levels = ['campaign', 'ad_set', 'ad'] as const
type Level = (typeof levels)[number]
/** Of what stands above a level, what has to be the same for two of one name to be one. */
const placeOf: Record<Level, string> = {
  campaign: 'true',
  ad_set: 'p.campaign_id = r.campaign_id',
  ad: "p.campaign_id = r.campaign_id and (p.ad_set_id = r.ad_set_id or r.ad_set_id = '')",
}
const columnOf: Record<Level, string> = { campaign: 'campaign_id', ad_set: 'ad_set_id', ad: 'ad_id' }

/** What was added without an ID, with what a report has named since that it may be: of the same name, in the same place. */
export interface Provisional {
  network: string
  level: Level
  /** the ID that stands for the missing one */
  id: string
  name: string
  fits: { id: string; campaign: string; adSet: string }[]
}

async function fitting(database: Executor, workspace: string, level: Level): Promise<Provisional[]> {
  const nameAt = (
    above: Level,
  ) => sql`coalesce((select name from ad_entities a where a.workspace = r.workspace
    and a.network = r.network and a.level = ${above} and a.id = r.${sql.raw(columnOf[above])}), r.${sql.raw(columnOf[above])})`
  const { rows } = await database.execute<{
    network: string
    id: string
    name: string
    fits: Provisional['fits']
  }>(sql`
    select p.network, p.id, p.name, json_agg(json_build_object(
      'id', r.id, 'campaign', ${nameAt('campaign')}, 'adSet', ${nameAt('ad_set')}) order by r.id) as fits
    from ad_entities p join ad_entities r
      on r.workspace = p.workspace and r.network = p.network and r.level = p.level
      and lower(r.name) = lower(p.name) and r.id not like ${`${PROVISIONAL}%`} and ${sql.raw(placeOf[level])}
    where p.workspace = ${workspace} and p.level = ${level} and p.id like ${`${PROVISIONAL}%`}
    group by p.network, p.id, p.name`)
  return rows.map(row => ({ ...row, level }))
}

/**
 * Joins campaigns, ad sets and ads that were added without an ID to those that a report has named since: of the same
 * name, in the same place, and the only one there. Their plans, landing pages, saved links and clicks go along.
 *
 * @returns how many were joined
 */
export async function joinProvisional(database: Executor, workspace: string): Promise<number> {
  let joined = 0
  for (const level of levels)
    for (const { network, id, fits } of await fitting(database, workspace, level)) {
      const [only, ...others] = fits
      if (!only || others.length > 0) continue
      await replace(database, workspace, level, { network, provisional: id, real: only.id })
      joined += 1
    }
  return joined
}

/** What was added without an ID and may be several that reports have named since: somebody has to say which. */
export async function listUndecided(database: Executor, workspace: string): Promise<Provisional[]> {
  const found: Provisional[] = []
  for (const level of levels)
    found.push(...(await fitting(database, workspace, level)).filter(({ fits }) => fits.length > 1))
  return found
}

/** Joins it to the one that somebody chose. Says whether that was one that it may be. */
export async function joinTo(
  database: Executor,
  workspace: string,
  { network, level, id, real }: Pick<Provisional, 'network' | 'level' | 'id'> & { real: string },
): Promise<boolean> {
  const own = (await fitting(database, workspace, level)).find(
    one => one.network === network && one.id === id,
  )
  if (!own?.fits.some(one => one.id === real)) return false
  await replace(database, workspace, level, { network, provisional: id, real })
  return true
}

async function replace(
  database: Executor,
  workspace: string,
  level: Level,
  { network, provisional, real }: { network: string; provisional: string; real: string },
): Promise<void> {
  const own = sql`workspace = ${workspace} and network = ${network}`
  const column = sql.raw(columnOf[level])
  await database.execute(sql`
    update ad_entities r set landing_page = coalesce(r.landing_page, p.landing_page),
      straight = r.straight or p.straight, placed = coalesce(r.placed, p.placed)
    from ad_entities p
    where r.workspace = ${workspace} and r.network = ${network} and r.level = ${level} and r.id = ${real}
      and p.workspace = r.workspace and p.network = r.network and p.level = r.level and p.id = ${provisional}`)
  await database.execute(
    sql`delete from ad_entities where ${own} and level = ${level} and id = ${provisional}`,
  )
  await database.execute(
    sql`delete from ad_entity_names where ${own} and level = ${level} and id = ${provisional}`,
  )
  if (level !== 'ad')
    await database.execute(
      sql`update ad_entities set ${column} = ${real} where ${own} and ${column} = ${provisional}`,
    )
  const planned = await database.execute(
    sql`select 1 from tag_plan_versions where ${own} and level = ${level} and scope = ${real} limit 1`,
  )
  for (const table of ['tag_plans', 'tag_plan_versions'].map(name => sql.raw(name))) {
    const of = sql`${own} and level = ${level} and scope = ${provisional}`
    // What somebody has set at the real one since stays.
    await database.execute(
      planned.rows.length === 0
        ? sql`update ${table} set scope = ${real} where ${of}`
        : sql`delete from ${table} where ${of}`,
    )
  }
  await database.execute(sql`
    update saved_links set link = jsonb_set(link::jsonb, array[${level}::text, 'id'], to_jsonb(${real}::text))::json
    where workspace = ${workspace} and link ->> 'network' = ${network} and link #>> array[${level}::text, 'id'] = ${provisional}`)
  const revision = await nextRevision(database, workspace)
  await database.execute(sql`
    update clicks set ${column} = ${real}, revision = ${revision}::bigint
    where ${own} and ${column} = ${provisional}`)
}
