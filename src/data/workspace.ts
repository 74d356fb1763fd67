import { asc, desc, eq, sql } from 'drizzle-orm'
import type { Reject } from '@/core/intake/fields'
import { type Settings, settingsSchema } from '@/core/intake/settings'
import type { TagPlan } from '@/core/links/plan'
import { type NetworkProfile, type PlanLevel, profileSchema } from '@/core/links/profile'
import type { Executor } from './connect'
import {
  adEntities,
  adEntityNames,
  importBatches,
  networkProfiles,
  routes,
  tagPlans,
  workspaces,
} from './schema'
import { upsertRows } from './store'

export interface Workspace {
  id: string
  name: string
  settings: Settings
  version: number
}

export async function findWorkspace(database: Executor, id: string): Promise<Workspace | null> {
  const [row] = await database.select().from(workspaces).where(eq(workspaces.id, id))
  return row ? { ...row, settings: settingsSchema.parse(row.settings) } : null
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

export async function saveSettings(database: Executor, id: string, settings: Settings): Promise<void> {
  await database
    .update(workspaces)
    .set({ settings, version: sql`${workspaces.version} + 1` })
    .where(eq(workspaces.id, id))
}

/** Says that what is judged has changed; to be called in the transaction that changed it. */
export async function raiseVersion(database: Executor, id: string): Promise<void> {
  await database
    .update(workspaces)
    .set({ version: sql`${workspaces.version} + 1` })
    .where(eq(workspaces.id, id))
}

export async function listProfiles(database: Executor, workspace: string): Promise<NetworkProfile[]> {
  const rows = await database
    .select()
    .from(networkProfiles)
    .where(eq(networkProfiles.workspace, workspace))
    .orderBy(asc(networkProfiles.id))
  return rows.map(row => profileSchema.parse(row.profile))
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

export const listNames = (database: Executor, workspace: string) =>
  database
    .select()
    .from(adEntityNames)
    .where(eq(adEntityNames.workspace, workspace))
    .orderBy(asc(adEntityNames.firstDay))

export async function setLandingPages(
  database: Executor,
  workspace: string,
  network: string,
  pageOf: (campaign: string) => string,
): Promise<void> {
  const ads = (await listEntities(database, workspace)).filter(e => e.network === network && e.level === 'ad')
  await upsertRows(
    database,
    adEntities,
    ads.map(e => ({
      workspace,
      network,
      level: 'ad',
      id: e.id,
      campaign_id: e.campaignId,
      ad_set_id: e.adSetId,
      name: e.name,
      landing_page: pageOf(e.campaignId),
    })),
  )
}

export interface PlanScope {
  network: string
  level: PlanLevel
  /** the campaign, ad set or ad; empty for the account */
  scope: string
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
    .where(eq(tagPlans.workspace, workspace))

export async function savePlan(
  database: Executor,
  workspace: string,
  { network, level, scope }: PlanScope,
  parameters: Record<string, string>,
): Promise<void> {
  await database
    .insert(tagPlans)
    .values({ workspace, network, level, scope, parameters })
    .onConflictDoUpdate({
      target: [tagPlans.workspace, tagPlans.network, tagPlans.level, tagPlans.scope],
      set: { parameters },
    })
}

/** The plan that holds for one ad: each level's own parameters. */
export function planOf(
  plans: readonly StoredPlan[],
  ad: { network: string; id: string; campaignId: string; adSetId: string },
): TagPlan {
  const at = (level: PlanLevel, scope: string) =>
    plans.find(p => p.network === ad.network && p.level === level && p.scope === scope)?.parameters ?? {}
  return {
    account: at('account', ''),
    campaign: at('campaign', ad.campaignId),
    ad_set: at('ad_set', ad.adSetId),
    ad: at('ad', ad.id),
  }
}

export type Route = typeof routes.$inferSelect
export const listRoutes = (database: Executor): Promise<Route[]> => database.select().from(routes)
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
