import { gammaDensity, logGamma } from './gamma'
import { FEW, pairsTell, shareOfPair, shareOfSum, sumsOf, type ValueSpread } from './values'
import type { Cell } from './witnesses'

/** An order of ours that may be among the claims of a cell. */
export interface Member {
  /** odds that it is claimed there: by device about the network's own where its day is known, else all of it */
  odds: number
  value: number
  /** how far it was by a desktop, 0–1 */
  desktop: number
  /** whether the day that the network dates it by is not known for certain */
  soft: boolean
}

/**
 * Ways in which the claims of a cell can have come about, in columns: of `tracked` orders, of `untracked` ones
 * and of some that are claimed `twice`. The weight of a way is
 *
 *   c · r^tracked · μ^untracked · δ^twice · (1 − δ)^(orders − twice)
 *
 * with r the odds of being claimed, μ the untracked claims to be expected and δ the share claimed twice.
 */
export interface Ways {
  size: number
  tracked: Uint8Array | Uint16Array
  untracked: Uint8Array | Uint16Array
  twice: Uint8Array
  /** orders claimed, soft members among them */
  orders: Uint8Array | Uint16Array
  /** of so many claims that c is beyond what numbers hold: its logarithm, and no weight */
  log?: Float64Array
  /** c over the largest of all, whose logarithm is the scale */
  weight: Float64Array
  scale: number
  /** orders claimed, at the most */
  most: number
  /** shares of the untracked that count, and that are without a trace */
  counts: Float64Array
  blank: Float64Array
  /** tracked orders by desktop */
  desktop: Float64Array
  /** what a single untracked order is worth in a way: the way, the value and its part of the way's weight */
  singles: { way: number; value: number; part: number }[]
}

/** The ways of a cell by count alone, and by value as well where values tell. */
export interface CellWays {
  byCount: Ways
  byValue: Ways | null
  /** how likely the value would be if values said nothing, by minor unit */
  density: number
}

const MOST_TWICE = 3
const MOST_SOFT = 6
/** Cells of more claims, or of more ways, are weighed by count alone. */
const MOST_CLAIMS = 12
const MOST_STATES = 400
/** Cells of more claims are reckoned in logarithms. */
const MANY_CLAIMS = 60

const factorials = [1]
function factorial(n: number): number {
  while (factorials.length <= n) factorials.push(factorials.at(-1)! * factorials.length)
  return factorials[n]!
}
function choose(n: number, k: number): number {
  let ways = 1
  for (let i = 0; i < k; i++) ways = (ways * (n - i)) / (i + 1)
  return ways
}

/** Tracked orders that are claimed: how many whose day is known, how many others, and how many by desktop. */
interface Chosen {
  tracked: number
  soft: number
  desktop: number
}
/** Gathers ways; those alike in their counts are one. */
function gatherWays() {
  const places = new Map<number, number>()
  const [tracked, untracked, twice, orders]: Columns = [[], [], [], []]
  const [weight, counts, blank, desktop]: Columns = [[], [], [], []]
  const singles: Ways['singles'] = []
  const add = (
    chosen: Chosen,
    others: number,
    again: number,
    c: number,
    ofCounts: number,
    ofBlank: number,
    single = -1,
  ) => {
    if (!(c > 0)) return
    const key = ((chosen.tracked * 64 + others) * 8 + again) * 16 + chosen.soft
    let place = places.get(key)
    if (place === undefined) {
      place = tracked.push(chosen.tracked) - 1
      places.set(key, place)
      untracked.push(others)
      twice.push(again)
      orders.push(chosen.tracked + others + chosen.soft)
      for (const column of [weight, counts, blank, desktop]) column.push(0)
    }
    weight[place]! += c
    counts[place]! += c * ofCounts
    blank[place]! += c * ofBlank
    desktop[place]! += c * chosen.desktop
    if (single >= 0) singles.push({ way: place, value: single, part: c })
  }
  const ways = (): Ways => {
    const size = tracked.length
    let [largest, most] = [0, 0]
    for (let i = 0; i < size; i++) {
      largest = Math.max(largest, weight[i]!)
      most = Math.max(most, orders[i]!)
      counts[i]! /= weight[i]!
      blank[i]! /= weight[i]!
      desktop[i]! /= weight[i]!
    }
    for (const single of singles) single.part /= weight[single.way]!
    for (let i = 0; i < size; i++) weight[i]! /= largest
    return {
      size,
      most,
      scale: Math.log(largest),
      tracked: new Uint8Array(tracked),
      untracked: new Uint8Array(untracked),
      twice: new Uint8Array(twice),
      orders: new Uint8Array(orders),
      weight: new Float64Array(weight),
      counts: new Float64Array(counts),
      blank: new Float64Array(blank),
      desktop: new Float64Array(desktop),
      singles,
    }
  }
  return { add, ways }
}
type Columns = [number[], number[], number[], number[]]

/** Sums over all choices of k of the odds' products: by k, with the desktops among them. */
function symmetric(odds: readonly { odds: number; desktop: number }[], most: number) {
  const sums = new Float64Array(Math.min(odds.length, most) + 1)
  const desktops = new Float64Array(sums.length)
  sums[0] = 1
  for (const one of odds)
    for (let k = sums.length - 1; k > 0; k--) {
      desktops[k]! += (desktops[k - 1]! + one.desktop * sums[k - 1]!) * one.odds
      sums[k]! += sums[k - 1]! * one.odds
    }
  return { sums, desktops }
}

/** The same sums as logarithms, for so many that they are beyond what numbers hold; desktops are a mean. */
function symmetricByLogs(odds: readonly { odds: number; desktop: number }[], most: number) {
  const sums = new Float64Array(Math.min(odds.length, most) + 1)
  const desktops = new Float64Array(sums.length)
  sums[0] = 1
  let scale = 0
  for (const one of odds) {
    let top = 0
    for (let k = sums.length - 1; k > 0; k--) {
      desktops[k]! += (desktops[k - 1]! + one.desktop * sums[k - 1]!) * one.odds
      sums[k]! += sums[k - 1]! * one.odds
      top = Math.max(top, sums[k]!)
    }
    top = Math.max(top, sums[0]!)
    if (top < 1e100) continue
    for (let k = 0; k < sums.length; k++) {
      sums[k]! /= top
      desktops[k]! /= top
    }
    scale += Math.log(top)
  }
  return {
    logs: sums.map(sum => Math.log(sum) + scale),
    desktops: desktops.map((desktop, k) => (sums[k]! > 0 ? desktop / sums[k]! : 0)),
  }
}

/** `waysByCount` for a cell of many claims, such as a campaign's week. */
function manyWays({ clicks }: Cell, members: readonly Member[], spread: ValueSpread): Ways {
  const hard = symmetricByLogs(
    members.filter(m => !m.soft),
    clicks,
  )
  const soft = symmetricByLogs(
    members.filter(m => m.soft),
    Math.min(clicks, MOST_SOFT),
  )
  const [tracked, untracked, twice, orders, log, desktop] = [[], [], [], [], [], []] as number[][] as [
    number[],
    number[],
    number[],
    number[],
    number[],
    number[],
  ]
  hard.logs.forEach((e, k) => {
    soft.logs.forEach((f, g) => {
      for (let again = 0; again <= MOST_TWICE; again++) {
        const others = clicks - k - g - again
        const all = k + g + others
        if (others < 0 || again > all || !Number.isFinite(e) || !Number.isFinite(f)) continue
        tracked.push(k)
        untracked.push(others)
        twice.push(again)
        orders.push(all)
        log.push(e + f + Math.log(choose(all, again)) - logGamma(others + 1))
        desktop.push(hard.desktops[k]!)
      }
    })
  })
  const size = log.length
  return {
    size,
    most: clicks,
    scale: 0,
    tracked: new Uint16Array(tracked),
    untracked: new Uint16Array(untracked),
    twice: new Uint8Array(twice),
    orders: new Uint16Array(orders),
    log: new Float64Array(log),
    weight: new Float64Array(0),
    counts: new Float64Array(size).fill(spread.counts),
    blank: new Float64Array(size).fill(spread.blank),
    desktop: new Float64Array(desktop),
    singles: [],
  }
}

/** The ways of a cell by how many claims it has. */
function waysByCount(cell: Cell, members: readonly Member[], spread: ValueSpread): Ways {
  const { clicks } = cell
  if (clicks > MANY_CLAIMS) return manyWays(cell, members, spread)
  const hard = symmetric(
    members.filter(m => !m.soft),
    clicks,
  )
  const soft = symmetric(
    members.filter(m => m.soft),
    Math.min(clicks, MOST_SOFT),
  )
  const { add, ways } = gatherWays()
  hard.sums.forEach((e, tracked) => {
    soft.sums.forEach((f, g) => {
      for (let twice = 0; twice <= MOST_TWICE; twice++) {
        const untracked = clicks - tracked - g - twice
        const orders = tracked + g + untracked
        if (untracked < 0 || twice > orders || !(e > 0)) continue
        const c = (e * f * choose(orders, twice)) / factorial(untracked)
        const chosen = { tracked, soft: g, desktop: hard.desktops[tracked]! / e }
        add(chosen, untracked, twice, c, spread.counts, spread.blank)
      }
    })
  })
  return ways()
}

/** Choices of members by how many are hard, soft and claimed twice, and by their value in all. */
interface Choice {
  tracked: number
  soft: number
  twice: number
  value: number
  odds: number
  desktop: number
}

/** All choices among members whose claims and values fit into the cell; null where there are too many. */
function choicesOf({ clicks, value }: Cell, members: readonly Member[]): Choice[] | null {
  const choices = new Map<number, Choice>()
  choices.set(0, { tracked: 0, soft: 0, twice: 0, value: 0, odds: 1, desktop: 0 })
  for (const member of members) {
    const more: { key: number; choice: Choice }[] = []
    for (const from of choices.values())
      for (const times of [1, 2]) {
        const tracked = from.tracked + (member.soft ? 0 : 1)
        const soft = from.soft + (member.soft ? 1 : 0)
        const twice = from.twice + times - 1
        const worth = from.value + times * member.value
        if (soft > MOST_SOFT || twice > MOST_TWICE) continue
        if (tracked + soft + twice > clicks || worth > value) continue
        const key = (tracked * 64 + soft * 8 + twice) * 2 ** 40 + worth
        const odds = from.odds * member.odds
        const desktop = (from.desktop + (member.soft ? 0 : member.desktop) * from.odds) * member.odds
        more.push({ key, choice: { tracked, soft, twice, value: worth, odds, desktop } })
      }
    for (const { key, choice } of more) {
      const known = choices.get(key)
      if (known) {
        known.odds += choice.odds
        known.desktop += choice.desktop
      } else choices.set(key, choice)
    }
    if (choices.size > MOST_STATES) return null
  }
  return [...choices.values()]
}

/** The ways of a cell whose values sum to its value as well; null where there are too many to tell. */
function waysByValue(
  cell: Cell,
  members: readonly Member[],
  spread: ValueSpread,
  views: ValueSpread | null,
): Ways | null {
  if (spread.of.size === 0 || cell.clicks > MOST_CLAIMS) return null
  const choices = choicesOf(cell, members)
  if (!choices) return null
  const { add, ways } = gatherWays()
  const { mean, variance, counts, blank } = spread
  const few = spread.of.size <= FEW && (views === null || views.of.size <= FEW)
  const tells = pairsTell(spread.of.size ** 2, spread)

  /** `number` claims of untracked orders worth `rest`, some of them of one order claimed twice */
  const untrackedWorth = (chosen: Chosen, twice: number, number: number, rest: number, c: number) => {
    if (rest < 0) return
    if (number === 0) {
      if (rest === 0) add(chosen, 0, twice, c, 0, 0)
      return
    }
    const one = (value: number, more: number) => {
      const found = spread.of.get(value)
      if (!found) return
      const { share } = found
      add(chosen, 1, twice + more, c * share, found.counts / share, found.blank / share, value)
    }
    if (number === 1) {
      one(rest, 0)
      return
    }
    add(chosen, number, twice, (c * shareOfSum(spread, number, rest)) / factorial(number), counts, blank)
    if (twice >= MOST_TWICE) return
    if (number === 2) {
      if (rest % 2 === 0) one(rest / 2, 1)
    } else {
      const likely =
        number === 3
          ? tells
            ? shareOfPair(spread, 2, rest)
            : gammaDensity(rest, 3 * mean, 5 * variance)
          : gammaDensity(rest, number * mean, (number + 2) * variance)
      add(chosen, number - 1, twice + 1, (c * likely) / factorial(number - 2), counts, blank)
    }
  }

  const sumsOfViews =
    views === null || cell.views === 0
      ? null
      : cell.views === 1 || few
        ? views.of.size > 0
          ? sumsOf(views, cell.views)
          : null
        : null
  const others = views ?? spread
  for (const { tracked, soft, twice, value, odds, desktop } of choices) {
    const chosen = { tracked, soft, desktop: desktop / odds }
    const rest = cell.value - value
    const number = cell.clicks - tracked - soft - twice
    const viewsTell =
      few || number === 0 || (number === 1 && pairsTell((sumsOfViews?.size ?? 0) * spread.of.size, spread))
    if (cell.views === 0) untrackedWorth(chosen, twice, number, rest, odds)
    else if (sumsOfViews && viewsTell)
      for (const [seen, share] of sumsOfViews)
        untrackedWorth(chosen, twice, number, rest - seen, odds * share)
    else {
      const likely = gammaDensity(
        rest,
        number * mean + cell.views * others.mean,
        number * variance + cell.views * others.variance,
      )
      add(chosen, number, twice, (odds * likely) / factorial(number), counts, blank)
    }
  }
  return ways()
}

/**
 * All ways in which a cell's claims can have come about.
 *
 * @param values whether values are looked at, or counts alone
 */
export function waysOf(
  cell: Cell,
  members: readonly Member[],
  spread: ValueSpread,
  views: ValueSpread | null,
  values: boolean,
): CellWays {
  const claims = cell.clicks + cell.views
  return {
    byCount: waysByCount(cell, members, spread),
    byValue: values ? waysByValue(cell, members, spread, views) : null,
    density: gammaDensity(cell.value, claims * spread.mean, claims * spread.variance * 1.5),
  }
}

/** What is to be expected of a cell. */
export interface CellPosterior {
  tracked: number
  /** tracked orders that are claimed, whose day was not known for certain */
  soft: number
  desktop: number
  /** untracked orders without a trace, those of them that count, and their variance */
  untracked: number
  counting: number
  variance: number
  twice: number
  /** that the values say how the claims came about; null where they were not looked at */
  byValue: number | null
}

export interface CellParameters {
  /** odds that a tracked order is claimed */
  odds: number
  /** untracked claims to be expected */
  mean: number
  /** share of orders claimed twice */
  twice: number
  /** share of cells whose values say nothing */
  unlike: number
}

interface Weighed {
  log: number
  tracked: number
  soft: number
  desktop: number
  untracked: number
  square: number
  counting: number
  twice: number
}

/** Room for powers and weights, used anew for each cell. */
const room = {
  odds: new Float64Array(64),
  mean: new Float64Array(64),
  twice: new Float64Array(64),
  once: new Float64Array(64),
}
let weights = new Float64Array(1024)
/** Weights that sum to less have lost what tells them apart. */
const VANISHING = 1e-250

function powersOf(which: keyof typeof room, base: number, most: number): Float64Array {
  if (room[which].length <= most) room[which] = new Float64Array(2 * most)
  const powers = room[which]
  powers[0] = 1
  for (let i = 1; i <= most; i++) powers[i] = powers[i - 1]! * base
  return powers
}

/** Weighs each way of a cell, over its scale, into `weights`; the logarithm by which they are too small beside that. */
function weighWays(ways: Ways, at: CellParameters): { whole: number; scale: number } {
  const { size, most, weight, tracked, untracked, twice, orders } = ways
  if (ways.log) return weighByLogs(ways, at)
  const ofTracked = powersOf('odds', at.odds, most)
  const ofUntracked = powersOf('mean', at.mean, most)
  const ofTwice = powersOf('twice', at.twice, MOST_TWICE)
  const ofOnce = powersOf('once', 1 - at.twice, most)
  if (weights.length < size) weights = new Float64Array(2 * size)
  let whole = 0
  for (let i = 0; i < size; i++) {
    const j = twice[i]!
    const own =
      weight[i]! *
      ofTracked[tracked[i]!]! *
      ofUntracked[untracked[i]!]! *
      ofTwice[j]! *
      ofOnce[orders[i]! - j]!
    weights[i] = own
    whole += own
  }
  return whole > VANISHING && whole < 1 / VANISHING ? { whole, scale: ways.scale } : weighByLogs(ways, at)
}

/** As `weighWays`, where powers are beyond what numbers hold. */
function weighByLogs(ways: Ways, { odds, mean, twice }: CellParameters): { whole: number; scale: number } {
  const [lnOdds, lnMean, lnTwice, lnOnce] = [
    Math.log(odds),
    Math.log(mean),
    Math.log(twice),
    Math.log(1 - twice),
  ]
  if (weights.length < ways.size) weights = new Float64Array(2 * ways.size)
  let top = Number.NEGATIVE_INFINITY
  for (let i = 0; i < ways.size; i++) {
    const j = ways.twice[i]!
    weights[i] =
      (ways.log ? ways.log[i]! : Math.log(ways.weight[i]!)) +
      ways.tracked[i]! * lnOdds +
      ways.untracked[i]! * lnMean +
      j * lnTwice +
      (ways.orders[i]! - j) * lnOnce
    top = Math.max(top, weights[i]!)
  }
  let whole = 0
  for (let i = 0; i < ways.size; i++) whole += weights[i] = Math.exp(weights[i]! - top)
  return { whole, scale: ways.scale + top }
}

function weigh(ways: Ways, at: CellParameters): Weighed {
  const { size } = ways
  const { whole, scale } = weighWays(ways, at)
  let [tracked, soft, desktop, untracked, square, counting, again] = [0, 0, 0, 0, 0, 0, 0]
  for (let i = 0; i < size; i++) {
    const w = weights[i]!
    const j = ways.untracked[i]!
    const blank = ways.blank[i]!
    tracked += w * ways.tracked[i]!
    soft += w * (ways.orders[i]! - ways.tracked[i]! - j)
    desktop += w * ways.desktop[i]!
    untracked += w * j * blank
    square += w * ((j * blank) ** 2 + j * blank * (1 - blank))
    counting += w * j * ways.counts[i]!
    again += w * ways.twice[i]!
  }
  return {
    log: scale + Math.log(whole),
    tracked: tracked / whole,
    soft: soft / whole,
    desktop: desktop / whole,
    untracked: untracked / whole,
    square: square / whole,
    counting: counting / whole,
    twice: again / whole,
  }
}

/** Weighs the ways of a cell: by value as far as values are likely to say anything, else by count. */
export function cellPosterior({ byCount, byValue, density }: CellWays, at: CellParameters): CellPosterior {
  const count = weigh(byCount, at)
  const value = byValue && byValue.size > 0 ? weigh(byValue, at) : null
  const against = value
    ? (at.unlike / (1 - at.unlike)) *
      Math.exp(Math.max(-700, Math.min(700, count.log + Math.log(density + 1e-300) - value.log)))
    : 0
  const trust = value ? 1 / (1 + against) : 0
  const found = value ? mixed(value, trust, count) : count
  const { untracked } = found
  return {
    tracked: found.tracked,
    soft: found.soft,
    desktop: found.desktop,
    untracked,
    counting: found.counting,
    variance: Math.max(0, found.square - untracked ** 2),
    twice: found.twice,
    byValue: byValue ? trust : null,
  }
}

const mixed = (value: Weighed, trust: number, count: Weighed): Omit<Weighed, 'log'> => {
  const rest = 1 - trust
  return {
    tracked: trust * value.tracked + rest * count.tracked,
    soft: trust * value.soft + rest * count.soft,
    desktop: trust * value.desktop + rest * count.desktop,
    untracked: trust * value.untracked + rest * count.untracked,
    square: trust * value.square + rest * count.square,
    counting: trust * value.counting + rest * count.counting,
    twice: trust * value.twice + rest * count.twice,
  }
}

/**
 * What the untracked orders of a cell are worth: by value how many of them, as far as single orders are told
 * by it; the rest may be any.
 */
export function singlesOf(ways: CellWays, at: CellParameters, trust: number): Map<number, number> {
  const found = new Map<number, number>()
  const own = ways.byValue
  if (!own || trust === 0 || own.singles.length === 0) return found
  const { whole } = weighWays(own, at)
  for (const { way, value, part } of own.singles)
    found.set(value, (found.get(value) ?? 0) + (trust * part * weights[way]!) / whole)
  return found
}
