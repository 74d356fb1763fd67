import { noSpread, type Spread } from '../estimate/estimate'
import { CONVERSION, partsOf } from '../intake/claimUnits'
import type { AdTree } from '../intake/tree'
import { inPeriod, type Period } from '../shared/days'
import { split } from '../shared/money'
import { billedPeriods } from './billed'
import { valueParts } from './credits'
import type { Evidence } from './evidence'
import { noSums, type Sums } from './figures'
import { leavesIn } from './leavesIn'

/** Sums and spreads of each leaf in a period, by the leaf's number. */
export interface LeafSums {
  sums: Sums[]
  spreads: Spread[]
  /** sums of the squares of what estimated results are worth */
  squares: Float64Array
  /** what estimated results leave for ads and profit, in parts of minor units, and the sums of its squares */
  leaves: Float64Array
  leavesSquares: Float64Array
}

/** Whether days count of which a network has not told yet what it spent: nothing costs less for that. */
export type Days = 'all' | 'billed'

export function sumLeaves(
  { data, placements, estimate }: Evidence,
  period: Period,
  days: Days = 'all',
): LeafSums {
  const own = days === 'billed' ? billedPeriods(data, period) : () => period
  const left = leavesIn(data)
  const sums = data.tree.leaves.map(noSums)
  const spreads = data.tree.leaves.map(noSpread)
  for (const row of data.delivery) {
    if (!inPeriod(row.day, period)) continue
    const sum = sums[row.leaf]!
    sum.spend += row.spend
    if (row.assumed) sum.assumedSpend += row.spend
    sum.impressions += row.impressions
    sum.clicks += row.clicks
    if (row.reach === null) continue
    sum.reach += row.reach
    sum.reachedImpressions += row.impressions
  }
  for (const claim of data.claims) {
    for (const { leaf, thousandths, value } of partsOf(claim)) {
      if (!inPeriod(claim.day, own(leaf))) continue
      const count = thousandths / CONVERSION
      sums[leaf]!.claimed += count
      if (claim.kind === 'view') sums[leaf]!.claimedByView += count
      sums[leaf]!.claimedValue += value
    }
  }
  const expected = new Float64Array(sums.length)
  const value = new Float64Array(sums.length)
  const squares = new Float64Array(sums.length)
  const leaves = new Float64Array(sums.length)
  const leavesSquares = new Float64Array(sums.length)
  for (const share of estimate.shares) {
    const order = data.orders[share.order]!
    if (!inPeriod(order.day, own(share.leaf))) continue
    const spread = spreads[share.leaf]!
    const part = share.seen + share.unseen
    expected[share.leaf]! += part
    value[share.leaf]! += part * order.value
    squares[share.leaf]! += part * order.value ** 2
    const leave = left(order, share.leaf)
    leaves[share.leaf]! += part * leave
    leavesSquares[share.leaf]! += part * leave ** 2
    spread[share.certain ? 'certain' : 'claimed'] += share.seen
    spread.unseen += share.unseen
    spread.variance += share.variance
  }
  data.orders.forEach((order, o) => {
    if (!order.counts || !inPeriod(order.day, period)) return
    const placement = placements[o]!
    const parts = valueParts(order.value, placement.credits)
    placement.credits.forEach((credit, i) => {
      if (!inPeriod(order.day, own(credit.leaf))) return
      const sum = sums[credit.leaf]!
      sum.trackedValue += parts[i]!
      sum[placement.grade === 'proven' ? 'provenCredit' : 'taggedCredit'] += credit.share
    })
  })
  const tenths = wholeByLeaf(
    data.tree,
    expected.map(orders => orders * 10),
  )
  const worth = wholeByLeaf(data.tree, value)
  sums.forEach((sum, leaf) => {
    sum.estimatedTenths = tenths[leaf]!
    sum.estimatedValue = worth[leaf]!
  })
  return { sums, spreads, squares, leaves, leavesSquares }
}

/** Figures of leaves in whole units; the parts of a leaf sum to what the leaf comes to. */
export function wholeByLeaf({ partsOf }: AdTree, exact: Float64Array): ArrayLike<number> {
  const whole = exact.map(Math.round)
  for (const parts of partsOf ?? []) {
    if (parts.length === 1) continue
    const own = parts.map(part => exact[part]!)
    split(Math.round(own.reduce((sum, value) => sum + value, 0)), own).forEach((value, i) => {
      whole[parts[i]!] = value
    })
  }
  return whole
}

/** Numbers of the leaves of which anything is known. */
export const activeLeaves = (sums: readonly Sums[]): number[] =>
  sums.flatMap((sum, leaf) => (Object.values(sum).some(v => v !== 0) ? [leaf] : []))
