import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { judgeFamily, type Spent } from './verdict'

const LINE = 5000
const family = (...ads: [spend: number, orders: number][]): Spent[] =>
  ads.map(([spend, orders]) => ({ spend: spend * 100, orders }))

describe('a verdict', () => {
  it('cuts what is far over the line, raises what is far under it, and waits where little was spent', () => {
    const [bad, good, young, even] = judgeFamily(family([2000, 8], [2000, 120], [20, 0], [1500, 31]), LINE)
    expect([bad!.kind, good!.kind, young!.kind, even!.kind]).toEqual(['cut', 'raise', 'wait', 'hold'])
    expect(bad!.probability).toBeLessThan(0.1)
    expect(good!.probability).toBeGreaterThan(0.9)
  })
  it('does not cut an ad for one day without orders, nor raise it for a lucky one', () => {
    const siblings = family([3000, 62], [2800, 55], [3100, 60])
    const [quiet] = judgeFamily([...family([60, 0]), ...siblings], LINE)
    const [lucky] = judgeFamily([...family([30, 2]), ...siblings], LINE)
    expect([quiet!.kind, lucky!.kind]).toEqual(['wait', 'wait'])
  })
  it('says that there is nothing to judge by', () => {
    expect(judgeFamily(family([100, 2]), null)[0]).toMatchObject({ because: 'no_line', probability: null })
    expect(judgeFamily(family([0, 2]), LINE)[0]).toMatchObject({ because: 'no_spend', probability: null })
  })
  it('never thinks less of an ad for one order more', () => {
    const ad = fc.record({
      spend: fc.integer({ min: 1, max: 500_000 }),
      orders: fc.integer({ min: 0, max: 60 }),
    })
    fc.assert(
      fc.property(ad, own => {
        const chance = (orders: number) => judgeFamily([{ ...own, orders }], LINE)[0]!.probability!
        expect(chance(own.orders + 1)).toBeGreaterThanOrEqual(chance(own.orders) - 1e-9)
        expect(chance(own.orders)).toBeGreaterThanOrEqual(0)
        expect(chance(own.orders)).toBeLessThanOrEqual(1)
      }),
    )
  })
})
