import { countOf } from '../intake/claimUnits'
import type { Dataset } from '../intake/dataset'
import { type NetworkRules, networkRules } from '../intake/settings'
import { DAY_MS, inPeriod, type Period, zoneClock } from '../shared/days'
import type { Placement } from './place'

/** The longest window that a network is asked about. */
export const MOST_WINDOW = 90

/** What a network should have claimed by a rule of its own, from the clicks that we saw. */
export interface OwnRuleCounts {
  network: string
  rules: NetworkRules
  /** orders of the period that our credit rule gives it, in millionths */
  credited: number
  /**
   * Orders that follow a click of it, however many networks' clicks they follow: by the shortest window, in days,
   * in which they do (0 for those that only parameters tell of). Those of the period by the order's own day, and
   * those of it by the day that the network goes by.
   */
  byOrderDay: number[]
  byItsDay: number[]
  /** what it claims in the period */
  clickClaims: number
  viewClaims: number
}

/** Counts what each network should have claimed of a period by its own rule, beside what it claims. */
export function countByOwnRules(
  data: Dataset,
  placements: readonly Placement[],
  period: Period,
): OwnRuleCounts[] {
  const { tree, clicks, orders, claims, settings } = data
  const counts = tree.networks.map((network): OwnRuleCounts => {
    const days = () => Array.from({ length: MOST_WINDOW + 1 }, () => 0)
    return {
      network,
      rules: networkRules(settings, network),
      credited: 0,
      byOrderDay: days(),
      byItsDay: days(),
      clickClaims: 0,
      viewClaims: 0,
    }
  })
  const clocks = counts.map(({ rules }) => zoneClock(rules.time_zone ?? settings.time_zone))
  orders.forEach((order, o) => {
    if (!order.counts) return
    const { credits, touches, older } = placements[o]!
    for (const { leaf, share } of credits)
      if (inPeriod(order.day, period)) counts[tree.networkOf[leaf]!]!.credited += share
    // The latest click of each network decides: the shortest window that holds one, and the day it is dated by.
    const last = new Map<number, number | null>()
    for (const credit of credits) if (credit.click < 0) last.set(tree.networkOf[credit.leaf]!, null)
    for (const click of older >= 0 ? [older, ...touches] : touches)
      last.set(tree.networkOf[clicks.leaf[click]!]!, clicks.at[click]!)
    for (const [n, at] of last) {
      const { rules, byOrderDay, byItsDay } = counts[n]!
      const window = at === null ? 0 : Math.floor((order.ordered_at - at) / DAY_MS) + 1
      if (window > MOST_WINDOW) continue
      const itsDay = clocks[n]!(at !== null && rules.dated_by === 'click' ? at : order.ordered_at).day
      if (inPeriod(order.day, period)) byOrderDay[window]! += 1
      if (inPeriod(itsDay, period)) byItsDay[window]! += 1
    }
  })
  for (const claim of claims)
    if (inPeriod(claim.day, period)) counts[claim.network]![`${claim.kind}Claims`] += countOf(claim)
  return counts
}

/** How many orders follow a click within some days. */
export const within = (counts: readonly number[], window: number): number =>
  counts.reduce((sum, count, days) => (days <= window ? sum + count : sum), 0)
