import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import { type Partner, partnerSchema } from '@/core/intake/postback'
import type { Secret } from '@/core/intake/routing'
import type { Executor } from './connect'
import { partners, setAside, sites } from './schema'
import { insertRows } from './store'

export interface StoredPartner {
  code: string
  partner: Partner
  secret: Secret | null
}

export async function listPartners(database: Executor, workspace?: string) {
  const rows = await database
    .select()
    .from(partners)
    .where(workspace === undefined ? undefined : eq(partners.workspace, workspace))
    .orderBy(asc(partners.id))
  return rows.map(row => ({ ...row, partner: partnerSchema.parse(row.partner) }))
}

export async function savePartner(
  database: Executor,
  workspace: string,
  { code, partner, secret }: StoredPartner,
): Promise<void> {
  await database
    .insert(partners)
    .values({ workspace, id: partner.id, code, partner, secret })
    .onConflictDoUpdate({ target: [partners.workspace, partners.id], set: { partner, secret } })
}

/** The key of the workspace's sites, which stands in the tag. */
export async function siteKey(database: Executor, workspace: string, mint: () => string): Promise<string> {
  const [known] = await database.select().from(sites).where(eq(sites.workspace, workspace))
  if (known) return known.key
  const key = mint()
  await database.insert(sites).values({ key, workspace })
  return key
}
export const listSites = (database: Executor) => database.select().from(sites)

export interface SetAside {
  id: string
  kind: 'postback' | 'order' | 'line'
  at: Date
  reason: string
  facts: Record<string, string>
  raw: string
}

export const keepAside = (database: Executor, workspace: string, items: readonly SetAside[]) =>
  insertRows(database, setAside, items, item => ({ workspace, ...item, at: item.at.toISOString() }))

export const listSetAside = (database: Executor, workspace: string, most: number) =>
  database
    .select()
    .from(setAside)
    .where(and(eq(setAside.workspace, workspace), isNull(setAside.settled)))
    .orderBy(sql`${setAside.at} desc`)
    .limit(most)

export async function settle(
  database: Executor,
  workspace: string,
  id: string,
  settled: 'taken' | 'dropped' | null,
): Promise<void> {
  await database
    .update(setAside)
    .set({ settled })
    .where(and(eq(setAside.workspace, workspace), eq(setAside.id, id)))
}
