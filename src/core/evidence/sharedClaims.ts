import type { Dataset } from '../intake/dataset'
import type { Reconciliation } from './gap'
import type { Match } from './match'
import type { Placement } from './place'

/** Orders that two networks claim; not whole where that is estimated. */
export interface SharedPair {
  networks: [first: number, second: number]
  orders: number
  /** what they are worth, in minor units; not whole where it is estimated */
  value: number
  /** 80 % interval where one of them only sums its claims by day, and it is estimated; null where it is counted */
  range: { low: number; high: number } | null
}

/** How much of its orders each network claims, and how much of them we see: null where nothing is known. */
export interface Seen {
  network: number
  networkCapture: number | null
  ownCapture: number | null
}

/** Which networks claim the same orders of a period by click. */
export interface SharedClaims {
  pairs: SharedPair[]
  /** orders that any network claims, and how many claims are made for them */
  claimed: number
  claims: number
}

/**
 * Which orders of a period several networks claim by click, each pair of networks counted once for an order. A day's sum does
 * not say which orders it is of: of a network that gives no more it is estimated from orders that follow clicks of
 * both, by how much of such orders each claims, and how much of them we see.
 */
export function sharedClaims(
  data: Dataset,
  placements: readonly Placement[],
  matches: readonly Match[],
  fates: Reconciliation,
  captures: readonly Seen[],
): SharedClaims {
  const claimants = new Map<number, Set<number>>()
  const lists = new Set<number>()
  let claims = 0
  data.claims.forEach(({ at, network, kind }, c) => {
    if (at !== null) lists.add(network)
    const { order } = matches[c]!
    if (order < 0 || kind !== 'click' || fates.orders[order] == null || fates.claims[c] == null) return
    claims += 1
    claimants.set(order, (claimants.get(order) ?? new Set()).add(network))
  })
  const sums = new Set(data.claims.flatMap(({ network }) => (lists.has(network) ? [] : network)))
  const pairs = new Map<string, SharedPair>()
  const add = (networks: readonly [number, number], orders: number, value: number) => {
    const key = networks.join(' ')
    const pair = pairs.get(key) ?? { networks: [...networks], orders: 0, value: 0, range: null }
    pair.orders += orders
    pair.value += orders * value
    pairs.set(key, pair)
  }
  for (const [order, own] of claimants) {
    const listing = [...own].filter(network => lists.has(network))
    for (const pair of pairsOf(listing)) add(pair, 1, data.orders[order]!.value)
  }
  const seen = new Map(captures.map(capture => [capture.network, capture]))
  placements.forEach(({ touches, credits }, o) => {
    if (fates.orders[o] === null) return
    const leaves = [...touches.map(click => data.clicks.leaf[click]!), ...credits.map(credit => credit.leaf)]
    for (const pair of pairsOf(leaves.map(leaf => data.tree.networkOf[leaf]!))) {
      if (!pair.some(network => sums.has(network))) continue
      const [first, second] = pair.map(network => seen.get(network))
      const ours = ((first?.ownCapture ?? 0) + (second?.ownCapture ?? 0)) / 2
      if (first?.networkCapture && second?.networkCapture && ours > 0)
        add(pair, (first.networkCapture * second.networkCapture) / ours, data.orders[o]!.value)
    }
  })
  for (const pair of pairs.values()) {
    if (!pair.networks.some(network => sums.has(network))) continue
    const reach = TENTH * Math.sqrt(pair.orders)
    pair.range = { low: Math.max(0, pair.orders - reach), high: pair.orders + reach }
  }
  return { pairs: [...pairs.values()], claimed: claimants.size, claims }
}
const TENTH = 1.2816

/** Each two of some networks, once. */
function pairsOf(networks: readonly number[]): [number, number][] {
  const own = [...new Set(networks)].sort((a, b) => a - b)
  return own.flatMap((first, i) => own.slice(i + 1).map((second): [number, number] => [first, second]))
}
