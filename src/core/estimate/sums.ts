import type { Dataset } from '../intake/dataset'
import { append } from '../shared/append'
import { type Day, zoneClock } from '../shared/days'
import { worthAsReported } from './basis'
import { type CellParameters, type CellWays, cellPosterior, type Member, waysOf } from './cell'
import { type Claimed, oddsByDevice } from './claimed'
import { odds, shareOfOdds } from './odds'
import { doubtsByClaims, ownShareByBoth, ownShareByIdentity } from './ownShare'
import { ratePriors } from './rates'
import type { DatedMember, DayShares, Learned, Reading, Round } from './reading'
import { type Wish, wishesOf } from './shareOverOrders'
import { sharesInTime } from './sharesInTime'
import { ofAllTime, type Tallies } from './tallies'
import { gatherValues, type ValueSpread } from './values'
import { BLANK, type Cell, delaysOver, KNOWN, OFFSITE, TAGGED, type Witnesses } from './witnesses'

const ROUNDS = 60
const SETTLED = 2e-4
/** Beta priors: of a claim counted twice, and of a cell whose values say nothing. */
const TWICE = [2, 98] as const
const UNLIKE = [1, 19] as const
/** Delays rarer than these are passed over: of orders whose day of click is not known, and for values. */
const LEAST_LAG = 1e-3
const LEAST_LAG_OF_VALUES = 2e-3
/** Most orders come within so many days of their click. */
const REACH = 3

/** As `Claimed`, before the untracked orders of all networks are shared out: its parts are still to come. */
interface Summed extends Claimed {
  wishes: Wish[]
}

/**
 * What the daily sums of one network say (docs/computation.md, Estimate): in each cell every way in which its
 * claims can have come about from tracked orders, orders without a trace and orders claimed twice is weighed by
 * count and by value, and the shares of all these are learned from all cells (expectation–maximisation;
 * Dempster, Laird & Rubin 1977): first by counts alone, then with values.
 */
export function readSums(data: Dataset, w: Witnesses, tallies: Tallies, n: number): Summed {
  const reading = prepare(data, w, tallies, n)
  const views = valuesOfViews(reading)
  let learned = begin(reading)
  let last: Round | null = null
  let spreadOf: ((cell: Cell) => ValueSpread) | null = null
  for (const values of w.byParameters ? [false, true, true, true] : [false, true]) {
    spreadOf = valuesOfUntracked(reading, learned.touchOfBlank)
    const ways = cellWays(reading, learned, spreadOf, views, values)
    let odd = learned.p.map(odds)
    for (let i = 0; i < ROUNDS; i++) {
      last = round(reading, learned, ways, odd)
      const { learned: next } = last
      odd = odd.map((value, t) => (value * odds(next.p[t]!)) / odds(learned.p[t]!))
      const change = Math.max(
        Math.abs(next.q.share - learned.q.share),
        ...next.p.map((share, t) => Math.abs(share - learned.p[t]!)),
      )
      learned = next
      if (change < SETTLED) break
    }
    learned = withDevices(reading, learned, last!)
  }
  const trials = sumOf(reading.trials)
  return {
    capture: learned.p,
    captureVariance: learned.pVariance,
    share: learned.common,
    shareVariance:
      learned.commonVariance ||
      (learned.common * (1 - learned.common) + learned.allVariance / Math.max(1, trials)) / (trials + 2),
    byDevice: learned.byDevice,
    own: learned.q,
    untracked: learned.all,
    untrackedVariance: learned.allVariance,
    parts: [],
    wishes: wishesOf(reading, last!, tallies.networks[n]!.ledOfTouched),
    unlike: learned.unlike,
    twice: learned.twice,
  }
}

const sumOf = (list: ArrayLike<number>) => Array.prototype.reduce.call(list, (a, b) => a + b, 0) as number
const cellKey = (leaf: number, day: Day) => leaf * 65_536 + day
const dayOfKey = (key: number): Day => key % 65_536

function prepare(data: Dataset, w: Witnesses, tallies: Tallies, n: number): Reading {
  const { orders, tree } = data
  const own = tallies.networks[n]!
  const byClick = w.rules[n]!.dated_by === 'click'
  const leaves = tree.leaves.flatMap((_, leaf) =>
    tree.networkOf[leaf] === n && w.claimedAt[leaf] === leaf ? [leaf] : [],
  )
  const cells = w.cells.filter(cell => cell.network === n && cell.clicks > 0)
  const worth = worthAsReported(data, cells, byClick ? REACH : 0)
  const members = membersOf(data, w, tallies, n, worth)
  const trials = new Float64Array(tallies.stretches)
  for (const [key, list] of members)
    for (const { share } of list)
      if (share === 1 || w.byParameters) trials[tallies.stretchOf(dayOfKey(key))]! += share
  let [othersTouched, blanks] = [0, 0]
  orders.forEach((_, o) => {
    if (w.kind[o] === BLANK) blanks += 1
    const m = w.kind[o] === TAGGED ? tree.networkOf[w.origin[o]!] : undefined
    if (m !== undefined && m !== n) othersTouched += tallies.networks[m]!.crossed[n]!
  })
  return {
    data,
    w,
    tallies,
    n,
    cells,
    worth,
    leaves,
    byClick,
    members,
    trials,
    shares: dayShares(w, n, leaves, own.lag, byClick),
    identity: ownShareByIdentity(tallies, own),
    othersTouched,
    blanks,
  }
}

/** Tracked orders by the cell in which the network may claim them. */
function membersOf(
  { orders, tree }: Dataset,
  w: Witnesses,
  { networks }: Tallies,
  n: number,
  worth: Float64Array,
): Map<number, DatedMember[]> {
  const { lag, desktopShare } = networks[n]!
  const { time_zone, dated_by } = w.rules[n]!
  const dayOf = zoneClock(time_zone ?? 'UTC')
  const members = new Map<number, DatedMember[]>()
  orders.forEach((order, o) => {
    const place = o * w.networks + n
    const value = worth[o]!
    const day = dayOf(order.ordered_at).day
    if (w.kind[o] === KNOWN && w.touch[place]! >= 0) {
      const at = w.startOf(n, dated_by === 'click' ? w.touchDay[place]! : day)
      append(members, cellKey(w.claimedAt[w.touch[place]!]!, at), {
        share: 1,
        value,
        desktop: w.touchDesktop[place]!,
      })
    } else if (w.kind[o] === TAGGED && tree.networkOf[w.origin[o]!] === n) {
      const leaf = w.claimedAt[w.origin[o]!]!
      if (dated_by !== 'click')
        append(members, cellKey(leaf, w.startOf(n, day)), { share: 1, value, desktop: desktopShare })
      else {
        const shares = new Map<Day, number>()
        lag.forEach((share, late) => {
          const at = w.startOf(n, day - late)
          if (share > LEAST_LAG) shares.set(at, (shares.get(at) ?? 0) + share)
        })
        for (const [at, share] of shares)
          append(members, cellKey(leaf, at), { share, value, desktop: desktopShare })
      }
    }
  })
  return members
}

function dayShares(
  w: Witnesses,
  n: number,
  leaves: readonly number[],
  lag: Float64Array,
  byClick: boolean,
): DayShares {
  const upTo = lag.slice()
  for (let late = 1; late < upTo.length; late++) upTo[late]! += upTo[late - 1]!
  return new Map(
    leaves.map(leaf => {
      const own = new Map<number, number>()
      let whole = 0
      for (const [day, clicks] of w.clicksAt[leaf]!) {
        const left = w.days - 1 - day
        if (byClick) {
          const weight = clicks * upTo[Math.min(lag.length - 1, Math.max(0, left))]!
          own.set(day, weight)
          whole += weight
          continue
        }
        for (let late = 0; late < lag.length && late <= left; late++) {
          const weight = clicks * lag[late]!
          own.set(day + late, (own.get(day + late) ?? 0) + weight)
          whole += weight
        }
      }
      const shares = new Map<number, number>()
      for (const [day, weight] of own) {
        const at = w.startOf(n, day + w.firstDay) - w.firstDay
        shares.set(at, (shares.get(at) ?? 0) + weight / Math.max(whole, 1e-9))
      }
      return [leaf, shares]
    }),
  )
}

function begin({ cells, tallies, n, w, identity, blanks }: Reading): Learned {
  const own = tallies.networks[n]!
  const claims = cells.reduce((sum, cell) => sum + cell.clicks, 0)
  const common = Math.min(0.9, Math.max(0.05, (claims * identity.share) / Math.max(1, own.touches) / 1.05))
  return {
    p: new Float64Array(tallies.stretches).fill(common),
    pVariance: new Float64Array(tallies.stretches).fill(0.01),
    common,
    commonVariance: 0,
    q: identity,
    byDevice: [1, 1],
    twice: TWICE[0] / (TWICE[0] + TWICE[1]),
    unlike: UNLIKE[0] / (UNLIKE[0] + UNLIKE[1]),
    untracked: new Float64Array(w.certain.length),
    all: 0,
    allVariance: 0,
    touchOfBlank: Math.min(1, (own.touches * (1 - identity.share)) / identity.share / Math.max(1, blanks)),
  }
}

/** What claims of orders without a trace are worth, by day. */
function valuesOfUntracked(
  { data, w, tallies, n, byClick, worth }: Reading,
  touchOfBlank: number,
): (cell: Cell) => ValueSpread {
  const { lag } = tallies.networks[n]!
  const onDay = new Map<Day, number[]>()
  data.orders.forEach((order, o) => {
    if (w.kind[o] !== KNOWN && w.kind[o] !== OFFSITE) append(onDay, order.day, o)
  })
  return remembered(({ day, days }) => {
    const { add, spread } = gatherValues()
    for (const { share, late } of delaysOver(byClick ? lag : null, days, LEAST_LAG_OF_VALUES))
      for (const o of onDay.get(day + late) ?? []) {
        const { counts } = data.orders[o]!
        const value = worth[o]!
        const m = data.tree.networkOf[w.origin[o]!]
        const weight = share * touchOfBlank
        if (w.kind[o] === BLANK) add(value, weight, counts ? weight : 0, weight)
        // Tagged orders of other networks explain claims, and are no untracked ones.
        else if (m !== undefined && m !== n) add(value, share * tallies.networks[m]!.crossed[n]!, 0, 0)
      }
    return spread()
  })
}

/** What claims by view are worth, by day: as the day's orders without a click of the network. */
function valuesOfViews({ data, w, n, worth }: Reading): (cell: Cell) => ValueSpread {
  const onDay = new Map<Day, number[]>()
  data.orders.forEach((order, o) => {
    const clicked =
      w.kind[o] === KNOWN ? w.touch[o * w.networks + n]! >= 0 : data.tree.networkOf[w.origin[o]!] === n
    if (!clicked) append(onDay, order.day, worth[o]!)
  })
  return remembered(({ day, days }) => {
    const { add, spread } = gatherValues()
    for (let late = 0; late < days; late++)
      for (const value of onDay.get(day + late) ?? []) add(value, 1, 0, 0)
    return spread()
  })
}

function remembered<T>(make: (cell: Cell) => T): (cell: Cell) => T {
  const known = new Map<Day, T>()
  return cell => {
    let found = known.get(cell.day)
    if (found === undefined) known.set(cell.day, (found = make(cell)))
    return found
  }
}

function cellWays(
  { cells, members, tallies }: Reading,
  { p, byDevice }: Learned,
  spreadOf: (cell: Cell) => ValueSpread,
  viewsOf: (cell: Cell) => ValueSpread,
  values: boolean,
): CellWays[] {
  return cells.map(cell => {
    const share = p[tallies.stretchOf(cell.day)]!
    const own = (members.get(cellKey(cell.leaf, cell.day)) ?? []).map(
      (one): Member => ({
        soft: one.share < 1,
        // Fixed for all rounds: odds that follow the learned share run away.
        odds:
          one.share < 1
            ? odds(one.share * share)
            : byDevice[0] * (1 - one.desktop) + byDevice[1] * one.desktop,
        value: one.value,
        desktop: one.desktop,
      }),
    )
    const views = cell.views > 0 ? viewsOf(cell) : null
    return waysOf(cell, own, spreadOf(cell), views, values)
  })
}

/** One round: what each cell says by what was learned, and what all cells teach. */
function round(reading: Reading, before: Learned, ways: CellWays[], odd: Float64Array): Round {
  const { cells, tallies, n, w, trials, shares, othersTouched, identity } = reading
  const { touches } = tallies.networks[n]!
  const missed = tallies.lossOdds.map(loss => 1 - shareOfOdds(odds(before.q.share) / loss))
  const expected = expectedOrders(reading, before, missed)
  const others = othersTouched / Math.max(1, touches + before.all)
  const untracked = new Float64Array(w.certain.length)
  const hits = new Float64Array(tallies.stretches)
  let [all, allVariance, again, tried, told, desktops] = [0, 0, 0, 0, 0, 0]
  const at = cells.map(({ leaf, day }): CellParameters => {
    const t = tallies.stretchOf(day)
    const share = shares.get(leaf)!.get(day - w.firstDay) ?? 1 / 60
    return {
      odds: odd[t]!,
      mean: Math.max(1e-4, expected[leaf]! * before.p[t]! * (missed[t]! + others) * share),
      twice: before.twice,
      unlike: before.unlike,
    }
  })
  const posteriors = cells.map((cell, i) => {
    const found = cellPosterior(ways[i]!, at[i]!)
    untracked[cell.leaf]! += found.untracked
    all += found.untracked
    allVariance += found.variance
    hits[tallies.stretchOf(cell.day)]! += found.tracked + (w.byParameters ? found.soft : 0)
    desktops += found.desktop
    again += found.twice
    if (found.byValue !== null) {
      tried += 1
      told += found.byValue
    }
    return found
  })
  const tracked = sumOf(hits)
  const common = Math.min(0.98, (tracked + 0.6) / (sumOf(trials) + 1))
  const inTime = sharesInTime(hits, trials, common)
  const doubts = w.byParameters ? doubtsByClaims(sumOf(trials), common, all, allVariance) : null
  const learned: Learned = {
    ...before,
    commonVariance: (doubts?.network ?? 0) * (common * (1 - common)) ** 2,
    p: inTime.share.map(share => Math.min(0.98, share)),
    pVariance: inTime.variance,
    common,
    q: ownShareByBoth(
      common * (touches + (w.byParameters ? othersTouched : 0)),
      all,
      allVariance,
      identity,
      doubts?.own,
    ),
    twice: (again + TWICE[0]) / (common * touches + all + TWICE[0] + TWICE[1]),
    unlike: (tried - told + UNLIKE[0]) / (tried + UNLIKE[0] + UNLIKE[1]),
    untracked,
    all,
    allVariance,
  }
  return { learned, ways, at, posteriors, hitsBy: [tracked - desktops, desktops] }
}

/** True orders with a click of each ad, by what is tracked or claimed of them, its clicks, and ads like it. */
function expectedOrders(
  { data, w, tallies, leaves }: Reading,
  { p, untracked }: Learned,
  missed: Float64Array,
): Float64Array {
  const seenShare = p.map((share, t) => 1 - missed[t]! * (1 - share))
  const count = w.certain.length
  const [seen, clicks, exposure] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)]
  for (const leaf of leaves) {
    seen[leaf] = tallies.touched[leaf]! + untracked[leaf]!
    for (const [day, billed] of w.clicksAt[leaf]!) {
      clicks[leaf]! += billed
      exposure[leaf]! += billed * seenShare[tallies.stretchOf(day + w.firstDay)]!
    }
  }
  const priors = ratePriors(data.tree, leaves, seen, exposure)
  const usual = sumOf(seenShare) / seenShare.length
  const expected = new Float64Array(count)
  leaves.forEach((leaf, i) => {
    const prior = priors[i]
    expected[leaf] = prior
      ? (clicks[leaf]! * (seen[leaf]! + prior.shape)) / (exposure[leaf]! + prior.shape / prior.rate)
      : seen[leaf]! / usual
  })
  return expected
}

/** What the last round tells of devices, and of orders without a trace: begun from in the next pass. */
function withDevices({ tallies, n, trials, blanks }: Reading, learned: Learned, { hitsBy }: Round): Learned {
  const own = tallies.networks[n]!
  const [others, desktops] = ofAllTime(own.touched)
  const tagged = sumOf(trials) - others - desktops
  const of: [number, number] = [
    others + tagged * (1 - own.desktopShare),
    desktops + tagged * own.desktopShare,
  ]
  return {
    ...learned,
    byDevice: oddsByDevice(learned.common, hitsBy, of),
    touchOfBlank: Math.min(1, learned.all / learned.common / Math.max(1, blanks)),
  }
}
