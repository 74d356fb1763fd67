import { and, asc, desc, eq, ilike, or, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/pg-core'
import type { Reject } from '@/core/intake/fields'
import { type Settings, settingsSchema } from '@/core/intake/settings'
import type { PlanScope } from '@/core/links/change'
import { type NetworkProfile, profileSchema } from '@/core/links/profile'
import type { PlanVersion } from '@/core/links/readLink'
import type { Executor } from './connect'
import {
  adEntities,
  importBatches,
  networkProfiles,
  routes,
  tagPlans,
  tagPlanVersions,
  workspaces,
} from './schema'
import { readStored, readWithDefaults } from './stored'

export interface Workspace {
  id: string
  name: string
  settings: Settings
  /** rises with everything that figures stand on */
  version: number
  /** the version at which each part last changed */
  changed: Partial<Record<Part, number>>
  /** rises with everything that arrives */
  feed: number
}

export async function findWorkspace(database: Executor, id: string): Promise<Workspace | null> {
  const [row] = await database.select().from(workspaces).where(eq(workspaces.id, id))
  if (!row) return null
  const settings = readWithDefaults('workspaces', id, settingsSchema, row.settings)
  const feed = row.version + row.shown
  return { ...row, feed, settings: withProfiles(settings, await listProfiles(database, id)) }
}

/** How networks count stands in their profiles; the settings say it of those that have none. */
function withProfiles(settings: Settings, profiles: readonly NetworkProfile[]): Settings {
  const others = settings.networks.filter(n => !profiles.some(p => p.id === n.id))
  const told = profiles.map(({ id, click_window_days, view_window_days, dated_by, time_zone }) => ({
    id,
    click_window_days,
    view_window_days,
    dated_by,
    ...(time_zone && { time_zone }),
  }))
  return { ...settings, networks: [...told, ...others] }
}

export async function createWorkspace(
  database: Executor,
  id: string,
  name: string,
  settings: Settings,
  profiles: readonly NetworkProfile[],
) {
  await database.insert(workspaces).values({ id, name, settings }).onConflictDoNothing()
  for (const profile of profiles)
    await database
      .insert(networkProfiles)
      .values({ workspace: id, id: profile.id, profile })
      .onConflictDoNothing()
}

/** Keeps settings; what profiles say of networks is not kept twice. */
export async function saveSettings(database: Executor, id: string, given: Settings): Promise<void> {
  const profiles = await database
    .select({ id: networkProfiles.id })
    .from(networkProfiles)
    .where(eq(networkProfiles.workspace, id))
  const networks = given.networks.filter(n => !profiles.some(p => p.id === n.id))
  const settings = { ...given, networks }
  await database
    .update(workspaces)
    .set({ settings, ...raised(['rules']) })
    .where(eq(workspaces.id, id))
}

export const renameWorkspace = (database: Executor, id: string, name: string) =>
  database.update(workspaces).set({ name }).where(eq(workspaces.id, id))

/** Says that collectors are to answer by something else from now on. */
export async function raiseRouting(database: Executor, id: string): Promise<void> {
  await database
    .update(workspaces)
    .set({ routing: sql`${workspaces.routing} + 1` })
    .where(eq(workspaces.id, id))
}

/** Rises with every change of what collectors answer by, in any workspace. */
export async function routingMark(database: Executor): Promise<string> {
  const [row] = await database
    .select({ mark: sql<string | null>`sum(${workspaces.routing})::text` })
    .from(workspaces)
  return row?.mark ?? ''
}

/**
 * What of a workspace is read as a whole again when it changed. Of clicks, orders, claims told singly and
 * results told by the tag only rows of later revisions are; where some were removed, `everything` is read anew.
 */
export type Part = 'rules' | 'delivery' | 'claims' | 'everything'

const raised = (parts: readonly Part[]) => ({
  version: sql`${workspaces.version} + 1`,
  changed: sql`${workspaces.changed} || (select coalesce(jsonb_object_agg(part, ${workspaces.version} + 1), '{}') from jsonb_array_elements_text(${JSON.stringify(parts)}::jsonb) as part)`,
})

/**
 * Says that what figures stand on has changed; to be called in the transaction that changed it.
 *
 * @param parts those that changed, beside rows that bear a revision
 */
export async function raiseVersion(database: Executor, id: string, ...parts: Part[]): Promise<void> {
  await database.update(workspaces).set(raised(parts)).where(eq(workspaces.id, id))
}

/** Says that something arrived that is only shown, and that no figure stands on. */
export async function raiseShown(database: Executor, id: string): Promise<void> {
  await database
    .update(workspaces)
    .set({ shown: sql`${workspaces.shown} + 1` })
    .where(eq(workspaces.id, id))
}

/** By what the snapshot of a workspace's records is known. */
export async function snapshotOf(database: Executor, id: string): Promise<string | null> {
  const [row] = await database
    .select({ snapshot: workspaces.snapshot })
    .from(workspaces)
    .where(eq(workspaces.id, id))
  return row?.snapshot ?? null
}
export async function tellSnapshot(database: Executor, id: string, snapshot: string): Promise<void> {
  await database.update(workspaces).set({ snapshot }).where(eq(workspaces.id, id))
}

export async function listProfiles(database: Executor, workspace: string): Promise<NetworkProfile[]> {
  const rows = await database
    .select()
    .from(networkProfiles)
    .where(eq(networkProfiles.workspace, workspace))
    .orderBy(asc(networkProfiles.id))
  return readStored('network_profiles', profileSchema, rows, row => ({ id: row.id, value: row.profile })).map(
    ({ value }) => value,
  )
}

export const saveProfile = (database: Executor, workspace: string, profile: NetworkProfile) =>
  database
    .insert(networkProfiles)
    .values({ workspace, id: profile.id, profile })
    .onConflictDoUpdate({ target: [networkProfiles.workspace, networkProfiles.id], set: { profile } })

export type AdEntity = typeof adEntities.$inferSelect
export const listEntities = (database: Executor, workspace: string): Promise<AdEntity[]> =>
  database
    .select()
    .from(adEntities)
    .where(eq(adEntities.workspace, workspace))
    .orderBy(asc(adEntities.network), asc(adEntities.name))

/** IDs of the networks that have ads. */
export const listNetworks = async (database: Executor, workspace: string): Promise<string[]> =>
  (
    await database
      .selectDistinct({ network: adEntities.network })
      .from(adEntities)
      .where(eq(adEntities.workspace, workspace))
      .orderBy(asc(adEntities.network))
  ).map(row => row.network)

export const listCampaigns = (database: Executor, workspace: string) =>
  database
    .select({ network: adEntities.network, id: adEntities.id, name: adEntities.name })
    .from(adEntities)
    .where(and(eq(adEntities.workspace, workspace), eq(adEntities.level, 'campaign')))
    .orderBy(asc(adEntities.network), asc(adEntities.name))

/** Ads by a part of their name or ID, or of their campaign's name; in order of network and name. */
export const searchAds = (database: Executor, workspace: string, text: string, most: number) => {
  const campaign = alias(adEntities, 'campaign')
  const part = `%${text.replace(/[\\%_]/g, '\\$&')}%`
  return database
    .select({
      network: adEntities.network,
      id: adEntities.id,
      name: adEntities.name,
      campaign: sql<string>`coalesce(${campaign.name}, '')`,
    })
    .from(adEntities)
    .leftJoin(
      campaign,
      and(
        eq(campaign.workspace, adEntities.workspace),
        eq(campaign.network, adEntities.network),
        eq(campaign.level, 'campaign'),
        eq(campaign.id, adEntities.campaignId),
      ),
    )
    .where(
      and(
        eq(adEntities.workspace, workspace),
        eq(adEntities.level, 'ad'),
        or(ilike(adEntities.name, part), ilike(adEntities.id, part), ilike(campaign.name, part)),
      ),
    )
    .orderBy(asc(adEntities.network), asc(adEntities.name))
    .limit(most)
}

export type StoredPlan = PlanScope & { parameters: Record<string, string> }

export const listPlans = (database: Executor, workspace: string): Promise<StoredPlan[]> =>
  database
    .select({
      network: tagPlans.network,
      level: tagPlans.level,
      scope: tagPlans.scope,
      parameters: tagPlans.parameters,
    })
    .from(tagPlans)
    .where(and(eq(tagPlans.workspace, workspace), sql`${tagPlans.parameters}::text <> '{}'`))

/** Every state that a tag plan had, those of each level in order of time. */
export async function listPlanVersions(database: Executor, workspace: string): Promise<PlanVersion[]> {
  const { network, level, scope, since, parameters } = tagPlanVersions
  const rows = await database
    .select({ network, level, scope, since, parameters })
    .from(tagPlanVersions)
    .where(eq(tagPlanVersions.workspace, workspace))
    .orderBy(asc(since))
  return rows.map(row => ({ ...row, since: row.since.getTime() }))
}

export type Route = Omit<typeof routes.$inferSelect, 'given_at'>
/** The routes of all workspaces, those given out first before others. */
export const listRoutes = (database: Executor): Promise<Route[]> =>
  database.select().from(routes).orderBy(asc(routes.given_at), asc(routes.workspace))
/** The codes of a workspace alone, of which there may be ten thousand. */
export const listCodes = async (database: Executor, workspace: string): Promise<string[]> =>
  (await database.select({ code: routes.code }).from(routes).where(eq(routes.workspace, workspace))).map(
    row => row.code,
  )
export async function saveRoute(database: Executor, route: Route): Promise<void> {
  const { workspace: _, code: __, ...set } = route
  await database
    .insert(routes)
    .values(route)
    .onConflictDoUpdate({ target: [routes.workspace, routes.code], set })
}
/** Gives codes that are new their routes; those that somebody settled stay. */
export async function addRoutes(database: Executor, rows: readonly Omit<Route, 'offers' | 'paused'>[]) {
  if (rows.length > 0)
    await database
      .insert(routes)
      .values([...rows])
      .onConflictDoNothing()
}

export interface ImportOutcome {
  accepted: number
  duplicates: number
  rejected: Reject[]
  /** stopped by hand: what went in before stays */
  cancelled?: boolean
}
export const recordBatch = (
  database: Executor,
  workspace: string,
  batch: Omit<typeof importBatches.$inferInsert, 'workspace' | keyof ImportOutcome>,
  { rejected, ...outcome }: ImportOutcome,
) => database.insert(importBatches).values({ workspace, ...batch, ...outcome, rejected: rejected.length })

export const listBatches = (database: Executor, workspace: string, most: number) =>
  database
    .select()
    .from(importBatches)
    .where(eq(importBatches.workspace, workspace))
    .orderBy(desc(importBatches.imported_at))
    .limit(most)
