import type { Dataset } from '../intake/dataset'
import { append } from '../shared/append'
import { type Day, zoneClock } from '../shared/days'
import { perPath } from '../shared/path'
import { worthAsReported } from './basis'
import type { NetworkTally, Tallies } from './tallies'
import { delaysOver, TAGGED, type Witnesses } from './witnesses'

/** Known beforehand: of another network's orders so many have a click of this one, with its sd. */
const CROSSED = { share: 0.045, sd: 0.06 }
const MOST_CROSSED = 0.5
/** Orders that what is usual of delays is worth. */
const USUAL_DELAYS = 8
/** Most orders come within so many days of their click. */
const REACH = 3

/**
 * What orders that are known by their parameters alone cannot tell, as far as values do: of a network's lines of one
 * claim, how many more than chance are worth just what an order is that is tagged as that ad's, or as another
 * network's; and how long after the line's day it came. Chance is what these lines would find if their values were
 * dealt out among them anew.
 */
export function withClaimedValues(data: Dataset, w: Witnesses, tallies: Tallies): Tallies {
  const { networks } = tallies
  const found = networks.map((own, n) => excessOf(data, w, own, n))
  const crossed = networks.map((of, m) =>
    of.crossed.map((_, n) => (m === n ? 1 : crossedOf(of.tagged, networks[n]!.tagged, m, found[n] ?? null))),
  )
  return {
    ...tallies,
    networks: networks.map((own, n): NetworkTally => {
      const others = networks.reduce((sum, of, m) => sum + (m === n ? 0 : crossed[m]![n]! * of.tagged), 0)
      const delays = found[n] && decreasing([...found[n].delays]).map(count => Math.max(0, count))
      const seen = delays?.reduce((sum, count) => sum + count, 0) ?? 0
      const ledOfTouched = (own.tagged + 0.5) / (own.tagged + others + 0.5)
      return {
        ...own,
        crossed: crossed[n]!,
        ledOfTouched,
        touched: own.touched.map(([count]) => [count / ledOfTouched, 0]),
        lag: delays
          ? own.lag.map((usual, late) => (delays[late]! + USUAL_DELAYS * usual) / (seen + USUAL_DELAYS))
          : own.lag,
      }
    }),
  }
}

/** Of orders tagged as network m's, the share with a click of another: claimed as often as that one's own are. */
function crossedOf(tagged: number, ownTagged: number, m: number, found: Excess | null): number {
  const { share, sd } = CROSSED
  if (!found || !(found.own > 0) || tagged === 0) return share
  const scale = ownTagged / found.own / tagged
  const [told, known] = [1 / (scale ** 2 * found.noise[m]! + 1e-9), 1 / sd ** 2]
  const mean = (told * scale * found.others[m]! + known * share) / (told + known)
  return Math.min(MOST_CROSSED, Math.max(0, mean))
}

/** The nearest list, by least squares, that never rises: neighbours that do are as their mean. */
function decreasing(list: readonly number[]): number[] {
  const blocks: { sum: number; count: number }[] = []
  for (const value of list) {
    let last = { sum: value, count: 1 }
    for (let before = blocks.at(-1); before && before.sum / before.count < last.sum / last.count; ) {
      last = { sum: before.sum + last.sum, count: before.count + last.count }
      blocks.pop()
      before = blocks.at(-1)
    }
    blocks.push(last)
  }
  return blocks.flatMap(({ sum, count }) => Array<number>(count).fill(sum / count))
}

/** Lines whose value a tagged order has, less those that would by chance. */
interface Excess {
  /** of the line's own ad, and by network those tagged as another's */
  own: number
  others: Float64Array
  /** variance of the latter */
  noise: Float64Array
  /** of the line's own ad, by days after the line's */
  delays: Float64Array
}

function excessOf(data: Dataset, w: Witnesses, { lag }: NetworkTally, n: number): Excess | null {
  const lines = w.cells.filter(
    cell => cell.network === n && cell.clicks === 1 && cell.views === 0 && cell.value > 0,
  )
  if (lines.length === 0) return null
  const { time_zone, dated_by } = w.rules[n]!
  const byClick = dated_by === 'click'
  const worth = worthAsReported(data, lines, byClick ? REACH : 0)
  const share = new Map<number, number>()
  for (const { value } of lines) share.set(value, (share.get(value) ?? 0) + 1 / lines.length)
  const days = taggedByDay(data, w, worth, zoneClock(time_zone ?? 'UTC'), value => share.get(value) ?? 0)
  const excess: Excess = {
    own: 0,
    others: new Float64Array(w.networks),
    noise: new Float64Array(w.networks),
    delays: new Float64Array(lag.length),
  }
  // A click that another's came after is older than one that led to the order.
  const mixed = byClick ? lag.map(share => (share + 1 / lag.length) / 2) : null
  const squares = (list: ArrayLike<number>) => Array.from(list).reduce((sum, share) => sum + share ** 2, 0)
  const lagsOver = perPath(days => {
    const [ownLag, otherLag] = [byClick ? lag : null, mixed].map(own =>
      delaysOver(own, Number(days)).map(({ share }) => share),
    ) as [number[], number[]]
    return { ownLag, otherLag, ofOwn: squares(ownLag), ofOthers: squares(otherLag) }
  })
  for (const line of lines) {
    const { ownLag, otherLag, ofOwn, ofOthers } = lagsOver(String(line.days))
    for (let late = 0; late < ownLag.length; late++) {
      const weight = otherLag[late]! / ofOthers
      const day = days.get(line.day + late)
      if (!day) continue
      let own = -(day.chanceOfLeaf.get(line.leaf) ?? 0)
      day.chance.forEach((chance, m) => {
        if (m === n) return
        excess.others[m]! -= weight * chance
        excess.noise[m]! += weight ** 2 * chance
      })
      for (const o of day.byValue.get(line.value) ?? []) {
        const leaf = w.origin[o]!
        const m = data.tree.networkOf[leaf]!
        if (w.claimedAt[leaf] === line.leaf) own += 1
        else if (m !== n) excess.others[m]! += weight
      }
      excess.own += (ownLag[late]! / ofOwn) * own
      if (line.days === 1) excess.delays[late]! += own
    }
  }
  return excess
}

/** The tagged orders of a day, with how many of them a line would fit by chance. */
interface TaggedDay {
  byValue: Map<number, number[]>
  /** by network, and by leaf */
  chance: Float64Array
  chanceOfLeaf: Map<number, number>
}

function taggedByDay(
  { orders, tree }: Dataset,
  w: Witnesses,
  worth: Float64Array,
  clock: ReturnType<typeof zoneClock>,
  shareOf: (value: number) => number,
): Map<Day, TaggedDay> {
  const days = new Map<Day, TaggedDay>()
  orders.forEach((order, o) => {
    const leaf = w.origin[o]!
    if (w.kind[o] !== TAGGED || leaf < 0) return
    const at = clock(order.ordered_at).day
    let day = days.get(at)
    if (!day)
      days.set(
        at,
        (day = { byValue: new Map(), chance: new Float64Array(w.networks), chanceOfLeaf: new Map() }),
      )
    append(day.byValue, worth[o]!, o)
    const chance = shareOf(worth[o]!)
    day.chance[tree.networkOf[leaf]!]! += chance
    const claimedAt = w.claimedAt[leaf]!
    day.chanceOfLeaf.set(claimedAt, (day.chanceOfLeaf.get(claimedAt) ?? 0) + chance)
  })
  return days
}
