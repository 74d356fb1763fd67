import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type Rated, resultRates } from './resultRates'
import { type Standing, verdictOf } from './verdict'
import { type Valued, worthOfRows } from './worth'

const LINE = 5000
const sure = { variance: 0, ofOne: 1 }
const known = { hasResult: true, marginSaid: true }
/** Verdicts of ads under one parent; spend in major units. */
function judged(ads: [spend: number, results: number][], more: Partial<Standing> = {}) {
  const rows = ads.map(([spend, count]): Rated => ({ parent: 0, count, variance: 0, exposure: spend * 100 }))
  const sum = (pick: (row: Rated) => number) => rows.reduce((all, row) => all + pick(row), 0)
  const parent = { parent: -1, count: sum(r => r.count), variance: 0, exposure: sum(r => r.exposure) }
  const rates = resultRates([[parent], rows])[1]!
  return rows.map((row, i) =>
    verdictOf({
      spend: row.exposure,
      rate: rates[i]!,
      line: LINE,
      worth: sure,
      hasResult: row.count > 0,
      marginSaid: true,
      ...more,
    }),
  )
}

describe('a verdict', () => {
  it('cuts what is far over the line, raises what is far under it, and waits where little was spent', () => {
    const verdicts = judged([
      [2000, 8],
      [2000, 120],
      [20, 0],
      [1500, 29],
    ])
    expect(verdicts.map(v => v.kind)).toEqual(['cut', 'raise', 'wait', 'hold'])
    expect(verdicts.map(v => v.because)).toEqual([
      'over_the_line',
      'under_the_line',
      'too_little_spend',
      'near_the_line',
    ])
    expect(verdicts[0]!.probability).toBeLessThan(0.1)
    expect(verdicts[1]!.probability).toBeGreaterThan(0.9)
  })
  it('does not cut an ad for one day without orders, nor raise it for a lucky one', () => {
    const siblings: [number, number][] = [
      [3000, 60],
      [2800, 54],
      [3100, 63],
    ]
    expect(judged([[60, 0], ...siblings])[0]!.kind).toBe('wait')
    expect(judged([[30, 2], ...siblings])[0]!.kind).toBe('wait')
  })
  it('says that there is nothing to judge by', () => {
    expect(judged([[100, 2]], { line: null })[0]).toEqual({
      kind: 'wait',
      because: 'no_line',
      probability: null,
      needed: null,
    })
    expect(judged([[0, 2]])[0]).toMatchObject({ because: 'no_spend', probability: null })
  })
  it('never thinks less of an ad for one order more, nor for a higher line', () => {
    const ad = fc.record({
      spend: fc.integer({ min: 1, max: 5_000 }),
      results: fc.integer({ min: 0, max: 60 }),
    })
    fc.assert(
      fc.property(ad, ({ spend, results }) => {
        const beside: [number, number] = [1000, 20]
        const chance = (own: number, line = LINE) => judged([[spend, own], beside], { line })[0]!.probability!
        // One more also says that ads differ more than was thought, by which each is surer or less sure of itself.
        expect(chance(results + 1)).toBeGreaterThanOrEqual(chance(results) - 0.02)
        expect(chance(results, LINE * 1.1)).toBeGreaterThanOrEqual(chance(results))
        expect(chance(results)).toBeGreaterThanOrEqual(0)
        expect(chance(results)).toBeLessThanOrEqual(1)
      }),
    )
  })
  it('is less sure where what a result is worth is not known', () => {
    const [known] = judged([[2000, 60]])
    const [doubted] = judged([[2000, 60]], { worth: { variance: 0.2, ofOne: 0.5 } })
    expect(known!.probability).toBeGreaterThan(doubted!.probability!)
    expect(doubted!.probability).toBeGreaterThan(0.5)
  })
  it('says how much more spend would settle it, as things stand: with that it is settled, with less it is not', () => {
    const rate = { log: Math.log(1.2 / LINE), variance: 0.04, results: 20, prior: 5 }
    const at = (results: number) =>
      verdictOf({ spend: 80_000, rate: { ...rate, results }, line: LINE, worth: sure, ...known })
    const { kind, needed } = at(20)
    expect(kind).toBe('hold')
    const scaled = (spend: number) => at((20 * (80_000 + spend)) / 80_000)
    expect(scaled(needed! * 1.02).kind).toBe('raise')
    expect(scaled(needed! * 0.95).kind).toBe('hold')
    expect(at(2000)).toMatchObject({ kind: 'raise', needed: null })
    // Just at the line nothing ever settles it.
    const even = { ...rate, log: -Math.log(LINE) }
    expect(verdictOf({ spend: 80_000, rate: even, line: LINE, worth: sure, ...known }).needed).toBeNull()
  })
})

it('never raises what has brought nothing, and is nothing where nobody has said what is left of a result', () => {
  const rate = { log: Math.log(3 / LINE), variance: 0.001, results: 50, prior: 50 }
  const of = (more: Partial<Standing>) =>
    verdictOf({ spend: 80_000, rate, line: LINE, worth: sure, ...known, ...more })
  expect(of({}).kind).toBe('raise')
  expect(of({ hasResult: false }).kind).toBe('hold')
  expect(of({ hasResult: false, spend: 100 }).kind).toBe('wait')
  expect(of({ marginSaid: false })).toMatchObject({ kind: 'wait', because: 'no_margin', probability: null })
})

describe('the rate of a row', () => {
  const rated = (count: number, exposure: number, parent = 0, variance = 0): Rated => ({
    parent,
    count,
    variance,
    exposure,
  })
  it('is its own where it has many results, and that of the row above where it has few', () => {
    const rows = [rated(400, 1000), rated(100, 1000), rated(0, 1), rated(0, 0)]
    const [above, own] = resultRates([[rated(500, 2001, -1)], rows])
    expect(Math.exp(above![0]!.log)).toBeCloseTo(0.25, 2)
    expect(Math.exp(own![0]!.log)).toBeCloseTo(0.4, 1)
    expect(Math.exp(own![1]!.log)).toBeCloseTo(0.1, 1)
    expect(own![2]!.log).toBeGreaterThan(Math.log(0.1))
    expect(own![2]!.log).toBeLessThan(Math.log(0.3))
    expect(own![2]!.variance).toBeGreaterThan(10 * own![0]!.variance)
    expect(own![3]).toBeNull()
  })
  it('is most likely: between what came and what was to be expected, each by its weight', () => {
    // n − E·e^θ = (θ − m) / σ², by trying.
    const [above, own] = resultRates([[rated(90, 300, -1)], [rated(60, 100), rated(30, 200)]])
    const mean = above![0]!
    const { log, prior } = own![0]!
    const spread = 1 / prior - mean.variance
    expect(60 - 100 * Math.exp(log)).toBeCloseTo(prior * (log - (mean.log - spread / 2)), 6)
  })
  it('is drawn to what stands above by how much rows differ beyond chance, worked out by hand', () => {
    // Together 90.5 of 300: of the first 30.17 were to be expected, a third of the whole, of the second two thirds.
    const [own] = resultRates([[rated(60, 100, -1, 4), rated(30, 200, -1)]])
    const [first, second] = [(90.5 / 300) * 100, (90.5 / 300) * 200]
    const excess = (60 - first) ** 2 - 64 * (2 / 3) + (30 - second) ** 2 - 30 * (1 / 3)
    const spread = Math.log1p(excess / (first ** 2 * (2 / 3) + second ** 2 * (1 / 3)))
    for (const one of own!) expect(1 / one!.prior).toBeCloseTo(spread + 1 / 90.5, 9)
  })
  it('rests on fewer results where these are estimates', () => {
    const rates = (variance: number) =>
      resultRates([[rated(40, 100, -1), rated(20, 100, -1, variance)]])[0]![1]!
    expect(rates(30).variance).toBeGreaterThan(rates(0).variance)
    expect(rates(30).results).toBeLessThan(rates(0).results)
  })
})

describe('what a result is worth', () => {
  const valued = (count: number, mean: number, parent = 0): Valued => ({
    parent,
    count,
    worth: count * mean,
    squares: count * mean * mean * 1.3,
  })
  it('is its own where there are many, and that of the row above where there are few or none', () => {
    const rows = [valued(400, 25), valued(3, 420), { parent: 0, count: 0, worth: 0, squares: 0 }]
    const whole = { parent: -1, count: 403, worth: 400 * 25 + 3 * 420, squares: 1e6 }
    const [above, own] = worthOfRows([[whole], rows])
    const mean = Math.exp(above![0]!.log)
    expect(mean).toBeCloseTo(whole.worth / 403, 6)
    expect(Math.exp(own![0]!.log)).toBeCloseTo(25, 0)
    expect(Math.exp(own![1]!.log)).toBeGreaterThan(100)
    expect(Math.exp(own![1]!.log)).toBeLessThan(420)
    expect(Math.exp(own![2]!.log)).toBeCloseTo(mean, 6)
    expect(own![0]!.variance).toBeLessThan(own![1]!.variance)
    expect(own![1]!.variance).toBeLessThan(own![2]!.variance)
  })
  it('is the same for all where rows differ by chance alone', () => {
    const rows = [valued(50, 100), valued(50, 104), valued(50, 98)]
    const [own] = worthOfRows([rows.map(row => ({ ...row, parent: -1 }))])
    for (const one of own!) expect(Math.abs(Math.exp(one!.log) - 100.7)).toBeLessThan(1.5)
  })
  it('is nothing where nothing is worth anything', () => {
    expect(worthOfRows([[{ parent: -1, count: 0, worth: 0, squares: 0 }]])).toEqual([[null]])
    expect(worthOfRows([[{ parent: -1, count: 3, worth: 0, squares: 0 }]])).toEqual([[null]])
  })
})
