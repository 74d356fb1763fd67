import type { Match } from '../evidence/match'
import { type Placement, WHOLE } from '../evidence/place'
import type { Dataset } from '../intake/dataset'
import { append } from '../shared/append'
import type { Day } from '../shared/days'
import { withClaimedValues } from './byParameters'
import type { Claimed, ClaimedPart } from './claimed'
import { datedOtherwise } from './dating'
import { dealtOut } from './dealtOut'
import { type EstimateFinding, findingsOfEstimate } from './findings'
import { odds } from './odds'
import { ratePriors } from './rates'
import { readLists } from './rows'
import { shareOverOrders } from './shareOverOrders'
import { readSums } from './sums'
import { type Tallies, tallyOrders } from './tallies'
import { blockingShare, unseenOrders } from './unseen'
import { OFFSITE, type Witnesses, witnessesOf } from './witnesses'

/** One order's part in the true orders of one ad. */
export interface Share {
  order: number
  leaf: number
  /** how much of the order is this ad's, 0–1 */
  seen: number
  /** whether our evidence says so, which is certain; else a network's claim does */
  certain: boolean
  /** further orders like it that neither witness saw */
  unseen: number
  /** variance of `seen` */
  variance: number
}

export interface NetworkCapture {
  network: number
  /** the network's share of true orders that it claims; null where nothing is tracked or nothing claimed at all */
  networkCapture: number | null
  ownCapture: number | null
  /** its estimated true orders */
  orders: number
}

/** How far estimates may be off beside the variance of their shares. */
export interface Doubts {
  /** per network: variance of the logarithm of its unseen orders, of its capture, and of the logit of our own */
  unseen: number[]
  network: number[]
  own: number[]
  /** per network: what no other term says, as a share of what is seen */
  uneven: number[]
  /** per leaf: orders that its rate rests on, and how much of what is tracked may be what is claimed, 0–1 */
  weight: Float64Array
  ambiguity: Float64Array
  /** per leaf that is a part of one: variance of its share of what is added to it, over the square of that share */
  parting?: Float64Array
  /** per network: sd of the share of shoppers whom neither witness can see */
  blocking: number[]
  /** per leaf its place in the lists by network, where estimates of several results stand beside each other; else its network */
  groupOf?: number[]
}

export interface Estimate {
  shares: Share[]
  /** per network */
  captures: NetworkCapture[]
  doubts: Doubts
  findings: EstimateFinding[]
  /** a network's capture in a period, the days of it alike; 0 for one that claims nothing */
  captureOn: (network: number, from: Day, to: Day) => number
  /** per order that is tracked: how likely the network that it is credited to claims it */
  claimedPart: Float64Array
}

const WEEK = 7
/** Ads that differ by less than this (squared, of their mean) in what leaves no trace are taken as alike. */
const LEAST_LOSS_SPREAD = 0.02
/** Of fewer billed clicks nothing is estimated: what was tracked stands as it was counted. */
export const FEW_CLICKS = 5
/**
 * What no term says (an uneven mix of shoppers within an ad, in daily sums also who is who), as a share of what is
 * seen: found on markets of many seeds.
 */
const UNEVEN = { list: 0.01, sums: 0.015 }

/**
 * True orders by ad from two imperfect witnesses, the networks' claims and our tracking (Lincoln–Petersen;
 * Chapman 1951): what is tracked, what is claimed of untracked orders, in lists or in daily sums, and what
 * neither saw (docs/computation.md, Estimate). Every part of it stands on an order. Where nothing is claimed at all,
 * what is tracked is the estimate: so many at least.
 */
export function estimateOrders(
  data: Dataset,
  placements: readonly Placement[],
  matches: readonly Match[],
): Estimate {
  const w = witnessesOf(data, placements, matches)
  const tallied = tallyOrders(data, w)
  const tallies = w.byParameters ? withClaimedValues(data, w, tallied) : tallied
  const claims = claimsOf(data, w, tallies)
  const shares = certainShares(data, placements)
  for (const claim of claims)
    for (const { order, leaf, part, variance } of claim?.parts ?? [])
      shares.push({ order, leaf, seen: part, certain: false, unseen: 0, variance })

  const { tree } = data
  const leaves = tree.leaves.length
  const seen = new Float64Array(leaves)
  const doubtful = new Float64Array(leaves)
  for (const share of shares) {
    seen[share.leaf]! += share.seen
    doubtful[share.leaf]! += share.variance
  }
  const ofNetwork = (list: Float64Array) => {
    const sums = tree.networks.map(() => 0)
    list.forEach((value, leaf) => void (sums[tree.networkOf[leaf]!]! += value))
    return sums
  }
  const seenOf = ofNetwork(seen)
  const certainOf = ofNetwork(w.certain)
  const unseen = unseenOrders(tallies, claims, seenOf)
  const blocking = blockingShare(
    tallies,
    unseen.odds,
    unseen.networks.map(({ missed, variance }, n) => ({
      seen: seenOf[n]!,
      certain: certainOf[n]!,
      missed: meanMissed(missed, tallies, n),
      variance,
    })),
  )
  const missed = unseen.networks.map(own => own.missed.map(share => 1 - (1 - share) * (1 - blocking.mean)))
  // One witness alone says how many orders there are at least, and nothing of those that it did not see.
  const isAlone = claims.every(claim => claim === null)
  const weight = isAlone
    ? Float64Array.from(seen, value => value + 0.5)
    : addUnseen(data, w, tallies, shares, seen, doubtful, missed)
  capUnseen(data, w, shares)
  const claimedPart = claimedParts(data, w, tallies, claims)

  return {
    shares,
    captures: capturesOf(data, w, claims, claimedPart, shares),
    findings: findingsOfEstimate(data, w, tallies, claims, blocking, datedOtherwise(data, w, matches)),
    claimedPart,
    captureOn: (network, from, to) => {
      let sum = 0
      for (let day = from; day <= to; day++) sum += claims[network]?.capture[tallies.stretchOf(day)] ?? 0
      return sum / (to - from + 1)
    },
    doubts: {
      unseen: unseen.networks.map(own => (isAlone ? 0 : own.variance)),
      network: claims.map(claim => claim?.shareVariance ?? 0),
      own: claims.map(claim => claim?.own.variance ?? 0),
      uneven: claims.map(claim => (claim?.unlike === null ? UNEVEN.list : claim ? UNEVEN.sums : 0)),
      weight,
      ambiguity: doubtful.map((variance, leaf) => {
        const claim = claims[tree.networkOf[leaf]!]
        if (!claim || claim.unlike === null) return 0
        const certain = w.certain[leaf]!
        const binomial = certain * claim.share * (1 - claim.share) + seen[leaf]! - certain
        return Math.min(1, variance / Math.max(0.1, binomial))
      }),
      blocking: tree.networks.map(() => (isAlone ? 0 : blocking.sd)),
    },
  }
}

/** Numbers of the networks that claim anything: of the others there is no capture. */
export const claimingNetworks = (data: Dataset): ReadonlySet<number> =>
  new Set(data.claims.map(claim => claim.network))

/** What each network's claims say; untracked orders that only sums tell of are shared out among all of these. */
function claimsOf(data: Dataset, w: Witnesses, tallies: Tallies): (Claimed | null)[] {
  const summed = new Set(w.cells.map(cell => cell.network))
  const lists = readLists(data, w, tallies)
  const room = new Float64Array(data.orders.length).fill(1)
  for (const list of lists)
    for (const { order, part } of list?.parts ?? []) room[order] = Math.max(0, room[order]! - part)
  const sums = lists.map((list, n) => (!list && summed.has(n) ? readSums(data, w, tallies, n) : null))
  const parts = shareOverOrders(
    sums.flatMap(sum => sum?.wishes ?? []),
    room,
  )
  const ofNetwork = new Map<number, ClaimedPart[]>()
  for (const part of dealtOut(data, w, parts)) append(ofNetwork, data.tree.networkOf[part.leaf]!, part)
  return lists.map((list, n) => {
    const sum = sums[n]
    return list ?? (sum ? { ...sum, parts: ofNetwork.get(n) ?? [] } : null)
  })
}

const certainShares = ({ orders }: Dataset, placements: readonly Placement[]): Share[] =>
  orders.flatMap(({ counts }, order) =>
    counts
      ? placements[order]!.credits.map(({ leaf, share }) => ({
          order,
          leaf,
          seen: share / WHOLE,
          certain: true,
          unseen: 0,
          variance: 0,
        }))
      : [],
  )

/** The mean of a network's missed share over time, by its tracked orders. */
function meanMissed(missed: Float64Array, { networks }: Tallies, n: number): number {
  let [sum, whole] = [0, 0]
  networks[n]!.led.forEach(([others, desktops], t) => {
    sum += (others + desktops + 1e-6) * missed[t]!
    whole += others + desktops + 1e-6
  })
  return sum / whole
}

/**
 * Adds to the orders seen of each ad those that neither witness saw: by its clicks, and by the rate of its orders,
 * drawn toward those of its ad set (gamma–Poisson).
 *
 * @returns per leaf how many orders its rate rests on
 */
function addUnseen(
  { orders, tree }: Dataset,
  w: Witnesses,
  tallies: Tallies,
  shares: readonly Share[],
  seen: Float64Array,
  doubtful: Float64Array,
  missed: readonly Float64Array[],
): Float64Array {
  const count = tree.leaves.length
  const exposure = new Float64Array(count)
  const hidden = new Float64Array(count)
  const effect = lossByLeaf(tree.networkOf, w.certain, seen, doubtful)
  const missedAt = (leaf: number, day: number) => {
    const share = missed[tree.networkOf[leaf]!]![tallies.stretchOf(day)]!
    return (effect[leaf]! * share) / (1 - share + effect[leaf]! * share)
  }
  tree.leaves.forEach((_, leaf) => {
    for (const [day, billed] of w.clicks[leaf]!) {
      const share = missedAt(leaf, day + w.firstDay)
      exposure[leaf]! += billed * (1 - share)
      hidden[leaf]! += billed * share
    }
  })
  const weight = Float64Array.from(seen, value => value + 0.5)
  const wanted = new Float64Array(count).fill(-1)
  const billedOf = w.clicks.map(days => [...days.values()].reduce((sum, clicks) => sum + clicks, 0))
  const isFew = (leaf: number) => billedOf[leaf]! > 0 && billedOf[leaf]! < FEW_CLICKS
  tree.networks.forEach((_, n) => {
    const leaves = [...tree.leaves.keys()].filter(leaf => tree.networkOf[leaf] === n)
    ratePriors(tree, leaves, seen, exposure).forEach((prior, i) => {
      const leaf = leaves[i]!
      if (!prior) return
      weight[leaf] = seen[leaf]! + prior.shape
      wanted[leaf] = (hidden[leaf]! * weight[leaf]!) / (exposure[leaf]! + prior.shape / prior.rate)
    })
  })
  for (let leaf = 0; leaf < count; leaf++) if (isFew(leaf)) wanted[leaf] = 0
  const oddsAt = ({ leaf, order }: Share) => odds(missedAt(leaf, orders[order]!.day))
  const spread = new Float64Array(count)
  for (const share of shares) spread[share.leaf]! += share.seen * oddsAt(share)
  for (const share of shares) {
    const own = share.seen * oddsAt(share)
    share.unseen =
      wanted[share.leaf]! < 0 ? own : own > 0 ? (wanted[share.leaf]! * own) / spread[share.leaf]! : 0
  }
  return weight
}

/**
 * How much more often than its network's orders those of an ad leave no trace: by what is claimed of it without
 * being tracked, as far as ads differ beyond chance (by the method of moments).
 *
 * @returns per leaf a factor about 1
 */
function lossByLeaf(
  networkOf: readonly number[],
  certain: Float64Array,
  seen: Float64Array,
  doubtful: Float64Array,
): Float64Array {
  const factor = new Float64Array(certain.length).fill(1)
  const byNetwork = new Map<number, number[]>()
  networkOf.forEach((n, leaf) => void append(byNetwork, n, leaf))
  for (const leaves of byNetwork.values()) {
    const sum = (list: (leaf: number) => number) => leaves.reduce((all, leaf) => all + list(leaf), 0)
    const claimed = (leaf: number) => seen[leaf]! - certain[leaf]!
    const tracked = sum(leaf => certain[leaf]!)
    if (tracked === 0) continue
    const usual = sum(claimed) / tracked
    const expected = (leaf: number) => usual * certain[leaf]!
    const excess = sum(leaf => {
      const chance = expected(leaf) * (1 + usual) + doubtful[leaf]!
      return (claimed(leaf) - expected(leaf)) ** 2 - chance
    })
    const spread =
      excess /
      Math.max(
        1e-9,
        sum(leaf => expected(leaf) ** 2),
      )
    if (spread <= LEAST_LOSS_SPREAD) continue
    for (const leaf of leaves) factor[leaf] = (claimed(leaf) + 1 / spread) / (expected(leaf) + 1 / spread)
  }
  return factor
}

/** No week holds more unseen orders than orders that nobody tracks or claims. */
function capUnseen({ orders }: Dataset, w: Witnesses, shares: readonly Share[]): void {
  const weekOf = (order: number) => Math.max(0, Math.floor((orders[order]!.day - w.firstDay) / WEEK))
  const weeks = Math.ceil(w.days / WEEK) + 1
  const [room, wanted] = [new Float64Array(weeks), new Float64Array(weeks)]
  const free = Float64Array.from(orders, (order, o) =>
    order.counts && w.origin[o]! < 0 && w.kind[o] !== OFFSITE ? 1 : 0,
  )
  for (const share of shares)
    if (!share.certain) free[share.order] = Math.max(0, free[share.order]! - share.seen)
  free.forEach((left, o) => void (room[weekOf(o)]! += left))
  for (const share of shares) wanted[weekOf(share.order)]! += share.unseen
  for (const share of shares) {
    const week = weekOf(share.order)
    if (wanted[week]! > room[week]!) share.unseen *= room[week]! / wanted[week]!
  }
}

/** How likely each tracked order is claimed by the network that it is credited to. */
function claimedParts(
  { orders, tree }: Dataset,
  w: Witnesses,
  tallies: Tallies,
  claims: readonly (Claimed | null)[],
): Float64Array {
  return Float64Array.from(orders, ({ day }, o) => {
    const n = tree.networkOf[w.origin[o]!]
    if (n === undefined) return 0
    if (w.listed[n]) return w.claimed[o * w.networks + n]! >= 0 ? 1 : 0
    return claims[n]?.capture[tallies.stretchOf(day)] ?? 0
  })
}

function capturesOf(
  { orders, tree }: Dataset,
  w: Witnesses,
  claims: readonly (Claimed | null)[],
  claimedPart: Float64Array,
  shares: readonly Share[],
): NetworkCapture[] {
  const sums = tree.networks.map(() => ({ tracked: 0, both: 0, only: 0, orders: 0 }))
  orders.forEach(({ counts }, o) => {
    const own = counts ? sums[tree.networkOf[w.origin[o]!]!] : undefined
    if (!own) return
    own.tracked += 1
    own.both += claimedPart[o]!
  })
  for (const { leaf, seen, certain, unseen } of shares) {
    const own = sums[tree.networkOf[leaf]!]!
    own.orders += seen + unseen
    if (!certain) own.only += seen
  }
  return sums.map(({ tracked, both, only, orders: estimated }, network) => ({
    network,
    networkCapture: tracked > 0 && claims[network] ? both / tracked : null,
    ownCapture: both + only > 0 ? both / (both + only) : null,
    orders: estimated,
  }))
}

/** What a set of shares holds, to be added up over leaves for the range of their sum. */
export interface Spread {
  /** certain orders */
  certain: number
  claimed: number
  unseen: number
  variance: number
}
export const noSpread = (): Spread => ({ certain: 0, claimed: 0, unseen: 0, variance: 0 })

/** Orders that are claimed but not tracked may be others than they seem: found on markets of many seeds. */
const UNSAID = 1.3

/**
 * The variance of the sum of what some leaves hold; errors that they share are added before they are squared.
 */
export function varianceOf(
  { doubts }: Estimate,
  networkOf: readonly number[],
  leaves: readonly number[],
  spreads: readonly Spread[],
): number {
  const common = doubts.unseen.map(() => ({ unseen: 0, tracked: 0, claimed: 0 }))
  let [own, hidden] = [0, 0]
  for (const leaf of leaves) {
    const { certain, claimed, unseen, variance } = spreads[leaf]!
    const n = (doubts.groupOf ?? networkOf)[leaf]!
    const open = Math.sqrt(doubts.ambiguity[leaf]!)
    own +=
      UNSAID * variance +
      unseen +
      unseen ** 2 / doubts.weight[leaf]! +
      (doubts.uneven[n]! * (certain + claimed)) ** 2 +
      (claimed + unseen) ** 2 * (doubts.parting?.[leaf] ?? 0)
    common[n]!.unseen += unseen
    common[n]!.tracked += open * certain
    common[n]!.claimed += open * claimed
    hidden += (certain + claimed + unseen) * doubts.blocking[n]!
  }
  return common.reduce(
    (sum, { unseen, tracked, claimed }, n) =>
      sum +
      unseen ** 2 * doubts.unseen[n]! +
      tracked ** 2 * doubts.network[n]! +
      claimed ** 2 * doubts.own[n]!,
    own + hidden ** 2,
  )
}
