import { gammaDensity } from './gamma'
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
  tracked: Uint8Array
  untracked: Uint8Array
  twice: Uint8Array
  /** orders claimed, soft members among them */
  orders: Uint8Array
  /** ln c */
  weight: Float64Array
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

/** Gathers ways; those alike in their counts are one. */
function gatherWays() {
  const places = new Map<number, number>()
  const rows: {
    tracked: number
    untracked: number
    twice: number
    orders: number
    c: number
    counts: number
    blank: number
    desktop: number
  }[] = []
  const singles: Ways['singles'] = []
  const add = (
    way: { tracked: number; soft: number; untracked: number; twice: number; desktop: number },
    c: number,
    counts: number,
    blank: number,
    single = -1,
  ) => {
    if (!(c > 0)) return
    const { tracked, soft, untracked, twice, desktop } = way
    const key = ((tracked * 64 + untracked) * 8 + twice) * 16 + soft
    let place = places.get(key)
    if (place === undefined) {
      const orders = tracked + untracked + soft
      place = rows.push({ tracked, untracked, twice, orders, c: 0, counts: 0, blank: 0, desktop: 0 }) - 1
      places.set(key, place)
    }
    const row = rows[place]!
    row.c += c
    row.counts += c * counts
    row.blank += c * blank
    row.desktop += c * desktop
    if (single >= 0) singles.push({ way: place, value: single, part: c })
  }
  const ways = (): Ways => {
    const column = (pick: (row: (typeof rows)[number]) => number) => Float64Array.from(rows, pick)
    const small = (pick: (row: (typeof rows)[number]) => number) => Uint8Array.from(rows, pick)
    for (const single of singles) single.part /= rows[single.way]!.c
    return {
      size: rows.length,
      tracked: small(r => r.tracked),
      untracked: small(r => r.untracked),
      twice: small(r => r.twice),
      orders: small(r => r.orders),
      weight: column(r => Math.log(r.c)),
      counts: column(r => r.counts / r.c),
      blank: column(r => r.blank / r.c),
      desktop: column(r => r.desktop / r.c),
      singles,
    }
  }
  return { add, ways }
}

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

/** The ways of a cell by how many claims it has. */
function waysByCount({ clicks }: Cell, members: readonly Member[], spread: ValueSpread): Ways {
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
        const way = { tracked, soft: g, untracked, twice, desktop: hard.desktops[tracked]! / e }
        add(way, c, spread.counts, spread.blank)
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
  let choices = new Map<number, Choice>()
  const none = { tracked: 0, soft: 0, twice: 0, value: 0, odds: 1, desktop: 0 }
  choices.set(0, none)
  for (const member of members) {
    const next = new Map([...choices].map(([key, choice]) => [key, { ...choice }]))
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
        const known = next.get(key)
        if (known) {
          known.odds += odds
          known.desktop += desktop
        } else next.set(key, { tracked, soft, twice, value: worth, odds, desktop })
      }
    choices = next
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
  const untrackedWorth = (choice: Choice, desktop: number, number: number, rest: number, c: number) => {
    if (rest < 0) return
    const way = (untracked: number, more: number) => ({
      ...choice,
      untracked,
      twice: choice.twice + more,
      desktop,
    })
    if (number === 0) {
      if (rest === 0) add(way(0, 0), c, 0, 0)
      return
    }
    const one = (value: number, more: number) => {
      const found = spread.of.get(value)
      if (!found) return
      const { share } = found
      add(way(1, more), c * share, found.counts / share, found.blank / share, value)
    }
    if (number === 1) {
      one(rest, 0)
      return
    }
    add(way(number, 0), (c * shareOfSum(spread, number, rest)) / factorial(number), counts, blank)
    if (choice.twice >= MOST_TWICE) return
    if (number === 2) {
      if (rest % 2 === 0) one(rest / 2, 1)
    } else {
      const likely =
        number === 3
          ? tells
            ? shareOfPair(spread, 2, rest)
            : gammaDensity(rest, 3 * mean, 5 * variance)
          : gammaDensity(rest, number * mean, (number + 2) * variance)
      add(way(number - 1, 1), (c * likely) / factorial(number - 2), counts, blank)
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
  for (const choice of choices) {
    const desktop = choice.desktop / choice.odds
    const rest = cell.value - choice.value
    const number = cell.clicks - choice.tracked - choice.soft - choice.twice
    const viewsTell =
      few || number === 0 || (number === 1 && pairsTell((sumsOfViews?.size ?? 0) * spread.of.size, spread))
    if (cell.views === 0) untrackedWorth(choice, desktop, number, rest, choice.odds)
    else if (sumsOfViews && viewsTell)
      for (const [value, share] of sumsOfViews)
        untrackedWorth(choice, desktop, number, rest - value, choice.odds * share)
    else {
      const others = views ?? spread
      const likely = gammaDensity(
        rest,
        number * mean + cell.views * others.mean,
        number * variance + cell.views * others.variance,
      )
      add(
        { ...choice, untracked: number, desktop },
        (choice.odds * likely) / factorial(number),
        counts,
        blank,
      )
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
  desktop: number
  untracked: number
  square: number
  counting: number
  twice: number
}

function weigh(ways: Ways, { odds, mean, twice }: CellParameters): Weighed {
  const [lnOdds, lnMean, lnTwice, lnOnce] = [odds, mean, twice, 1 - twice].map(Math.log) as [
    number,
    number,
    number,
    number,
  ]
  const { size, weight } = ways
  const logOf = (i: number) =>
    weight[i]! +
    ways.tracked[i]! * lnOdds +
    ways.untracked[i]! * lnMean +
    ways.twice[i]! * lnTwice +
    (ways.orders[i]! - ways.twice[i]!) * lnOnce
  let top = Number.NEGATIVE_INFINITY
  for (let i = 0; i < size; i++) top = Math.max(top, logOf(i))
  let [whole, tracked, desktop, untracked, square, counting, again] = [0, 0, 0, 0, 0, 0, 0]
  for (let i = 0; i < size; i++) {
    const w = Math.exp(logOf(i) - top)
    const j = ways.untracked[i]!
    const blank = ways.blank[i]!
    whole += w
    tracked += w * ways.tracked[i]!
    desktop += w * ways.desktop[i]!
    untracked += w * j * blank
    square += w * ((j * blank) ** 2 + j * blank * (1 - blank))
    counting += w * j * ways.counts[i]!
    again += w * ways.twice[i]!
  }
  return {
    log: top + Math.log(whole),
    tracked: tracked / whole,
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
  const mix = (pick: keyof Weighed) => (value ? trust * value[pick] : 0) + (1 - trust) * count[pick]
  const untracked = mix('untracked')
  return {
    tracked: mix('tracked'),
    desktop: mix('desktop'),
    untracked,
    counting: mix('counting'),
    variance: Math.max(0, mix('square') - untracked ** 2),
    twice: mix('twice'),
    byValue: byValue ? trust : null,
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
  const { log } = weigh(own, at)
  for (const { way, value, part } of own.singles) {
    const weight =
      own.weight[way]! +
      own.tracked[way]! * Math.log(at.odds) +
      own.untracked[way]! * Math.log(at.mean) +
      own.twice[way]! * Math.log(at.twice) +
      (own.orders[way]! - own.twice[way]!) * Math.log(1 - at.twice)
    found.set(value, (found.get(value) ?? 0) + trust * part * Math.exp(weight - log))
  }
  return found
}
