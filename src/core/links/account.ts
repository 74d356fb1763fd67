import { append } from '../shared/append'
import { pathKey } from '../shared/path'
import { scopeKey } from './change'
import type { LinkFinding } from './finding'
import { type NamedEntity, nameFindings } from './names'
import type { NetworkProfile } from './profile'
import type { PlannedAd } from './survey'

/** A campaign, ad set or ad as it is sent to the browser: ten thousand of them are read at once. */
export type EntityRow = [
  network: string,
  level: 'campaign' | 'ad_set' | 'ad',
  id: string,
  campaignId: string,
  adSetId: string,
  name: string,
  landingPage: string | null,
  straight: boolean,
  placed: string | null,
]

export const entityKey = (network: string, level: string, id: string): string => `${network}/${level}/${id}`

/** Names that entities had before, oldest first, by `network/level/id`. */
export type FormerNames = Readonly<Record<string, readonly string[]>>

export interface Account {
  /** by network, then by the names of campaign, ad set and ad; the same name by ID */
  ads: PlannedAd[]
  /** present names of campaigns and ad sets, by `network/level/id` */
  names: Record<string, string>
}

/** Campaigns, ad sets and ads in the order of the tree. */
export function readAccount(rows: readonly EntityRow[]): Account {
  const names: Record<string, string> = {}
  const ads: PlannedAd[] = []
  for (const [network, level, id, campaignId, adSetId, name, landingPage, straight, placed] of rows)
    if (level === 'ad') ads.push({ network, id, name, campaignId, adSetId, landingPage, straight, placed })
    else names[entityKey(network, level, id)] = name
  return { ads: inTreeOrder(ads, names), names }
}

/** Keys by which `Kits 2` stands before `Kits 10`, whatever the case: by the first part, then by the next. */
const sortable = (...parts: string[]) =>
  parts.map(text => text.toLowerCase().replace(/\d+/g, digits => digits.padStart(10, '0')))

interface Keyed {
  key: readonly string[]
}
function byKey({ key: a }: Keyed, { key: b }: Keyed): number {
  const i = a.findIndex((part, k) => part !== b[k])
  return i < 0 ? 0 : a[i]! < b[i]! ? -1 : 1
}

/** Ad sets in order, and in each its ads: far fewer comparisons than of all ads by their whole path. */
function inTreeOrder(ads: readonly PlannedAd[], names: Readonly<Record<string, string>>): PlannedAd[] {
  const sets = new Map<string, Keyed & { ads: (Keyed & { ad: PlannedAd })[] }>()
  for (const ad of ads) {
    const { network, campaignId, adSetId } = ad
    const path = pathKey(network, campaignId, adSetId)
    let set = sets.get(path)
    if (!set) {
      const campaign = names[entityKey(network, 'campaign', campaignId)] ?? ''
      const adSet = names[entityKey(network, 'ad_set', adSetId)] ?? ''
      sets.set(path, (set = { key: sortable(network, campaign, campaignId, adSet, adSetId), ads: [] }))
    }
    set.ads.push({ key: sortable(ad.name, ad.id), ad })
  }
  return [...sets.values()].sort(byKey).flatMap(set => set.ads.sort(byKey).map(({ ad }) => ad))
}

/** Findings about names by the scope that has the name; names are compared within their network. */
export function findingsOfNames(
  rows: readonly EntityRow[],
  former: FormerNames,
  profiles: readonly NetworkProfile[],
): Map<string, LinkFinding[]> {
  const entities = new Map<string, NamedEntity[]>()
  for (const [network, level, id, campaignId, adSetId, name] of rows) {
    const before = former[entityKey(network, level, id)]
    const parentId = level === 'campaign' ? null : level === 'ad_set' ? campaignId : adSetId
    append(entities, network, { level, id, names: before ? [...before, name] : [name], parentId })
  }
  const found = new Map<string, LinkFinding[]>()
  for (const [network, own] of entities)
    for (const finding of nameFindings(
      own,
      profiles.find(p => p.id === network),
    )) {
      if (finding.at.part !== 'name') continue
      const ids = finding.code === 'duplicate_name' ? finding.ids : [finding.at.id]
      for (const scope of ids) append(found, scopeKey({ network, level: finding.at.level, scope }), finding)
    }
  return found
}
