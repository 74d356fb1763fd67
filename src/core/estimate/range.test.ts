import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { gammaCdf, normalCdf, orderRange } from './range'

describe('the range of a number of orders', () => {
  const known = fc.record({
    certain: fc.integer({ min: 0, max: 20 }),
    mean: fc.double({ min: 0.05, max: 60, noNaN: true }),
    variance: fc.double({ min: 0.05, max: 90, noNaN: true }),
  })
  it('leaves out on either side as near to a tenth as whole numbers can', () => {
    fc.assert(
      fc.property(known, ({ certain, mean, variance }) => {
        const { low, high } = orderRange(certain, mean, variance)
        expect(low).toBeLessThanOrEqual(certain + mean)
        expect(high).toBeGreaterThanOrEqual(certain + mean)
        const upTo = (count: number) => (count < 0 ? 0 : gammaCdf(count + 0.5, mean, variance))
        const off = (tail: number) => Math.abs(tail - 0.1)
        const counts = [...Array(400).keys()]
        const below = counts.filter(k => k <= Math.floor(mean)).map(k => off(upTo(k - 1)))
        const above = counts.filter(k => k >= Math.ceil(mean)).map(k => off(1 - upTo(k)))
        // Where the mean lies between two whole numbers, it bounds the range itself.
        if (low < certain + mean) expect(off(upTo(low - certain - 1))).toBeCloseTo(Math.min(...below), 12)
        if (high > certain + mean) expect(off(1 - upTo(high - certain))).toBeCloseTo(Math.min(...above), 12)
      }),
    )
  })
  it('is found in a few steps, however wide the law is', () => {
    for (const variance of [1e3, 1e9, 1e18, 1e30]) {
      const { low, high } = orderRange(0, 441, variance)
      expect([low >= 0, low <= 441, high >= 441, Number.isFinite(high)]).toEqual([true, true, true, true])
    }
  })
  it('is one number where nothing is uncertain', () => {
    expect(orderRange(7, 0, 3)).toEqual({ low: 7, high: 7 })
    expect(orderRange(7, 2, 0)).toEqual({ low: 9, high: 9 })
  })
  it('goes down to what is certain where hardly anything is expected beside', () => {
    expect(orderRange(3, 0.2, 0.2).low).toBe(3)
    expect(orderRange(0, 1.2, 1.4).low).toBe(0)
  })
})

it('normal and gamma laws have the quantiles of their tables', () => {
  expect(normalCdf(1.2816)).toBeCloseTo(0.9, 4)
  expect(normalCdf(-1.2816)).toBeCloseTo(0.1, 4)
  expect(normalCdf(0)).toBeCloseTo(0.5, 6)
  // Chi squared with ten degrees of freedom: a gamma law of mean 10 and variance 20.
  expect(gammaCdf(15.987, 10, 20)).toBeCloseTo(0.9, 2)
  expect(gammaCdf(4.865, 10, 20)).toBeCloseTo(0.1, 2)
  expect(gammaCdf(0, 10, 20)).toBe(0)
})
