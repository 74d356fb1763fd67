import type { Match } from '../evidence/match'
import type { Dataset } from '../intake/dataset'
import type { Witnesses } from './witnesses'

/** By what day a network says that a claim was: that of the click, or of the conversion. */
export type DatedBy = 'click' | 'conversion'

/** Log likelihood by which the other dating has to explain a network's daily sums better. */
const BETTER = 12
/** Claims in a list whose two days differ: fewer tell nothing, and so great a part of them has to have the other. */
const LEAST_PAIRS = 20
const MOST = 0.8
/** Claims of an ad on a day on which we tracked none, of all that were claimed. */
const UNTRACKED = 0.3

/**
 * Networks whose claims stand on other days than their rules say: in lists by the days of the order and the click
 * that a claim is matched to, in daily sums by which days of tracked orders explain them better (Poisson).
 *
 * @returns by network the dating that fits, for those where it is not the one that is set
 */
export function datedOtherwise(data: Dataset, w: Witnesses, matches: readonly Match[]): Map<number, DatedBy> {
  const found = new Map<number, DatedBy>()
  const pairs = w.rules.map(() => ({ click: 0, conversion: 0 }))
  data.claims.forEach((claim, c) => {
    const { order } = matches[c]!
    if (claim.at === null || claim.kind !== 'click' || order < 0) return
    const place = order * w.networks + claim.network
    const [clicked, ordered] = [w.touchDay[place]!, data.orders[order]!.day]
    if (w.touch[place]! < 0 || clicked === ordered) return
    if (claim.day === clicked) pairs[claim.network]!.click += 1
    else if (claim.day === ordered) pairs[claim.network]!.conversion += 1
  })
  w.rules.forEach(({ dated_by }, n) => {
    const other = dated_by === 'click' ? 'conversion' : 'click'
    const { [other]: others, [dated_by]: own } = pairs[n]!
    const inList = others + own >= LEAST_PAIRS && others > MOST * (others + own)
    const inSums = () => likelihoodOf(data, w, n, other) - likelihoodOf(data, w, n, dated_by) > BETTER
    if (w.listed[n] ? inList : inSums()) found.set(n, other)
  })
  return found
}

/** How likely a network's daily sums are where tracked orders stand on one of their days. */
function likelihoodOf({ orders }: Dataset, w: Witnesses, n: number, by: DatedBy): number {
  const key = (leaf: number, day: number) => leaf * 65_536 + day
  const tracked = new Map<number, number>()
  let whole = 0
  orders.forEach((order, o) => {
    const place = o * w.networks + n
    const leaf = w.touch[place]!
    if (leaf < 0) return
    const day = w.startOf(n, by === 'click' ? w.touchDay[place]! : order.day)
    const at = key(w.claimedAt[leaf]!, day)
    tracked.set(at, (tracked.get(at) ?? 0) + 1)
    whole += 1
  })
  const cells = w.cells.filter(cell => cell.network === n)
  const claims = cells.reduce((sum, cell) => sum + cell.clicks, 0)
  if (whole === 0 || claims === 0) return 0
  const [share, base] = [((1 - UNTRACKED) * claims) / whole, (UNTRACKED * claims) / cells.length]
  // What lies in no cell was claimed nowhere: of it the mean alone counts.
  let sum = -share * whole
  for (const { leaf, day, clicks } of cells)
    sum += clicks * Math.log(base + share * (tracked.get(key(leaf, day)) ?? 0))
  return sum
}
