import { describe, expect, it } from 'vitest'
import { type CellParameters, cellPosterior, type Member, singlesOf, waysOf } from './cell'
import { gammaDensity } from './gamma'
import { gatherValues, type ValueSpread } from './values'
import type { Cell } from './witnesses'

const cell = (clicks: number, value: number, views = 0): Cell => ({
  network: 0,
  leaf: 0,
  day: 0,
  days: 1,
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

/** The same by count alone: who is claimed once, who twice, and how many more there are. */
function byCount(clicks: number, members: readonly Member[], p: CellParameters) {
  let [whole, tracked, untracked, twice, desktop] = [0, 0, 0, 0, 0]
  const choose = (k: number, left: number, weight: number, s: number, d: number, desktops: number) => {
    if (left < 0 || d > 3) return
    if (k < members.length) {
      const one = members[k]!
      choose(k + 1, left, weight, s, d, desktops)
      const odd = weight * one.odds * (one.soft ? 1 : p.odds)
      const [more, ofDesktop] = one.soft ? [0, 0] : [1, one.desktop]
      choose(k + 1, left - 1, odd * (1 - p.twice), s + more, d, desktops + ofDesktop)
      choose(k + 1, left - 2, odd * p.twice, s + more, d + 1, desktops + ofDesktop)
      return
    }
    // Of j others some are claimed twice, in any order.
    for (let again = 0; 2 * again <= left && d + again <= 3; again++) {
      const j = left - again
      let ways = weight * p.mean ** j * p.twice ** again * (1 - p.twice) ** (j - again)
      for (let n = 2; n <= j; n++) ways /= n
      for (let n = 0; n < again; n++) ways = (ways * (j - n)) / (n + 1)
      whole += ways
      tracked += ways * s
      untracked += ways * j
      twice += ways * (d + again)
      desktop += ways * desktops
    }
  }
  choose(0, clicks, 1, 0, 0, 0)
  return {
    tracked: tracked / whole,
    untracked: untracked / whole,
    twice: twice / whole,
    desktop: desktop / whole,
  }
}

describe('a line of daily claims, by count alone', () => {
  const prices = spread([2000, 1])
  const mixed = [
    member(1, { odds: 0.6, desktop: 1 }),
    member(1, { odds: 1.4 }),
    member(1, { odds: 0.3, soft: true }),
    member(1, { odds: 0.9, desktop: 0.5 }),
    member(1, { odds: 0.05, soft: true }),
  ]
  it.each([1, 2, 3, 4, 5, 7])('is weighed as by going through everything: %i claims', clicks => {
    for (const p of [at, { ...at, odds: 0.4, mean: 2.5, twice: 0.2 }])
      for (const members of [mixed, mixed.slice(0, 2), []]) {
        const found = cellPosterior(waysOf(cell(clicks, 1), members, prices, null, false), p)
        const truth = byCount(clicks, members, p)
        expect(found.tracked).toBeCloseTo(truth.tracked, 9)
        expect(found.untracked).toBeCloseTo(truth.untracked, 9)
        expect(found.twice).toBeCloseTo(truth.twice, 9)
        expect(found.desktop).toBeCloseTo(truth.desktop, 9)
        expect(found.counting).toBeCloseTo(truth.untracked / 2, 9)
      }
  })
  it('looks at no more than six orders whose day is not known', () => {
    const soft = (n: number) => Array.from({ length: n }, () => member(1, { odds: 5, soft: true }))
    const found = cellPosterior(waysOf(cell(9, 1), soft(9), prices, null, false), { ...at, twice: 1e-9 })
    // Six of nine are chosen at most: the other three are untracked ones.
    expect(found.untracked).toBeGreaterThan(2.99)
  })
})

describe('a line of daily claims with claims by view', () => {
  const prices = spread([2000, 3], [3500, 2], [5000, 1])
  const p = { ...at, twice: 1e-9 }
  it('has views worth what any two orders are, where prices are few', () => {
    const views = spread([700, 3], [900, 1])
    const found = cellPosterior(waysOf(cell(1, 4000 + 1600, 2), [member(4000)], prices, views, true), p)
    // The tracked order with 700 and 900; no untracked one leaves what two views are worth.
    expect(found.tracked).toBeCloseTo(1, 6)
    const open = cellPosterior(waysOf(cell(1, 3500 + 1600, 2), [member(3500)], prices, views, true), p)
    // Either of both: at odds 3 against 0.4 of which a third are worth 3500.
    expect(open.tracked).toBeCloseTo(3 / (3 + 0.4 / 3), 5)
  })
  it('tells by density where they may be worth anything', () => {
    const dense = spread(...Array.from({ length: 80 }, (_, i): [number, number] => [1000 + i, 1]))
    const wide = spread(...Array.from({ length: 80 }, (_, i): [number, number] => [3000 + i, 1]))
    const value = 4000 + 1010
    const found = cellPosterior(waysOf(cell(1, value, 1), [member(4000)], wide, dense, true), p)
    // Tracked: the view is worth 1010 just, one of eighty. Untracked: one value of each spread.
    const likely = gammaDensity(value, wide.mean + dense.mean, wide.variance + dense.variance)
    const odds = 3 / 80 / (0.4 * likely)
    expect(found.tracked).toBeCloseTo(odds / (1 + odds), 5)
    // Of two views nothing is told but by density.
    const two = cellPosterior(waysOf(cell(1, value + 1010, 2), [member(4000)], wide, dense, true), p)
    const [a, b] = [
      3 * gammaDensity(2020, 2 * dense.mean, 2 * dense.variance),
      0.4 * gammaDensity(value + 1010, wide.mean + 2 * dense.mean, wide.variance + 2 * dense.variance),
    ]
    expect(two.tracked).toBeCloseTo(a / (a + b), 5)
  })
  it('has them worth what an order is where nothing is known of theirs', () => {
    const found = cellPosterior(waysOf(cell(1, 4000 + 3000, 1), [member(4000)], prices, null, true), p)
    const [a, b] = [
      3 * gammaDensity(3000, prices.mean, prices.variance),
      0.4 * gammaDensity(7000, 2 * prices.mean, 2 * prices.variance),
    ]
    expect(found.tracked).toBeCloseTo(a / (a + b), 5)
  })
})

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
  it('is looked at by value up to twelve claims, and while its ways can be told apart', () => {
    const looked = (clicks: number, members: Member[]) =>
      cellPosterior(waysOf(cell(clicks, clicks * 2000), members, prices, null, true), at).byValue !== null
    expect([looked(12, []), looked(13, [])]).toEqual([true, false])
    const odd = Array.from({ length: 14 }, (_, i) => member(101 + 7 * i ** 2))
    expect([looked(10, odd.slice(0, 3)), looked(10, odd)]).toEqual([true, false])
    // Of no orders without a trace there are no values to look at.
    expect(cellPosterior(waysOf(cell(1, 2000), [], spread(), null, true), at).byValue).toBeNull()
  })
  it('is weighed by both as far as each may be right', () => {
    const ways = waysOf(cell(1, 3500), [member(3500)], prices, null, true)
    const { byValue } = cellPosterior(ways, { ...at, unlike: 0.05 })
    // By value: the tracked order, or the third of untracked ones; by count: any, at any value.
    const value = 0.95 * 3 + (0.95 * 0.4) / 3
    const count = (0.95 * 3 + 0.95 * 0.4) * gammaDensity(3500, prices.mean, 1.5 * prices.variance)
    expect(byValue).toBeCloseTo(1 / (1 + ((0.05 / 0.95) * count) / value), 9)
  })
  it('says of everything what it says by value and by count, in the parts that each is believed', () => {
    const members = [member(2000, { desktop: 1 }), member(3500), member(3500, { odds: 0.4 })]
    const p = { ...at, odds: 1.2, mean: 1.5, twice: 0.15 }
    for (const of of [cell(2, 4000), cell(3, 9000), cell(4, 11_000)]) {
      const ways = waysOf(of, members, prices, null, true)
      const both = cellPosterior(ways, { ...p, unlike: 0.999 })
      const trust = both.byValue!
      expect(trust).toBeGreaterThan(0.05)
      expect(trust).toBeLessThan(0.98)
      const value = cellPosterior(ways, { ...p, unlike: 1e-12 })
      const count = cellPosterior(waysOf(of, members, prices, null, false), p)
      const square = (found: typeof value) => found.variance + found.untracked ** 2
      const mix = (pick: (found: typeof value) => number) => trust * pick(value) + (1 - trust) * pick(count)
      for (const part of ['tracked', 'untracked', 'counting', 'twice', 'desktop'] as const)
        expect(both[part]).toBeCloseTo(
          mix(found => found[part]),
          6,
        )
      expect(both.variance).toBeCloseTo(mix(square) - both.untracked ** 2, 6)
    }
  })
  it('is weighed alike where chances are too small to be multiplied', () => {
    const members = [member(3500), member(2000)]
    const usual = { odds: 1, mean: 1, twice: 0.3, unlike: 1e-9 }
    const ways = waysOf(cell(3, 9000), members, prices, null, false)
    // With chances of one order a thousandth of those of two, and so on: only how they stand to each other tells.
    const tiny = 1e-130
    const found = cellPosterior(ways, { ...usual, odds: tiny, mean: tiny })
    const truth = byCount(3, members, { ...usual, odds: 1e-9, mean: 1e-9 })
    expect(found.tracked).toBeCloseTo(truth.tracked, 6)
    expect(found.untracked).toBeCloseTo(truth.untracked, 6)
    expect(found.twice).toBeCloseTo(truth.twice, 6)
  })
  it('says nothing of single values where values say nothing', () => {
    const ways = waysOf(cell(2, 4000 + 3500), [member(4000)], prices, null, true)
    expect(singlesOf(ways, at, 0).size).toBe(0)
    expect(singlesOf(waysOf(cell(1, 4000), [member(4000)], prices, null, false), at, 1).size).toBe(0)
    // Half believed is half as many.
    expect(singlesOf(ways, at, 0.5).get(3500)).toBeCloseTo(singlesOf(ways, at, 1).get(3500)! / 2, 9)
  })
  it('tells several values by how likely each is', () => {
    // An untracked order of 2000 with the tracked one of 3500, or one of 3500 with the other of 2000.
    const members = [member(3500), member(2000, { odds: 0.5 })]
    const ways = waysOf(cell(2, 5500), members, prices, null, true)
    const p = { ...at, twice: 1e-9 }
    const worth = singlesOf(ways, p, 1)
    const [both, with2000, with3500, none] = [3 * 1.5, (3 * 0.4) / 2, (1.5 * 0.4) / 3, 0.4 ** 2 * (1 / 6)]
    const whole = both! + with2000! + with3500! + none!
    expect(worth.get(2000)).toBeCloseTo(with2000! / whole, 6)
    expect(worth.get(3500)).toBeCloseTo(with3500! / whole, 6)
  })
  it('says what its untracked order is worth, where one value says it', () => {
    const ways = waysOf(cell(2, 4000 + 3500), [member(4000)], prices, null, true)
    const { byValue, untracked } = cellPosterior(ways, at)
    const worth = singlesOf(ways, at, byValue!)
    expect([...worth.keys()]).toEqual([3500])
    expect(worth.get(3500)).toBeCloseTo(untracked, 6)
  })
})

describe('a cell of many claims', () => {
  const many = (clicks: number, members: number, mean: number) => {
    const own = Array.from({ length: members }, () => member(1000, { odds: 1 }))
    const of = cell(clicks, clicks * 1000)
    return cellPosterior(waysOf(of, own, spread([1000, 1]), null, false), {
      odds: 2,
      mean,
      twice: 0.02,
      unlike: 1e-9,
    })
  }
  it.each([
    [59, 50, 20],
    [61, 50, 20],
    [300, 250, 100],
    [900, 300, 700],
  ])(
    'shares all of %i among %i that are tracked, untracked ones and those claimed twice',
    (clicks, members, mean) => {
      const { tracked, untracked, twice, variance } = many(clicks, members, mean)
      expect(tracked + untracked + twice).toBeCloseTo(clicks, 4)
      expect(tracked).toBeLessThanOrEqual(members)
      expect(variance).toBeGreaterThan(0)
    },
  )
  it('does so as a smaller one of the same kind', () => {
    const [small, large] = [many(50, 50, 20), many(500, 500, 200)]
    expect(large.tracked / 500).toBeCloseTo(small.tracked / 50, 1)
    expect(Math.abs(large.untracked / 500 - small.untracked / 50)).toBeLessThan(0.03)
  })
})
