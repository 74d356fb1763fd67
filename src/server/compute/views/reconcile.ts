import { claimingNetworks } from '@/core/estimate/estimate'
import { sumGap, sumGaps } from '@/core/evidence/gap'
import { leadingLeaf } from '@/core/evidence/place'
import { nameOf } from '@/core/intake/tree'
import { formatDay, inPeriod, type Period } from '@/core/shared/days'
import { pathKey, readPath } from '@/core/shared/path'
import type { Evidence } from '@/core/weigh/evidence'
import { ratio } from '@/core/weigh/figures'
import type { judge } from '@/core/weigh/judge'
import { inScope } from '@/core/weigh/scope'
import { judgeOnce, type Question } from './judged'

/** The two sides, the gap, and the same by day, network and campaign. */
export function reconcileView(e: Evidence, { period, scope }: Question) {
  const { data, estimate } = e
  const { fates } = judgeOnce(e, period)
  const leafIn = (leaf: number) => inScope(data.tree.leaves[leaf], scope)
  const gap = sumGap(data, fates, leafIn)
  const gaps = sumGaps(data, fates, i => {
    const leaf = data.tree.leaves[i]
    return leaf && leafIn(i) ? [pathKey(leaf.network), pathKey(leaf.network, leaf.campaign)] : []
  })
  const sections = [...gaps].map(([key, gap]) => {
    const [network, campaign] = readPath(key) as [string, string?]
    return {
      network,
      campaign: campaign ?? null,
      name:
        campaign === undefined ? network : campaign ? nameOf(data.tree, network, 'campaign', campaign) : '',
      gap,
    }
  })
  const days = dayLines(e, period, fates, leafIn)
  return {
    currency: e.data.settings.currency,
    gap,
    sections,
    unplaced: scope.network ? null : sumGap(data, fates, leaf => leaf < 0),
    days,
    captures: estimate.captures
      .map(c => ({ ...c, network: data.tree.networks[c.network]! }))
      .filter(c => !scope.network || c.network === scope.network),
  }
}
export type ReconcileView = ReturnType<typeof reconcileView>

function dayLines(
  { data, placements, estimate }: Evidence,
  period: Period,
  fates: ReturnType<typeof judge>['fates'],
  leafIn: (leaf: number) => boolean,
) {
  const byDay = new Map<
    number,
    { orders: number; claims: number; matched: number; tracked: number; both: number }
  >()
  const at = (day: number) => {
    let line = byDay.get(day)
    if (!line) byDay.set(day, (line = { orders: 0, claims: 0, matched: 0, tracked: 0, both: 0 }))
    return line
  }
  const claiming = claimingNetworks(data)
  data.orders.forEach((order, o) => {
    if (fates.orders[o] === null) return
    const line = at(order.day)
    if (leafIn(fates.leafOf[o]!)) {
      line.orders += 1
      if (fates.orders[o] === 'matched') line.matched += 1
    }
    const origin = leadingLeaf(placements[o]!)
    if (origin < 0 || !leafIn(origin) || !claiming.has(data.tree.networkOf[origin]!)) return
    line.tracked += 1
    line.both += estimate.claimedPart[o]!
  })
  data.claims.forEach((claim, c) => {
    if (fates.claims[c] !== null && leafIn(claim.leaf)) at(claim.day).claims += 1
  })
  return [...byDay]
    .filter(([day]) => inPeriod(day, period))
    .sort((a, b) => a[0] - b[0])
    .map(([day, line]) => ({ day: formatDay(day), ...line, capture: ratio(line.both, line.tracked) }))
}
