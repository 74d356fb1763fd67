import { append } from '../shared/append'
import type { Day } from '../shared/days'
import { singlesOf } from './cell'
import type { ClaimedPart } from './claimed'
import type { Reading, Round } from './reading'
import { BLANK, delaysOver } from './witnesses'

/** What cannot be told by value is shared among so many orders of the nearest days. */
const MOST_SHARERS = 8
const ROUNDS = 8
const LEAST = 1e-4

/** What a line of daily sums claims of untracked orders, and which orders these may be. */
export interface Wish {
  leaf: number
  /** orders wanted, with their variance */
  amount: number
  variance: number
  /** orders that they may be, with how likely */
  orders: number[]
  weights: number[]
}

/**
 * The wishes of a network's cells: their untracked orders are those without a trace whose day and value fit.
 *
 * @param ledOfTouched of orders with a click of the network, the share that is its own
 */
export function wishesOf(
  { data, w, tallies, n, cells, byClick, worth }: Reading,
  { ways, at, posteriors }: Round,
  ledOfTouched: number,
): Wish[] {
  const onDay = new Map<Day, number[]>()
  data.orders.forEach((order, o) => {
    if (w.kind[o] === BLANK && order.counts) append(onDay, order.day, o)
  })
  const { lag } = tallies.networks[n]!
  const delaysOf = new Map<number, { late: number; share: number }[]>()
  return cells.flatMap((cell, i): Wish[] => {
    const { byValue, counting, variance } = posteriors[i]!
    const amount = counting * ledOfTouched
    if (amount < LEAST) return []
    const delays =
      delaysOf.get(cell.days) ?? delaysOver(byClick ? lag : null, cell.days).sort((a, b) => b.share - a.share)
    delaysOf.set(cell.days, delays)
    const candidates = new Map<number, number>()
    const among = (found: readonly { o: number; share: number }[], wanted: number) => {
      const whole = found.reduce((sum, { share }) => sum + share, 0)
      for (const { o, share } of found) candidates.set(o, (candidates.get(o) ?? 0) + (wanted * share) / whole)
      return whole > 0 ? wanted : 0
    }
    let told = 0
    for (const [value, wanted] of singlesOf(ways[i]!, at[i]!, byValue ?? 0)) {
      const fitting = delays.flatMap(({ late, share }) =>
        (onDay.get(cell.day + late) ?? []).filter(o => worth[o] === value).map(o => ({ o, share })),
      )
      told += among(fitting, wanted)
    }
    const near: { o: number; share: number }[] = []
    for (const { late, share } of delays) {
      for (const o of onDay.get(cell.day + late) ?? []) near.push({ o, share })
      if (near.length >= MOST_SHARERS) break
    }
    among(near, Math.max(LEAST, counting - told))
    return [
      {
        leaf: cell.leaf,
        amount,
        variance: ledOfTouched ** 2 * variance + amount * (1 - ledOfTouched),
        orders: [...candidates.keys()],
        weights: [...candidates.values()],
      },
    ]
  })
}

/**
 * Shares orders among the wishes of all networks, none more than once in all: each wish takes of its orders as
 * much as it wants, and orders that too many take are cut, by turns.
 *
 * @param room per order: how much of it is left
 * @returns parts by wish
 */
export function shareOverOrders(wishes: readonly Wish[], room: Float64Array): ClaimedPart[] {
  const parts = wishes.map(wish => Float64Array.from(wish.weights))
  const used = new Float64Array(room.length)
  for (let round = 0; round < ROUNDS; round++) {
    used.fill(0)
    wishes.forEach(({ amount, orders }, i) => {
      const own = parts[i]!
      let whole = 0
      for (const part of own) whole += part
      for (let k = 0; k < own.length; k++) {
        own[k] = whole > 0 ? Math.min(room[orders[k]!]!, (own[k]! * amount) / whole) : 0
        used[orders[k]!]! += own[k]!
      }
    })
    let fits = true
    wishes.forEach(({ orders }, i) => {
      const own = parts[i]!
      for (let k = 0; k < own.length; k++) {
        const order = orders[k]!
        if (used[order]! <= room[order]! + LEAST) continue
        own[k]! *= room[order]! / used[order]!
        fits = false
      }
    })
    if (fits) break
  }
  const shared: ClaimedPart[] = []
  wishes.forEach(({ leaf, orders, amount, variance }, i) => {
    const own = parts[i]!
    for (let k = 0; k < own.length; k++)
      if (own[k]! >= LEAST)
        shared.push({ order: orders[k]!, leaf, part: own[k]!, variance: (variance * own[k]!) / amount })
  })
  return shared
}
