import { describe, expect, it } from 'vitest'
import { type CellParameters, cellPosterior, type Member, singlesOf, waysOf } from './cell'
import { gatherValues, type ValueSpread } from './values'
import type { Cell } from './witnesses'

const cell = (clicks: number, value: number, views = 0): Cell => ({
  network: 0,
  leaf: 0,
  day: 0,
  clicks,
  views,
  value,
})
const member = (value: number, more: Partial<Member> = {}): Member => ({
  odds: 1,
  value,
  desktop: 0,
  soft: false,
  ...more,
})
/** Values with their weights; half of what they are counts. */
function spread(...values: [value: number, weight: number][]): ValueSpread {
  const { add, spread: made } = gatherValues()
  for (const [value, weight] of values) add(value, weight, weight / 2, weight)
  return made()
}
const at: CellParameters = { odds: 3, mean: 0.4, twice: 0.05, unlike: 1e-9 }

/**
 * The same by going through everything: each member not claimed, claimed or claimed twice; each number of untracked
 * orders with each of their values, claimed or claimed twice.
 */
function byHand(of: Cell, members: readonly Member[], values: ValueSpread, p: CellParameters) {
  let [whole, tracked, untracked, twice] = [0, 0, 0, 0]
  const prices = [...values.of].map(([value, { share }]) => ({ value, share }))
  const once = 1 - p.twice
  const untrackedToo = (clicks: number, value: number, weight: number, s: number, j: number, d: number) => {
    if (clicks === 0) {
      if (value !== 0) return
      let orders = weight
      for (let k = 2; k <= j; k++) orders /= k
      whole += orders
      tracked += orders * s
      untracked += orders * j
      twice += orders * d
      return
    }
    for (const price of prices)
      for (const times of [1, 2]) {
        if (times > clicks || d + times - 1 > 3) continue
        const next = weight * p.mean * price.share * (times === 2 ? p.twice : once)
        untrackedToo(clicks - times, value - times * price.value, next, s, j + 1, d + times - 1)
      }
  }
  const choose = (k: number, clicks: number, value: number, weight: number, s: number, d: number) => {
    if (clicks < 0 || d > 3) return
    if (k === members.length) {
      untrackedToo(clicks, value, weight, s, 0, d)
      return
    }
    const one = members[k]!
    choose(k + 1, clicks, value, weight, s, d)
    const odd = weight * one.odds * (one.soft ? 1 : p.odds)
    choose(k + 1, clicks - 1, value - one.value, odd * once, s + (one.soft ? 0 : 1), d)
    choose(k + 1, clicks - 2, value - 2 * one.value, odd * p.twice, s + (one.soft ? 0 : 1), d + 1)
  }
  choose(0, of.clicks, of.value, 1, 0, 0)
  return { tracked: tracked / whole, untracked: untracked / whole, twice: twice / whole }
}

describe('a line of daily claims', () => {
  const prices = spread([2000, 3], [3500, 2], [5000, 1])
  it.each<[string, Cell, Member[]]>([
    ['one claim of a tracked order’s value', cell(1, 4000), [member(4000)]],
    [
      'one claim that a tracked order or an untracked one may be',
      cell(1, 3500),
      [member(3500), member(2000)],
    ],
    ['two claims of one order twice or two alike', cell(2, 4000), [member(2000)]],
    [
      'three claims, of values that sum in many ways',
      cell(3, 9000),
      [member(2000), member(3500), member(5000)],
    ],
    [
      'four claims, with an order whose day is not known',
      cell(4, 12_500),
      [member(5000, { soft: true, odds: 0.2 }), member(3500)],
    ],
    [
      'claims of members that are not equally likely',
      cell(2, 5500),
      [member(2000, { odds: 2 }), member(3500, { odds: 0.3 })],
    ],
    ['two claims of untracked orders alone', cell(2, 7000), []],
    ['five claims', cell(5, 16_000), [member(3500), member(3500), member(2000)]],
  ])('is weighed as by going through everything: %s', (_, of, members) => {
    const found = cellPosterior(waysOf(of, members, prices, null, true), at)
    const truth = byHand(of, members, prices, at)
    expect(found.byValue).toBeGreaterThan(0.999)
    // Of more than two untracked orders, those claimed twice are reckoned as one more of the same: nearly the same.
    const digits = of.clicks > 3 ? 1 : 6
    expect(found.tracked).toBeCloseTo(truth.tracked, digits)
    expect(found.untracked).toBeCloseTo(truth.untracked, digits)
    expect(found.twice).toBeCloseTo(truth.twice, digits)
  })
  it('is weighed by count alone where its value is that of no orders', () => {
    const ways = waysOf(cell(1, 123), [member(4000)], prices, null, true)
    const found = cellPosterior(ways, { ...at, unlike: 0.05 })
    // The tracked order at odds 3 against an untracked one at 0.4.
    expect(found.byValue).toBe(0)
    expect(found.tracked).toBeCloseTo(3 / 3.4, 9)
    expect(found.untracked).toBeCloseTo(0.4 / 3.4, 9)
    expect(found.counting).toBeCloseTo(0.2 / 3.4, 9)
    expect(found.variance).toBeCloseTo((0.4 / 3.4) * (3 / 3.4), 9)
  })
  it('looks at no value where it is asked not to', () => {
    const found = cellPosterior(waysOf(cell(1, 4000), [member(4000)], prices, null, false), at)
    expect(found.byValue).toBeNull()
    expect(found.tracked).toBeCloseTo(3 / 3.4, 9)
  })
  it('counts the desktops among its tracked orders', () => {
    const members = [member(4000, { desktop: 1 }), member(3000)]
    const found = cellPosterior(waysOf(cell(1, 4000), members, prices, null, true), at)
    expect(found.desktop).toBeCloseTo(found.tracked, 6)
    const other = cellPosterior(waysOf(cell(1, 3000), members, prices, null, true), at)
    expect(other.desktop).toBeCloseTo(0, 6)
    const both = cellPosterior(waysOf(cell(1, 1), members, prices, null, false), at)
    expect(both.desktop).toBeCloseTo(both.tracked / 2, 6)
  })
  it('lets a view be worth what any of the day’s orders is', () => {
    // By value the claim by click is the tracked order, and the view another one.
    const views = spread([9100, 1], [700, 1])
    const found = cellPosterior(waysOf(cell(1, 4000 + 9100, 1), [member(4000)], prices, views, true), at)
    expect(found.tracked).toBeGreaterThan(0.99)
    const untracked = cellPosterior(waysOf(cell(1, 2000 + 9100, 1), [member(4000)], prices, views, true), at)
    expect(untracked.untracked).toBeGreaterThan(0.99)
  })
  it('of more claims than can be told apart is weighed by count', () => {
    const found = cellPosterior(waysOf(cell(13, 40_000), [member(4000)], prices, null, true), at)
    expect(found.byValue).toBeNull()
    expect(found.tracked + found.untracked + found.twice).toBeCloseTo(13, 6)
  })
  it('says what its untracked order is worth, where one value says it', () => {
    const ways = waysOf(cell(2, 4000 + 3500), [member(4000)], prices, null, true)
    const { byValue, untracked } = cellPosterior(ways, at)
    const worth = singlesOf(ways, at, byValue!)
    expect([...worth.keys()]).toEqual([3500])
    expect(worth.get(3500)).toBeCloseTo(untracked, 6)
  })
})
