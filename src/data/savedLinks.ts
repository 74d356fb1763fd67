import { and, desc, eq, max } from 'drizzle-orm'
import { BY_HAND, type SavedLink, savedLinkSchema } from '@/core/links/savedLink'
import type { Executor } from './connect'
import { delivery, savedLinkHistory, savedLinks } from './schema'
import { upsertRows } from './store'
import { readStored } from './stored'

export interface StoredLink {
  code: string
  link: SavedLink
}
export const listSavedLinks = async (database: Executor, workspace: string): Promise<StoredLink[]> =>
  readStored(
    'saved_links',
    savedLinkSchema,
    await database
      .select({ code: savedLinks.code, link: savedLinks.link })
      .from(savedLinks)
      .where(eq(savedLinks.workspace, workspace)),
    row => ({ id: row.code, value: row.link }),
  ).map(({ row, value }) => ({ code: row.code, link: value }))

/** Keeps a saved link; what it was before stays in its history. */
export async function saveLink(
  database: Executor,
  workspace: string,
  { code, link }: StoredLink,
  before: StoredLink | null,
  at: Date,
): Promise<void> {
  if (before) {
    // Two changes may come in the same millisecond; each is kept.
    const [{ last } = { last: null }] = await database
      .select({ last: max(savedLinkHistory.at) })
      .from(savedLinkHistory)
      .where(and(eq(savedLinkHistory.workspace, workspace), eq(savedLinkHistory.code, before.code)))
    const next = new Date(Math.max(at.getTime(), (last?.getTime() ?? 0) + 1))
    await database
      .insert(savedLinkHistory)
      .values({ workspace, code: before.code, at: next, link: before.link })
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
  readStored(
    'saved_link_history',
    savedLinkSchema,
    await database
      .select({ at: savedLinkHistory.at, link: savedLinkHistory.link })
      .from(savedLinkHistory)
      .where(and(eq(savedLinkHistory.workspace, workspace), eq(savedLinkHistory.code, code)))
      .orderBy(desc(savedLinkHistory.at)),
    row => ({ id: `${code} ${row.at.toISOString()}`, value: row.link }),
  ).map(({ row, value }) => ({ at: row.at.getTime(), link: value }))

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
