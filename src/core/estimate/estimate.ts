import type { Match } from '../evidence/match'
import type { Placement } from '../evidence/place'
import { WHOLE } from '../evidence/place'
import type { Dataset } from '../intake/dataset'
import { shrinkShares, type Witnessed, witnesses } from './capture'

/** One order's part in the true orders of one ad. */
export interface Share {
  order: number
  leaf: number
  /** how much of the order is this ad's, 0–1; 1 for all that our evidence proves */
  seen: number
  /** further orders like it that neither witness saw */
  unseen: number
  /** variance of seen + unseen */
  variance: number
  /** derivatives of the estimate by the network's and by own capture, for the errors that orders share */
  slopeNetwork: number
  slopeOwn: number
}

export interface NetworkCapture {
  network: number
  /** claimed / tracked: the network's share of true orders; null where nothing is tracked or nothing claimed at all */
  networkCapture: number | null
  ownCapture: number | null
  /** Chapman's estimate of true orders */
  orders: number
}

export interface Estimate {
  shares: Share[]
  /** per network */
  captures: NetworkCapture[]
  /** per network: variances of the two captures, errors that all its orders share */
  networkVariance: number[]
  ownVariance: number[]
  /** per leaf: variance of its own capture about the network's */
  leafVariance: Float64Array
}

const WEEK = 7
/**
 * What the variance terms leave out (wrong pairs, an uneven mix of shoppers within an ad), as found on
 * markets of many seeds and sizes: with it the 80 % interval holds the truth for about 80 % of ads.
 */
const UNSAID = 1.35
const ROUNDS = 60

/**
 * True orders by ad from two imperfect witnesses, the network's claims and our tracking
 * (Lincoln–Petersen; Chapman 1951), with these parts of its own:
 *
 * - a network's capture is taken by week and own capture by ad, each shrunk toward the network's;
 * - an untracked order that several networks claim, or that one claims although it often claims
 *   others' orders too, is shared by how likely each true origin is to leave just these claims (EM);
 * - what neither saw is added to each seen order by its own coverage, and never more in a week than
 *   there are orders that nobody claims or tracks.
 */
export function estimateOrders(
  data: Dataset,
  placements: readonly Placement[],
  matches: readonly Match[],
): Estimate {
  const seen = witnesses(data, placements, matches)
  const networks = data.tree.networks.map((_, n) => n)
  const networkOf = (leaf: number) => data.tree.networkOf[leaf]!
  const firstDay = data.orders[0]?.day ?? 0
  const weekOf = (w: Witnessed) => Math.floor((data.orders[w.order]!.day - firstDay) / WEEK)
  const weeks = seen.reduce((most, w) => Math.max(most, weekOf(w) + 1), 1)

  const tally = networks.map(() => ({
    tracked: new Float64Array(weeks),
    both: new Float64Array(weeks),
    claimedToo: new Float64Array(networks.length),
  }))
  for (const w of seen) {
    if (w.tracked < 0) continue
    const t = tally[networkOf(w.tracked)]!
    t.tracked[weekOf(w)]! += 1
    for (const leaf of w.claimed) {
      t.claimedToo[networkOf(leaf)]! += 1
      if (networkOf(leaf) === networkOf(w.tracked)) t.both[weekOf(w)]! += 1
    }
  }
  const sum = (a: Float64Array) => a.reduce((x, y) => x + y, 0)
  const trackedOf = tally.map(t => sum(t.tracked))
  const captureByWeek = tally.map((t, n) =>
    shrinkShares(
      [...t.tracked].map((trials, w) => ({ hits: t.both[w]!, trials })),
      (sum(t.both) + 0.5) / (trackedOf[n]! + 1),
    ),
  )
  /** P(network `by` claims an order whose true origin is `of`), outside its own. */
  const crossShare = networks.map(of =>
    networks.map(by => (tally[of]!.claimedToo[by]! + 0.05) / (trackedOf[of]! + 1)),
  )

  const untracked = seen.filter(w => w.tracked < 0 && w.claimed.length > 0)
  const origins = shareUntracked(untracked, networks, networkOf, weekOf, {
    tally,
    captureByWeek,
    crossShare,
    trackedOf,
  })

  // Both witnesses by leaf, for own capture: of what the network validly claims, how much we track.
  const leafCount = data.tree.leaves.length
  const claimedOnly = new Float64Array(leafCount)
  const bothByLeaf = new Float64Array(leafCount)
  for (const w of seen)
    if (w.tracked >= 0 && w.claimed.some(leaf => networkOf(leaf) === networkOf(w.tracked)))
      bothByLeaf[w.tracked]! += 1
  untracked.forEach((w, i) => {
    for (const [k, leaf] of w.claimed.entries()) claimedOnly[leaf]! += origins[i]![k]!
  })
  // A network that claims nothing says nothing of our own capture: it is then as at the others.
  const allBoth = sum(bothByLeaf)
  const ownAnywhere = (allBoth + 0.5) / (allBoth + sum(claimedOnly) + 1)
  const own = networks.map(n => {
    const leaves = [...data.tree.leaves.keys()].filter(l => networkOf(l) === n)
    const both = leaves.reduce((s, l) => s + bothByLeaf[l]!, 0)
    const only = leaves.reduce((s, l) => s + claimedOnly[l]!, 0)
    const common = (both + ownAnywhere) / (both + only + 1)
    const shrunk = shrinkShares(
      leaves.map(l => ({ hits: bothByLeaf[l]!, trials: bothByLeaf[l]! + claimedOnly[l]! })),
      common,
    )
    return { both, only, common, byLeaf: new Map(leaves.map((l, i) => [l, shrunk[i]!])) }
  })

  const shares: Share[] = []
  const add = (w: Witnessed, leaf: number, weight: number, certain: boolean) => {
    const n = networkOf(leaf)
    const p = captureByWeek[n]![weekOf(w)]!.share
    const q = own[n]!.byLeaf.get(leaf)?.share ?? own[n]!.common
    const missed = Math.min(0.9, (1 - p) * (1 - q))
    const unseen = trackedOf[n]! > 0 || own[n]!.only > 0 ? (weight * missed) / (1 - missed) : 0
    shares.push({
      order: w.order,
      leaf,
      seen: weight,
      unseen,
      variance: UNSAID * ((certain ? 0 : weight * (1 - weight)) + unseen / (1 - missed)),
      slopeNetwork: (weight * (1 - q)) / (1 - missed) ** 2,
      slopeOwn: (weight * (1 - p)) / (1 - missed) ** 2,
    })
  }
  for (const w of seen)
    for (const credit of placements[w.order]!.credits) add(w, credit.leaf, credit.share / WHOLE, true)
  untracked.forEach((w, i) => w.claimed.forEach((leaf, k) => add(w, leaf, origins[i]![k]!, false)))
  capUnseen(shares, seen, weekOf, weeks)

  const claiming = claimingNetworks(data)
  const captures = networks.map((n): NetworkCapture => {
    const n1 = trackedOf[n]!
    const m = own[n]!.both
    const n2 = m + own[n]!.only
    return {
      network: n,
      networkCapture: n1 > 0 && claiming.has(n) ? sum(tally[n]!.both) / n1 : null,
      ownCapture: n2 > 0 ? m / n2 : null,
      orders: ((n1 + 1) * (n2 + 1)) / (m + 1) - 1,
    }
  })
  const networkVariance = networks.map(n => shareVariance(sum(tally[n]!.both), trackedOf[n]!))
  const ownVariance = networks.map(n => shareVariance(own[n]!.both, own[n]!.both + own[n]!.only))
  const leafVariance = new Float64Array(leafCount)
  for (const { byLeaf } of own) for (const [leaf, { variance }] of byLeaf) leafVariance[leaf] = variance
  return { shares, captures, networkVariance, ownVariance, leafVariance }
}

/** Numbers of the networks that claim anything: of the others there is no capture. */
export const claimingNetworks = (data: Dataset): ReadonlySet<number> =>
  new Set(data.claims.map(claim => claim.network))

const shareVariance = (hits: number, trials: number): number => {
  const share = (hits + 0.5) / (trials + 1)
  return (share * (1 - share)) / (trials + 1)
}

interface Known {
  tally: { tracked: Float64Array; both: Float64Array; claimedToo: Float64Array }[]
  captureByWeek: { share: number }[][]
  crossShare: number[][]
  trackedOf: number[]
}

/**
 * For each untracked order, how likely each of its claims names the true origin. An origin may also be a
 * network that claims nothing: that part is left to what neither saw, so weights may sum to less than 1.
 *
 * Expectation–maximisation over the odds that a network's true order goes untracked.
 */
function shareUntracked(
  untracked: readonly Witnessed[],
  networks: readonly number[],
  networkOf: (leaf: number) => number,
  weekOf: (w: Witnessed) => number,
  { tally, captureByWeek, crossShare, trackedOf }: Known,
): number[][] {
  const odds = networks.map(() => 0.3)
  const likelihood = untracked.map(w => {
    const claimants = new Set(w.claimed.map(networkOf))
    return networks.map(origin =>
      networks.reduce((product, by) => {
        const share = by === origin ? captureByWeek[origin]![weekOf(w)]!.share : crossShare[origin]![by]!
        return product * (claimants.has(by) ? share : 1 - share)
      }, 1),
    )
  })
  const posterior = untracked.map(() => networks.map(() => 0))
  for (let round = 0; round < ROUNDS; round++) {
    const found = networks.map(() => 0)
    untracked.forEach((w, i) => {
      const joint = networks.map(n => likelihood[i]![n]! * odds[n]! * (tally[n]!.tracked[weekOf(w)]! + 0.2))
      const total = joint.reduce((a, b) => a + b, 0)
      joint.forEach((value, n) => {
        const share = total > 0 ? value / total : 0
        posterior[i]![n] = share
        found[n]! += share
      })
    })
    for (const n of networks) {
      const meanCapture =
        captureByWeek[n]!.reduce((s, c, w) => s + c.share * tally[n]!.tracked[w]!, 0) /
          Math.max(1, trackedOf[n]!) || 0.5
      const reach =
        1 - (1 - meanCapture) * crossShare[n]!.reduce((p, c, by) => (by === n ? p : p * (1 - c)), 1)
      odds[n] = (found[n]! / reach + 0.05) / (trackedOf[n]! + 1)
    }
  }
  return untracked.map((w, i) => w.claimed.map(leaf => posterior[i]![networkOf(leaf)]!))
}

/** No week holds more unseen orders than orders that nobody tracks or claims. */
function capUnseen(
  shares: Share[],
  seen: readonly Witnessed[],
  weekOf: (w: Witnessed) => number,
  weeks: number,
): void {
  const room = new Float64Array(weeks)
  const wanted = new Float64Array(weeks)
  const weekOfOrder = new Map(seen.map(w => [w.order, weekOf(w)]))
  for (const w of seen) if (w.tracked < 0 && w.claimed.length === 0) room[weekOf(w)]! += 1
  for (const s of shares) wanted[weekOfOrder.get(s.order)!]! += s.unseen
  for (const s of shares) {
    const week = weekOfOrder.get(s.order)!
    if (wanted[week]! > room[week]!) s.unseen *= room[week]! / wanted[week]!
  }
}
