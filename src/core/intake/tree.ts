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
  /** what the parts of its names say, by `level.part`, once `nameLeaves` has read them */
  parts?: Readonly<Record<string, string>>
}

export type Level = 'campaign' | 'ad_set' | 'ad'
export const levels: readonly Level[] = ['campaign', 'ad_set', 'ad']

export interface AdTree {
  leaves: Leaf[]
  networks: string[]
  /** the network of each leaf, by its number in `networks` */
  networkOf: number[]
  /** every name a thing was seen under, the present one last; key from `nameKey` */
  names: Map<string, string[]>
}

const SEP = '\u001f'
export const nameKey = (network: string, level: Level, id: string) => [network, level, id].join(SEP)

/** The present name of a thing, or its ID where it has none. */
export function nameOf(tree: AdTree, network: string, level: Level, id: string): string {
  return tree.names.get(nameKey(network, level, id))?.at(-1) ?? id
}

/** The leaf's ID at a level, with what stands above it, unique over all networks. */
export function nodeKey(leaf: Leaf, level: Level): string {
  const path =
    level === 'campaign'
      ? [leaf.campaign]
      : level === 'ad_set'
        ? [leaf.campaign, leaf.adSet]
        : [leaf.campaign, leaf.adSet, leaf.ad]
  return [leaf.network, ...path].join(SEP)
}

/** Grows a tree from rows in any order; the first row that names an ad's campaign and ad set settles them. */
export function treeBuilder() {
  const tree: AdTree = { leaves: [], networks: [], networkOf: [], names: new Map() }
  const byAd = new Map<string, Map<string, number>>()
  const byPath = new Map<string, number>()
  const networkIndex = new Map<string, number>()

  const network = (id: string): number => {
    let index = networkIndex.get(id)
    if (index === undefined) {
      index = tree.networks.push(id) - 1
      networkIndex.set(id, index)
    }
    return index
  }
  const leaf = (net: string, campaign: string, adSet: string, ad: string): number => {
    if (ad) {
      const known = byAd.get(net)?.get(ad)
      if (known !== undefined) {
        const at = tree.leaves[known]!
        if (!at.campaign && campaign) Object.assign(at, { campaign, adSet })
        return known
      }
    }
    const path = [net, campaign, adSet, ad].join(SEP)
    let index = byPath.get(path)
    if (index === undefined) {
      index = tree.leaves.push({ network: net, campaign, adSet, ad }) - 1
      tree.networkOf.push(network(net))
      byPath.set(path, index)
      if (ad) {
        const ads = byAd.get(net) ?? new Map<string, number>()
        byAd.set(net, ads.set(ad, index))
      }
    }
    return index
  }
  const see = (net: string, level: Level, id: string, name: string | null) => {
    if (!name || !id) return
    const key = nameKey(net, level, id)
    const names = tree.names.get(key)
    if (!names) tree.names.set(key, [name])
    else if (names.at(-1) !== name) tree.names.set(key, [...names.filter(n => n !== name), name])
  }
  return { tree, network, leaf, see }
}

/** Finds the leaf that an order's parameters name, each by ID or by name, as deep as they are certain. */
export function leafFinder(tree: AdTree) {
  const leavesOf = new Map<string, number[]>()
  const at = (parts: string[]) => parts.map(p => p.toLowerCase()).join(SEP)
  const add = (key: string, leaf: number) => {
    const list = leavesOf.get(key)
    if (!list) leavesOf.set(key, [leaf])
    else if (list.at(-1) !== leaf) list.push(leaf)
  }
  tree.leaves.forEach((leaf, i) => {
    const called = (level: Level, id: string) => [
      id,
      ...(tree.names.get(nameKey(leaf.network, level, id)) ?? []),
    ]
    for (const [level, id] of [
      ['campaign', leaf.campaign],
      ['ad_set', leaf.adSet],
      ['ad', leaf.ad],
    ] as const)
      if (id) for (const name of new Set(called(level, id))) add(at([leaf.network, level, name]), i)
  })
  const networks = new Map(tree.networks.map(n => [n.toLowerCase(), n]))

  return (source: string | null, named: Record<Level, string | null>): Leaf | null => {
    const network = networks.get((source ?? '').toLowerCase())
    if (!network) return null
    let candidates: number[] | null = null
    const found: Leaf = { network, campaign: '', adSet: '', ad: '' }
    for (const level of levels) {
      const name = named[level]
      const list = name ? leavesOf.get(at([network, level, name])) : undefined
      if (!list) continue
      const within: number[] = candidates ? list.filter(i => candidates!.includes(i)) : list
      if (within.length > 0) candidates = within
    }
    if (!candidates) return found
    const same = (pick: (leaf: Leaf) => string) => {
      const first = pick(tree.leaves[candidates[0]!]!)
      return candidates.every(i => pick(tree.leaves[i]!) === first) ? first : ''
    }
    found.campaign = same(l => l.campaign)
    found.adSet = found.campaign ? same(l => l.adSet) : ''
    found.ad = found.campaign ? same(l => l.ad) : ''
    return found
  }
}
