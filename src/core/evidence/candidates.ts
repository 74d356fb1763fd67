import type { Claim } from '../intake/claim'
import type { Dataset } from '../intake/dataset'
import { HOUR_MS, inPeriod, type Period } from '../shared/days'
import type { Match } from './match'
import type { Placement } from './place'

/** An order that a claim could be for, with what speaks for it. */
export interface Candidate {
  /** number of the order in the dataset */
  order: number
  /** what the claim says more than the order is worth, in minor units; null where it says nothing */
  more: number | null
  /** ms from the order to the claim */
  late: number
  /** share of the pairs that are certain which lie as far apart, or farther */
  usual: number
  /** whether our evidence names the claim's ad, its campaign, its network, another, or none */
  kin: 'ad' | 'campaign' | 'network' | 'none' | 'other'
  /** whether another claim of the network is for it already */
  held: boolean
}

/** A claim of which it is not certain what order it is for. */
export interface OpenClaim {
  claim: number
  /** the order that it is taken for now, -1 for none */
  order: number
  /** the likeliest first */
  candidates: Candidate[]
}

const NEAR_MS = 36 * HOUR_MS
const MOST_CANDIDATES = 5
const kinds = ['ad', 'campaign', 'network', 'none', 'other'] as const

/**
 * Claims that are listed one by one and matched by nothing certain, each with the orders near it. What somebody has
 * decided, or a transaction or click ID says, is certain.
 *
 * @param within whether a leaf is asked about
 */
export function openClaims(
  data: Dataset,
  placements: readonly Placement[],
  matches: readonly Match[],
  period: Period,
  within: (leaf: number) => boolean,
): OpenClaim[] {
  const { claims, orders } = data
  const lags: number[] = []
  const holders = new Map<string, number>()
  matches.forEach(({ order, by }, c) => {
    const { at, network } = claims[c]!
    if (order < 0) return
    holders.set(`${network} ${order}`, c)
    if (at !== null && (by === 'transaction' || by === 'click_id' || by === 'hand'))
      lags.push(Math.abs(at - orders[order]!.ordered_at))
  })
  lags.sort((a, b) => a - b)
  const usual = (apart: number): number =>
    lags.length === 0 ? 1 : (lags.length - firstFrom(lags, apart)) / lags.length
  const times = orders.map(order => order.ordered_at)
  return claims.flatMap((claim, c): OpenClaim[] => {
    const { at, key, decided, day, leaf } = claim
    const { order, by } = matches[c]!
    if (at === null || key === null || decided !== null || !inPeriod(day, period) || !within(leaf)) return []
    if (by === 'transaction' || by === 'click_id') return []
    const candidates: Candidate[] = []
    for (let o = firstFrom(times, at - NEAR_MS); o < orders.length && times[o]! <= at + NEAR_MS; o++)
      candidates.push({
        order: o,
        more: claim.valued ? amountApart(claim, orders[o]!) : null,
        late: at - times[o]!,
        usual: usual(Math.abs(at - times[o]!)),
        kin: kinOf(data, placements[o]!, claim),
        held: (holders.get(`${claim.network} ${o}`) ?? c) !== c,
      })
    candidates.sort(
      (a, b) => scoreOf(a) - scoreOf(b) || Math.abs(a.late) - Math.abs(b.late) || a.order - b.order,
    )
    return [{ claim: c, order, candidates: candidates.slice(0, MOST_CANDIDATES) }]
  })
}

/** How far a claim's amount lies from an order's, by the nearer of its total and its worth. */
function amountApart({ value }: Claim, order: { gross: number; value: number }): number {
  const [gross, worth] = [value - order.gross, value - order.value]
  return Math.abs(gross) <= Math.abs(worth) ? gross : worth
}

/** The less, the likelier: an amount that differs weighs most, then another ad, an unusual delay, and another claim. */
const scoreOf = ({ more, usual, kin, held }: Candidate): number =>
  (more === 0 ? 0 : more === null ? 1 : 2 + Math.min(1, Math.abs(more) / 10_000)) +
  kinds.indexOf(kin) / 4 +
  (1 - usual) +
  (held ? 1 : 0)

function kinOf({ tree }: Dataset, { credits }: Placement, claim: Claim): Candidate['kin'] {
  if (credits.length === 0) return 'none'
  const own = tree.leaves[claim.leaf]!
  if (credits.some(credit => credit.leaf === claim.leaf)) return 'ad'
  const leaves = credits.map(credit => tree.leaves[credit.leaf]!).filter(leaf => leaf.network === own.network)
  if (leaves.length === 0) return 'other'
  return leaves.some(leaf => leaf.campaign === own.campaign) ? 'campaign' : 'network'
}

/** The place of the first that is no less, in a list that rises. */
function firstFrom(list: readonly number[], least: number): number {
  let [from, to] = [0, list.length]
  while (from < to) {
    const middle = (from + to) >> 1
    if (list[middle]! < least) from = middle + 1
    else to = middle
  }
  return from
}
