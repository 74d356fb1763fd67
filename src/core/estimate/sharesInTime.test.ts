import { describe, expect, it } from 'vitest'
import { gammaDensity, logGamma } from './gamma'
import { sharesInTime } from './sharesInTime'

describe('a share in time', () => {
  it('is one and the same while nothing changes, and the surer the longer it lasts', () => {
    const trials = Array.from({ length: 40 }, () => 20)
    const hits = trials.map((_, i) => (i % 2 === 0 ? 15 : 13))
    const { share, variance } = sharesInTime(hits, trials, 0.5)
    for (const one of share) expect(one).toBeCloseTo(0.7, 1)
    // As if all were one: p(1 − p) over 804 and one, and little for what might have changed.
    for (const one of variance) expect(one).toBeLessThan((4 * 0.21) / 805)
  })
  it('forgets what was before a sudden change', () => {
    const trials = Array.from({ length: 40 }, () => 12)
    const hits = trials.map((_, i) => (i < 25 ? 10 : 4))
    const { share } = sharesInTime(hits, trials, 0.6)
    expect(share[20]).toBeCloseTo(10 / 12, 1)
    expect(share[30]).toBeCloseTo(4 / 12, 1)
    expect(share[24]).toBeGreaterThan(0.75)
    expect(share[25]).toBeLessThan(0.42)
  })
  it('is the common one where nothing was tried', () => {
    const { share, variance } = sharesInTime([0, 0, 0], [0, 0, 0], 0.3)
    for (const one of share) expect(one).toBeCloseTo(0.3, 9)
    for (const one of variance) expect(one).toBeCloseTo((0.3 * 0.7) / 5, 9)
    expect(sharesInTime([], [], 0.3).share).toHaveLength(0)
  })
  it('is that of all ways to divide time, each by how well it explains what was seen', () => {
    // Two stretches: one share for both, or one each; with beta priors worth four trials about a half.
    const [h, t] = [
      [9, 2],
      [10, 10],
    ] as const
    const choose = (a: number, b: number) => Math.exp(logGamma(a) + logGamma(b) - logGamma(a + b))
    const seen = (hits: number, trials: number) => choose(2 + hits, 2 + trials - hits) / choose(2, 2)
    const one = 0.99 * seen(11, 20)
    const two = 0.01 * seen(h[0], t[0]) * seen(h[1], t[1])
    const expected = (one * (13 / 24) + two * (11 / 14)) / (one + two)
    expect(sharesInTime(h, t, 0.5).share[0]).toBeCloseTo(expected, 9)
  })
  it('may be learned from parts of trials', () => {
    const { share } = sharesInTime([4.5, 4.5], [6, 6], 0.5)
    expect(share[0]).toBeCloseTo((2 + 9) / (4 + 12), 1)
  })
})

describe('the gamma function', () => {
  it('is the factorial before, and the root of pi at a half', () => {
    let factorial = 1
    for (let n = 1; n < 20; n++) {
      expect(logGamma(n)).toBeCloseTo(Math.log(factorial), 8)
      factorial *= n
    }
    expect(logGamma(0.5)).toBeCloseTo(Math.log(Math.sqrt(Math.PI)), 8)
  })
  it('gives a density that sums to one and has its mean', () => {
    let [whole, mean] = [0, 0]
    for (let x = 0.05; x < 400; x += 0.1) {
      whole += 0.1 * gammaDensity(x, 40, 300)
      mean += 0.1 * x * gammaDensity(x, 40, 300)
    }
    expect(whole).toBeCloseTo(1, 4)
    expect(mean).toBeCloseTo(40, 2)
    expect(gammaDensity(0, 40, 300)).toBe(0)
    expect(gammaDensity(-1, 40, 300)).toBe(0)
  })
})
