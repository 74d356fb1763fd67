import { type Change, inOrder, type KeptRecords, withChange } from '@/core/intake/change'
import type { ClickFacts, NamedClicks } from '@/core/intake/clicks'
import { namedClicks } from '@/core/intake/orderParameters'
import type { Settings } from '@/core/intake/settings'
import type { Database } from '@/data/connect'
import {
  findNews,
  loadClaimRowsAfter,
  loadClaims,
  loadClickAds,
  loadClicksAfter,
  loadDelivery,
  loadNamedClicks,
  loadOrdersAfter,
  loadRecords,
  loadRules,
  loadToldAfter,
} from '@/data/loadRecords'
import { findWorkspace, type Part, type Workspace } from '@/data/workspace'

/** The records of a workspace as of one version, and what of clicks they can name. */
export interface Loaded {
  version: number
  records: KeptRecords
  settings: Settings
  named: { clickIds: Set<string>; networkClickIds: Set<string>; visitors: Set<string> }
}

/** Reads a workspace as a whole. */
export async function loadAll(database: Database, id: string): Promise<Loaded> {
  const { version, settings } = await workspaceOf(database, id)
  const records = await loadRecords(database, id)
  const named = namedBy({ ...records, clicks: [] })
  const clicks = await loadNamedClicks(database, id, named)
  addVisitors(named, clicks)
  const clickAds = inOrder('clickAds', await loadClickAds(database, id))
  return {
    version,
    settings,
    named,
    records: { ...records, clicks: inOrder('clicks', clicks), clickAds },
  }
}

export async function workspaceOf(database: Database, id: string): Promise<Workspace> {
  const workspace = await findWorkspace(database, id)
  if (!workspace) throw new Error(`No workspace "${id}".`)
  return workspace
}

/** What of clicks records name: by IDs, and by the visitors of those that are there. */
export function namedBy({
  orders,
  told,
  clicks,
}: Pick<KeptRecords, 'orders' | 'told' | 'clicks'>): Loaded['named'] {
  const { clickIds, networkClickIds, visitors } = namedClicks(orders, told)
  const named = {
    clickIds: new Set(clickIds),
    networkClickIds: new Set(networkClickIds),
    visitors: new Set(visitors),
  }
  addVisitors(named, clicks)
  return named
}
const addVisitors = (named: Loaded['named'], clicks: readonly ClickFacts[]) => {
  for (const { visitor_id } of clicks) if (visitor_id !== null) named.visitors.add(visitor_id)
}

/** What is as it was at an earlier version, with what came since. */
export async function loadOn(database: Database, id: string, before: Loaded): Promise<Loaded> {
  const news = await findNews(database, id, before.version)
  if (!news) throw new Error(`No workspace "${id}".`)
  if (news.version === before.version) return before
  // Rows that were removed bear no later revision.
  if (news.parts.includes('everything')) return loadAll(database, id)
  const { version, named } = before
  const arrived = {
    orders: news.orders ? await loadOrdersAfter(database, id, version) : [],
    claimRows: news.claimRows ? await loadClaimRowsAfter(database, id, version) : [],
    told: news.told ? await loadToldAfter(database, id, version) : [],
  }
  const more = namedAnew(named, namedClicks(arrived.orders, arrived.told))
  const came = news.clicks ? await loadClicksAfter(database, id, version) : []
  const own = came.filter(
    click =>
      named.clickIds.has(click.click_id) ||
      (click.network_click_id !== null && named.networkClickIds.has(click.network_click_id)) ||
      (click.visitor_id !== null && named.visitors.has(click.visitor_id)),
  )
  // Somebody who is known by a new click may have clicked before.
  for (const { visitor_id } of own)
    if (visitor_id !== null && !named.visitors.has(visitor_id)) more.visitors.add(visitor_id)
  const clicks = [...own, ...(await loadNamedClicks(database, id, more))]
  for (const part of ['clickIds', 'networkClickIds', 'visitors'] as const)
    for (const value of more[part]) named[part].add(value)
  addVisitors(named, clicks)
  const ads = new Set(before.records.clickAds.map(keyOfAd))
  const clickAds = came.map(adOf).filter(ad => !ads.has(keyOfAd(ad)))
  const updated: Change['updated'] = { ...arrived, clicks, clickAds }
  const records = withChange(before.records, { added: {}, updated, removed: {} })
  const isNew = (part: Part) => news.parts.includes(part)
  if (isNew('delivery')) records.delivery = inOrder('delivery', await loadDelivery(database, id))
  if (isNew('claims')) records.claims = inOrder('claims', await loadClaims(database, id))
  if (isNew('rules')) Object.assign(records, await loadRules(database, id))
  const settings = isNew('rules') ? (await workspaceOf(database, id)).settings : before.settings
  return { version: news.version, named, records, settings }
}

const adOf = ({ network, campaign_id, ad_set_id, ad_id }: ClickFacts) => ({
  network,
  campaign: campaign_id ?? '',
  adSet: ad_set_id ?? '',
  ad: ad_id ?? '',
})
const keyOfAd = ({ network, campaign, adSet, ad }: ReturnType<typeof adOf>) =>
  JSON.stringify([network, campaign, adSet, ad])

/** What is named for the first time. */
function namedAnew(known: Loaded['named'], named: NamedClicks): Loaded['named'] {
  const anew = (part: keyof NamedClicks) => new Set([...named[part]].filter(value => !known[part].has(value)))
  return {
    clickIds: anew('clickIds'),
    networkClickIds: anew('networkClickIds'),
    visitors: anew('visitors'),
  }
}
