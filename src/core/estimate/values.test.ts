import { describe, expect, it } from 'vitest'
import { gammaDensity, logGamma } from './gamma'
import { gatherValues, pairsTell, shareOfPair, shareOfSum, sumsOf, type ValueSpread } from './values'

function spread(...values: [value: number, weight: number, counts?: number, blank?: number][]): ValueSpread {
  const { add, spread: made } = gatherValues()
  for (const [value, weight, counts = weight, blank = weight] of values) add(value, weight, counts, blank)
  return made()
}
const many = (n: number, step = 37) =>
  spread(...Array.from({ length: n }, (_, i): [number, number] => [1000 + step * i, 1 + (i % 3)]))

describe('a spread of values', () => {
  it('holds shares, of which some count and some are without a trace', () => {
    const { of, mean, variance, counts, blank } = spread(
      [100, 1, 0.5, 1],
      [300, 2, 2, 0],
      [100, 1, 0.5, 0.5],
      [700, 0, 9, 9],
    )
    expect([...of]).toEqual([
      [100, { share: 0.5, counts: 0.25, blank: 0.375 }],
      [300, { share: 0.5, counts: 0.5, blank: 0 }],
    ])
    expect([mean, variance, counts, blank]).toEqual([200, 10_000, 0.75, 0.375])
  })
  it('of one price has a variance that can be divided by', () => {
    expect(spread([4900, 7])).toMatchObject({ mean: 4900, variance: 1 })
  })
  it('of nothing is that of any orders', () => {
    const none = spread()
    expect(none.of.size).toBe(0)
    expect(none).toMatchObject({ mean: 5000, variance: 4e6, counts: 0.95, blank: 1 })
  })
})

describe('the share of a sum', () => {
  const three = spread([100, 2], [150, 1], [400, 1])
  /** by going through all */
  const byHand = (values: ValueSpread, count: number, sum: number): number =>
    count === 0
      ? Number(sum === 0)
      : [...values.of].reduce(
          (all, [value, { share }]) => all + share * byHand(values, count - 1, sum - value),
          0,
        )
  it('of few prices is exact, of as many values as there are', () => {
    for (const count of [0, 1, 2, 3, 5])
      for (let sum = 0; sum <= 2000; sum += 50)
        expect(shareOfSum(three, count, sum)).toBeCloseTo(byHand(three, count, sum), 12)
    const all = [...sumsOf(three, 4).values()].reduce((a, b) => a + b, 0)
    expect(all).toBeCloseTo(1, 12)
  })
  it('is no share of less than nothing, or of none that is something', () => {
    expect([shareOfSum(three, 0, 0), shareOfSum(three, 0, 5), shareOfSum(three, 2, -10)]).toEqual([1, 0, 0])
    expect(shareOfSum(three, 1, 101)).toBe(0)
  })
  it('of two among many values goes through pairs while they tell anything', () => {
    const some = many(20)
    expect(pairsTell(400, some)).toBe(true)
    for (const sum of [2000, 2074, 2500, 3001])
      expect(shareOfSum(some, 2, sum)).toBeCloseTo(byHand(some, 2, sum), 12)
    // A value with twice another.
    const twice = [...some.of].reduce((all, [value, { share }]) => {
      const rest = some.of.get(3111 - 2 * value)
      return all + (rest ? share * rest.share : 0)
    }, 0)
    expect(shareOfPair(some, 2, 3111)).toBeCloseTo(twice, 12)
    expect(twice).toBeGreaterThan(0)
  })
  it('of more than can be told apart is a density by mean and variance', () => {
    const dense = many(60, 1)
    expect(pairsTell(3600, dense)).toBe(false)
    expect(shareOfSum(dense, 2, 2050)).toBeCloseTo(gammaDensity(2050, 2 * dense.mean, 2 * dense.variance), 12)
    const some = many(20)
    expect(shareOfSum(some, 3, 4000)).toBeCloseTo(gammaDensity(4000, 3 * some.mean, 3 * some.variance), 12)
    // Pairs tell while they are no more than fourteen by the spread of values.
    const { variance } = some
    expect([
      pairsTell(14 * Math.sqrt(variance) - 1e-6, some),
      pairsTell(14 * Math.sqrt(variance) + 1, some),
    ]).toEqual([true, false])
  })
  it('of twelve prices is exact, of thirteen no longer', () => {
    const [twelve, thirteen] = [many(12), many(13)]
    expect(shareOfSum(twelve, 3, 3000 + 37)).toBeCloseTo(byHand(twelve, 3, 3037), 12)
    expect(shareOfSum(thirteen, 3, 3037)).toBeCloseTo(
      gammaDensity(3037, 3 * thirteen.mean, 3 * thirteen.variance),
      12,
    )
  })
})

describe('the gamma law', () => {
  it('has the factorials as its function', () => {
    for (const [z, value] of [
      [1, 1],
      [2, 1],
      [5, 24],
      [0.5, Math.sqrt(Math.PI)],
      [7.5, 1871.254305797788],
    ] as const)
      expect(Math.exp(logGamma(z))).toBeCloseTo(value, 5)
  })
  it('has all of its weight above nothing, with the mean and variance that were asked for', () => {
    for (const [mean, variance] of [
      [10, 10],
      [50, 400],
      [3, 1.5],
    ] as const) {
      let [whole, first, second] = [0, 0, 0]
      const step = mean / 2000
      for (let x = step / 2; x < mean + 14 * Math.sqrt(variance); x += step) {
        const weight = gammaDensity(x, mean, variance) * step
        whole += weight
        first += weight * x
        second += weight * x * x
      }
      expect(whole).toBeCloseTo(1, 3)
      expect(first).toBeCloseTo(mean, 1)
      expect(second - first * first).toBeCloseTo(variance, 0)
    }
    expect(gammaDensity(0, 1, 1)).toBe(0)
    expect(gammaDensity(-1, 1, 1)).toBe(0)
  })
})
