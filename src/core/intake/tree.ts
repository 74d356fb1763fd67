import { pathKey, perPath } from '../shared/path'

/**
 * The campaigns, ad sets and ads of all networks as numbered leaves. A leaf is one ad, or the part of a
 * campaign (or network) that nobody broke down further: then the lower IDs are empty. Sums over the
 * leaves of any level are therefore the whole.
 */
export interface Leaf {
  network: string
  campaign: string
  adSet: string
  ad: string
  /** what the parts of its names say, by `level.part`; missing where names were not read (`readNames`) */
  parts?: Readonly<Record<string, string>>
}

export type Level = 'campaign' | 'ad_set' | 'ad'
export const levels: readonly Level[] = ['campaign', 'ad_set', 'ad']

export interface AdTree {
  leaves: Leaf[]
  networks: string[]
  /** the network of each leaf, by its number in `networks` */
  networkOf: number[]
  /** per leaf the numbers of its parts, itself first, where leaves are parted by a segment (`bySegment`) */
  partsOf?: number[][]
  /** every name an entity was seen under, the present one last; key from `nameKey` */
  names: Map<string, string[]>
}

export const nameKey = (network: string, level: Level, id: string) => pathKey(network, level, id)

/** The present name of an entity, or its ID where it has none. */
export function nameOf(tree: AdTree, network: string, level: Level, id: string): string {
  return tree.names.get(nameKey(network, level, id))?.at(-1) ?? id
}

/** What a leaf belongs to at a level: its network, then the IDs down to that level. */
export function pathAt(leaf: Leaf, level: Level): string[] {
  const ids = [leaf.campaign, leaf.adSet, leaf.ad]
  return [leaf.network, ...ids.slice(0, levels.indexOf(level) + 1)]
}

/** Finds the number of an ad's leaf, or of a part that is one; -1 where there is none. */
export function leafNumbers({ leaves }: AdTree) {
  const byPath = new Map<string, number>()
  const byAd = new Map<string, number>()
  // Parts of a leaf stand behind it, under the same path.
  for (let i = leaves.length - 1; i >= 0; i--) {
    const { network, campaign, adSet, ad } = leaves[i]!
    byPath.set(pathKey(network, campaign, adSet, ad), i)
    if (ad) byAd.set(pathKey(network, ad), i)
  }
  return ({ network, campaign, adSet, ad }: Omit<Leaf, 'parts'>): number =>
    (ad ? byAd.get(pathKey(network, ad)) : undefined) ??
    byPath.get(pathKey(network, campaign, adSet, ad)) ??
    -1
}

/** Grows a tree from rows in any order; the first row that names an ad's campaign and ad set settles them. */
export function treeBuilder() {
  const tree: AdTree = { leaves: [], networks: [], networkOf: [], names: new Map() }
  const byAd = new Map<string, Map<string, number>>()
  const byPath = new Map<string, number>()
  const networkIndex = new Map<string, number>()
  const keyOf = perPath((net, level, id) => nameKey(net!, level as Level, id!))

  const network = (id: string): number => {
    let index = networkIndex.get(id)
    if (index === undefined) {
      index = tree.networks.push(id) - 1
      networkIndex.set(id, index)
    }
    return index
  }
  /** The leaf of an ad or part that has one. */
  const known = (net: string, campaign: string, adSet: string, ad: string): number | undefined =>
    (ad ? byAd.get(net)?.get(ad) : undefined) ?? byPath.get(pathKey(net, campaign, adSet, ad))
  const leaf = (net: string, campaign: string, adSet: string, ad: string): number => {
    let index = known(net, campaign, adSet, ad)
    if (index === undefined) {
      index = tree.leaves.push({ network: net, campaign, adSet, ad }) - 1
      tree.networkOf.push(network(net))
      byPath.set(pathKey(net, campaign, adSet, ad), index)
      if (ad) {
        const ads = byAd.get(net) ?? new Map<string, number>()
        byAd.set(net, ads.set(ad, index))
      }
    } else {
      const at = tree.leaves[index]!
      if (!at.campaign && campaign) Object.assign(at, { campaign, adSet })
    }
    return index
  }
  const see = (net: string, level: Level, id: string, name: string | null) => {
    if (!name || !id) return
    const key = keyOf(net, level, id)
    const names = tree.names.get(key)
    if (!names) tree.names.set(key, [name])
    else if (names.at(-1) !== name) tree.names.set(key, [...names.filter(n => n !== name), name])
  }
  return { tree, network, leaf, known, see }
}
