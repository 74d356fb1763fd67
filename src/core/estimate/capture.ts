import type { Match } from '../evidence/match'
import { leadingLeaf, type Placement } from '../evidence/place'
import type { Dataset } from '../intake/dataset'

/** Who witnessed an order: the leaf our evidence credits (or -1), and the leaves of the networks that claim it. */
export interface Witnessed {
  order: number
  tracked: number
  /** leaf of each network's valid click claim, one a network */
  claimed: number[]
}

/** The orders that count, each with all its witnesses. Claims by view are no witness of a click. */
export function witnesses(
  data: Dataset,
  placements: readonly Placement[],
  matches: readonly Match[],
): Witnessed[] {
  const claimed = new Map<number, Map<number, number>>()
  data.claims.forEach((claim, c) => {
    const { order } = matches[c]!
    if (order < 0 || claim.kind !== 'click') return
    const byNetwork = claimed.get(order) ?? new Map<number, number>()
    if (!byNetwork.has(claim.network)) byNetwork.set(claim.network, claim.leaf)
    claimed.set(order, byNetwork)
  })
  return data.orders.flatMap((order, o) =>
    order.counts
      ? [{ order: o, tracked: leadingLeaf(placements[o]!), claimed: [...(claimed.get(o)?.values() ?? [])] }]
      : [],
  )
}

/**
 * Shrinks the shares of groups toward a common share by the groups' own spread: a beta prior whose
 * weight is found by the method of moments (Kleinman 1973). `trials` may be fractional.
 *
 * @returns for each group its share and the variance of that share
 */
export function shrinkShares(
  groups: readonly { hits: number; trials: number }[],
  common: number,
): { share: number; variance: number }[] {
  const used = groups.filter(g => g.trials > 0)
  const total = used.reduce((sum, g) => sum + g.trials, 0)
  const base = Math.min(0.999, Math.max(0.001, common))
  const spread = used.reduce((sum, g) => sum + g.trials * (g.hits / g.trials - base) ** 2, 0)
  const scale = total - used.reduce((sum, g) => sum + g.trials ** 2, 0) / Math.max(total, 1)
  const between = Math.max(0, (spread - (used.length - 1) * base * (1 - base)) / Math.max(scale, 1))
  const weight = between > 0 ? Math.max(4, (base * (1 - base)) / between - 1) : 1e4
  return groups.map(({ hits, trials }) => {
    const share = (hits + weight * base) / (trials + weight)
    return { share, variance: (share * (1 - share)) / (trials + weight + 1) }
  })
}
