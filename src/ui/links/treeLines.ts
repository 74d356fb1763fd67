import { levelsOf, type NetworkProfile } from '@/core/links/profile'
import type { StationAd } from './station'

export const adKey = (ad: Pick<StationAd, 'network' | 'id'>): string => `${ad.network}/${ad.id}`
export const campaignKey = (ad: Pick<StationAd, 'network' | 'campaignId'>): string =>
  `${ad.network}/campaign/${ad.campaignId}`
const adSetKey = (ad: Pick<StationAd, 'network' | 'adSetId'>): string => `${ad.network}/ad_set/${ad.adSetId}`

const kinds = ['network', 'campaign', 'ad_set'] as const
interface Heading {
  kind: (typeof kinds)[number]
  key: string
  text: string
  folded: boolean
  /** the ads below it, as places in the list */
  from: number
  to: number
}
export type TreeLine = Heading | { kind: 'ad'; key: string; text: string; ad: StationAd }

/**
 * Networks, campaigns, ad sets and ads as one list of lines: each heading once, with the ads below it, and
 * none for a level that its network lacks. What is folded shows its heading alone.
 *
 * @param ads in the order of the tree
 */
export function linesOf(
  ads: readonly StationAd[],
  nameOf: (key: string) => string,
  profiles: readonly NetworkProfile[],
  folded: ReadonlySet<string>,
): TreeLine[] {
  const profileOf = new Map(profiles.map(p => [p.id, { name: p.name, levels: levelsOf(p) }]))
  const lines: TreeLine[] = []
  const open: Partial<Record<Heading['kind'], Heading>> = {}
  let hidden = false
  const heading = (kind: Heading['kind'], key: string, text: string, at: number) => {
    if (open[kind]?.key !== key) {
      const line = { kind, key, text, folded: folded.has(key), from: at, to: at }
      open[kind] = line
      // An ad set without an ID is another one below another campaign.
      for (const below of kinds.slice(kinds.indexOf(kind) + 1)) delete open[below]
      if (!hidden) lines.push(line)
    }
    const line = open[kind]!
    line.to = at + 1
    hidden ||= line.folded
  }
  ads.forEach((ad, i) => {
    const { name = ad.network, levels = [] } = profileOf.get(ad.network) ?? {}
    hidden = false
    heading('network', ad.network, name, i)
    if (levels.includes('campaign'))
      heading('campaign', campaignKey(ad), nameOf(campaignKey(ad)) || ad.campaignId, i)
    if (levels.includes('ad_set')) heading('ad_set', adSetKey(ad), nameOf(adSetKey(ad)) || ad.adSetId, i)
    if (!hidden) lines.push({ kind: 'ad', key: adKey(ad), text: ad.name, ad })
  })
  return lines
}
