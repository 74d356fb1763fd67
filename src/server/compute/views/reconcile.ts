import { claimingNetworks } from '@/core/estimate/estimate'
import { type Gap, sumGap, sumGaps } from '@/core/evidence/gap'
import { leadingLeaf } from '@/core/evidence/place'
import { sharedClaims } from '@/core/evidence/sharedClaims'
import { countOf } from '@/core/intake/claimUnits'
import { type Leaf, levels, nameOf } from '@/core/intake/tree'
import { formatDay, inPeriod, type Period } from '@/core/shared/days'
import { pathKey, readPath } from '@/core/shared/path'
import { capturesIn } from '@/core/weigh/captures'
import type { Evidence } from '@/core/weigh/evidence'
import { ratio } from '@/core/weigh/figures'
import { judgeAlone } from '@/core/weigh/judge'
import { inScope, type Scope } from '@/core/weigh/scope'
import { standsOn } from '@/core/weigh/standsOn'
import { fatesOnce, type Question } from './judged'

/** The two sides, the gap, and the same by day, network and campaign. */
export function reconcileView(e: Evidence, { period, scope }: Question) {
  const { data } = e
  // Orders beside claims, of all days: no cost stands here.
  const { fates, totals, networks } = judgeAlone(e, period, 'all')
  const whole = scope.network ? networks.find(row => row.network === scope.network) : totals
  const leafIn = (leaf: number) => inScope(data.tree.leaves[leaf], scope)
  const gap = sumGap(data, fates, leafIn)
  const sections = sectionsAt(e, fates, scope, [1, 2])
  const days = dayLines(e, period, fates, leafIn)
  return {
    currency: e.data.settings.currency,
    gap,
    standsOn: standsOn(e, scope, period),
    sections,
    unplaced: scope.network ? null : sumGap(data, fates, leaf => leaf < 0),
    days,
    /** orders that ads really brought, with their range */
    got: whole ? { orders: whole.sums.estimatedTenths / 10, low: whole.low, high: whole.high } : null,
    shared: sharedView(e, fates),
    captures: capturesIn(e, period)
      .map((capture, n) => ({ ...capture, network: data.tree.networks[n]! }))
      .filter(c => !scope.network || c.network === scope.network),
  }
}
export type ReconcileView = ReturnType<typeof reconcileView>

/** Which networks claim the same orders, by their IDs. */
function sharedView({ data, placements, matches, estimate }: Evidence, fates: Fates) {
  const { pairs, ...sums } = sharedClaims(data, placements, matches, fates, estimate.captures)
  const nameOf = (n: number) => data.tree.networks[n]!
  return {
    ...sums,
    pairs: pairs.map(pair => ({ ...pair, networks: pair.networks.map(nameOf) as [string, string] })),
  }
}

/** The gap of ad sets and ads, as JSON text: there may be ten thousand, and no page waits for them. */
export const reconcileBelowView = (e: Evidence, { period, scope }: Question): string =>
  JSON.stringify(sectionsAt(e, fatesOnce(e, period), scope, [3, 4]))

/** The gap of each part of the tree at some depths: 1 for networks, 2 for campaigns, 3 for ad sets, 4 for ads. */
function sectionsAt({ data }: Evidence, fates: Fates, scope: Scope, depths: readonly number[]): Section[] {
  const { tree } = data
  const pathOf = (leaf: Leaf) => [leaf.network, leaf.campaign, leaf.adSet, leaf.ad]
  const gaps = sumGaps(data, fates, i => {
    const leaf = tree.leaves[i]
    return leaf && inScope(leaf, scope) ? depths.map(depth => pathKey(...pathOf(leaf).slice(0, depth))) : []
  })
  return [...gaps].map(([key, gap]) => {
    const path = readPath(key)
    const [network = '', id = ''] = [path[0], path.at(-1)]
    const level = levels[path.length - 2]
    return { path, name: level && id ? nameOf(tree, network, level, id) : '', gap }
  })
}

/** One network, campaign, ad set or ad with its gap. */
export interface Section {
  /** network, campaign, ad set and ad down to its level */
  path: string[]
  /** empty for networks, and for what nobody broke down */
  name: string
  gap: Gap
}
type Fates = ReturnType<typeof judgeAlone>['fates']

function dayLines(
  { data, placements, estimate }: Evidence,
  period: Period,
  fates: Fates,
  leafIn: (leaf: number) => boolean,
) {
  const byDay = new Map<
    number,
    { orders: number; claims: number; matched: number; tracked: number; both: number; spend: number }
  >()
  const at = (day: number) => {
    let line = byDay.get(day)
    if (!line) byDay.set(day, (line = { orders: 0, claims: 0, matched: 0, tracked: 0, both: 0, spend: 0 }))
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
    if (fates.claims[c] !== null && leafIn(claim.leaf)) at(claim.day).claims += countOf(claim)
  })
  for (const row of data.delivery)
    if (inPeriod(row.day, period) && leafIn(row.leaf)) at(row.day).spend += row.spend
  return [...byDay]
    .filter(([day]) => inPeriod(day, period))
    .sort((a, b) => a[0] - b[0])
    .map(([day, line]) => ({ day: formatDay(day), ...line, capture: ratio(line.both, line.tracked) }))
}
