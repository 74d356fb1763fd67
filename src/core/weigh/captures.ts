import { claimingNetworks } from '../estimate/estimate'
import { leadingLeaf } from '../evidence/place'
import { inPeriod, type Period } from '../shared/days'
import type { Evidence } from './evidence'
import { ratio } from './figures'

/** What each of two witnesses saw of a network's orders in a period. */
export interface CaptureOf {
  /** of the orders that we tracked to the network, the share that it reported; null where it claims nothing or there is none */
  networkCapture: number | null
  /** of the orders that are the network's by its own claims, the share that we tracked to it; null where there is none */
  ownCapture: number | null
}

/** Orders that count and that our evidence credits to a network first, of some days. */
export const trackedTo = ({ data, placements }: Evidence, network: number, period: Period): number[] =>
  data.orders.flatMap(({ counts, day }, order) => {
    if (!counts || !inPeriod(day, period)) return []
    const leaf = leadingLeaf(placements[order]!)
    return leaf >= 0 && data.tree.networkOf[leaf] === network ? [order] : []
  })

/**
 * Capture rates of a period, one meaning wherever they stand: in Weigh, History, Reconcile and on the client's page.
 * Shares of counted orders, so that none exceeds one.
 *
 * @returns by the network's number
 */
export function capturesIn({ data, placements, estimate }: Evidence, period: Period): CaptureOf[] {
  const sums = data.tree.networks.map(() => ({ tracked: 0, both: 0, only: 0 }))
  data.orders.forEach(({ counts, day }, o) => {
    if (!counts || !inPeriod(day, period)) return
    const own = sums[data.tree.networkOf[leadingLeaf(placements[o]!)] ?? -1]
    if (!own) return
    own.tracked += 1
    own.both += estimate.claimedPart[o]!
  })
  for (const { order, leaf, seen, certain } of estimate.shares)
    if (!certain && inPeriod(data.orders[order]!.day, period)) sums[data.tree.networkOf[leaf]!]!.only += seen
  const claiming = claimingNetworks(data)
  return sums.map(({ tracked, both, only }, n) => ({
    networkCapture: claiming.has(n) ? ratio(both, tracked) : null,
    ownCapture: ratio(both, both + only),
  }))
}
