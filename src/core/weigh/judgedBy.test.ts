import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { randomStream } from '@/practice/market/random'
import { plainRuleSchema, ruledBy, withRules } from './plainRules'
import { tryRules } from './rulesTried'
import type { Series } from './series'
import { splitStand } from './splitWinner'
import { findTiring } from './tiring'
import type { Verdict } from './verdict'

const empty = (length: number) => new Float64Array(length)
const seriesOf = (groups: number, days: number, fields: Partial<Series>): Series =>
  ({
    from: 20_000,
    days,
    groups,
    ...Object.fromEntries(
      [
        'spend',
        'impressions',
        'clicks',
        'reach',
        'reachedImpressions',
        'claimed',
        'results',
        'value',
        'leaves',
        'variance',
      ].map(field => [field, empty(groups * days)]),
    ),
    ...fields,
  }) as Series

describe('tiring', () => {
  const DAYS = 56
  /** Ads whose rates stand still, but for some that fall to a share of what they were. */
  const market = (seed: number, ads: number, tired: number, left: number) => {
    const random = randomStream(seed)
    const series = seriesOf(ads, DAYS, {})
    for (let ad = 0; ad < ads; ad++) {
      const size = random.between(0.5, 3)
      for (let day = 0; day < DAYS; day++) {
        const at = ad * DAYS + day
        const fall = ad < tired ? 1 + ((left - 1) * day) / DAYS : 1
        series.impressions[at] = Math.round(4000 * size * random.factor(0.15))
        series.clicks[at] = random.poisson(series.impressions[at]! * 0.012 * fall)
        series.spend[at] = series.clicks[at]! * 100 * random.factor(0.1)
        series.results[at] = random.poisson(series.clicks[at]! * 0.03 * fall)
      }
    }
    return series
  }
  it('is seen in those that tire', () => {
    for (let seed = 1; seed <= 5; seed++) {
      const found = findTiring(market(seed, 20, 4, 0.35))
      expect(found.slice(0, 4).every(own => own.length > 0)).toBe(true)
      // Over eight weeks they fell to about a third.
      for (const { left } of found.slice(0, 4).flat()) expect(Math.abs(left - 0.35)).toBeLessThan(0.2)
    }
  })
  it('is not seen in rates that merely sway from day to day', () => {
    let wrong = 0
    for (let seed = 1; seed <= 20; seed++) {
      const series = market(200 + seed, 60, 0, 1)
      const random = randomStream(seed)
      series.clicks.forEach((clicks, at) => {
        series.clicks[at] = Math.round(clicks * random.factor(0.5))
      })
      wrong += findTiring(series).some(own => own.length > 0) ? 1 : 0
    }
    expect(wrong).toBeLessThanOrEqual(4)
  })
  it('is rarely seen in those that do not, however many are looked at', () => {
    let wrong = 0
    for (let seed = 1; seed <= 20; seed++)
      wrong += findTiring(market(100 + seed, 60, 0, 1)).filter(own => own.length > 0).length > 0 ? 1 : 0
    // Of markets in which nothing tires one in twenty may name something.
    expect(wrong).toBeLessThanOrEqual(3)
  })
  it('says nothing of what has too few days or results', () => {
    const short = market(3, 2, 2, 0.1)
    for (const field of ['impressions', 'clicks', 'spend', 'results'] as const)
      short[field].fill(0, 5, DAYS).fill(0, DAYS + 5)
    expect(findTiring(short)).toEqual([[], []])
    // Many days with few results, and many results in few days: both fall, neither by enough to be named.
    const few = seriesOf(1, DAYS, {
      spend: empty(DAYS).fill(1000),
      results: empty(DAYS).map((_, day) => (day < 8 ? 1 : 0)),
    })
    expect(findTiring(few)).toEqual([[]])
    const days = [500, 300, 150, 60, 20]
    const brief = seriesOf(1, DAYS, {
      spend: empty(DAYS).map((_, day) => (day < days.length ? 1000 : 0)),
      results: empty(DAYS).map((_, day) => days[day] ?? 0),
    })
    expect(findTiring(brief)).toEqual([[]])
  })
})

describe('plain rules', () => {
  const facts = { spend: 9000, impressions: 4000, results: 0, line: 3000 }
  it.each([
    ['no result after three lines', [{ when: 'no_result', lines: 3 }], facts, 'cut'],
    ['not before', [{ when: 'no_result', lines: 3 }], { ...facts, spend: 8999 }, undefined],
    ['not with one result', [{ when: 'no_result', lines: 3 }], { ...facts, results: 1 }, undefined],
    [
      'twice its line with results enough',
      [{ when: 'over_line', times: 2, results: 2 }],
      { ...facts, spend: 12_000, results: 2 },
      'cut',
    ],
    [
      'not where each costs less, however much they cost together',
      [{ when: 'over_line', times: 2, results: 2 }],
      { ...facts, spend: 12_000, results: 4 },
      undefined,
    ],
    [
      'not with fewer',
      [{ when: 'over_line', times: 2, results: 2 }],
      { ...facts, spend: 12_000, results: 1.9 },
      undefined,
    ],
    [
      'too few impressions hold back a cut',
      [
        { when: 'no_result', lines: 3 },
        { when: 'few_impressions', impressions: 5000 },
      ],
      facts,
      'wait',
    ],
    [
      'which what has results need not wait for',
      [
        { when: 'over_line', times: 1, results: 1 },
        { when: 'few_impressions', impressions: 5000 },
      ],
      { ...facts, results: 1 },
      'cut',
    ],
    ['too little spend holds back as well', [{ when: 'little_spend', spend: 91 }], facts, 'wait'],
    ['in major units', [{ when: 'little_spend', spend: 90 }], facts, undefined],
    ['without a line nothing is cut', [{ when: 'no_result', lines: 1 }], { ...facts, line: null }, undefined],
  ])('%s', (_, given, at, kind) => {
    const rules = given.map(rule => plainRuleSchema.parse(rule))
    expect(ruledBy(at, rules, 100)?.kind).toBe(kind)
  })
  it('stand on top of a verdict and say so', () => {
    const verdict: Verdict = { kind: 'wait', because: 'too_little_spend', probability: 0.4, needed: 700 }
    expect(withRules(verdict, facts, [{ when: 'no_result', lines: 3 }], 100)).toEqual({
      kind: 'cut',
      because: 'cut_by_rule',
      probability: 0.4,
      needed: null,
    })
    const held = withRules({ ...verdict, kind: 'cut' }, facts, [{ when: 'little_spend', spend: 91 }], 100)
    expect(held).toMatchObject({ kind: 'wait', because: 'held_by_rule' })
    expect(withRules(verdict, facts, [], 100)).toBe(verdict)
    const nothing = { ...facts, spend: 0, impressions: 0 }
    expect(withRules(verdict, nothing, [{ when: 'few_impressions', impressions: 9 }], 100)).toBe(verdict)
    // A network that reports no impressions has spent all the same, and one that bills later has shown it.
    const rules = [{ when: 'no_result' as const, lines: 3 }]
    expect(withRules(verdict, { ...facts, impressions: 0 }, rules, 100).kind).toBe('cut')
    const shown = [{ when: 'little_spend' as const, spend: 91 }]
    expect(withRules(verdict, { ...facts, spend: 0 }, shown, 100).because).toBe('held_by_rule')
  })
  it('tried on the past cut once, by what was known by then, and say what came of it', () => {
    // Two ads of 10 a day without results until day 30; the second earns from then on.
    const days = 60
    const spend = empty(2 * days).fill(1000)
    const results = empty(2 * days)
    const leaves = empty(2 * days)
    for (let day = 31; day < days; day++) {
      results[days + day] = 1
      leaves[days + day] = 2500
    }
    const series = seriesOf(2, days, { spend, results, leaves })
    const tried = tryRules(series, [3000, 3000], [{ when: 'no_result', lines: 4 }], {
      window: 14,
      first: 20,
      minorUnits: 100,
    })
    expect(tried.map(({ group, day, earned }) => [group, day - 20_000, earned])).toEqual([
      [0, 20, false],
      [1, 20, true],
    ])
    expect(tried[0]!.before).toEqual({ spend: 14_000, results: 0 })
    expect(tried[1]!.after).toEqual({ spend: 39_000, results: 29, leaves: 72_500 })
    // One that goes on bringing results which leave less than they cost has not earned.
    const poor = seriesOf(1, days, {
      spend: empty(days).fill(1000),
      results: empty(days).fill(1),
      leaves: empty(days).map((_, day) => (day <= 20 ? 5000 : 400)),
    })
    const [lost] = tryRules(poor, [800], [{ when: 'over_line', times: 1, results: 1 }], {
      window: 14,
      first: 20,
      minorUnits: 100,
    })
    expect(lost).toMatchObject({
      day: 20_020,
      earned: false,
      after: { spend: 39_000, results: 39, leaves: 39 * 400 },
    })
    expect(
      tryRules(series, [3000, null], [{ when: 'no_result', lines: 15 }], {
        window: 14,
        first: 20,
        minorUnits: 100,
      }),
    ).toEqual([])
  })
})

describe('a split', () => {
  const side = (arrivals: number, results: number, each = 5000) => ({
    arrivals,
    results,
    worth: results * each,
    squares: results * each * each * 1.2,
  })
  it('names the better side, and how much more would settle it', () => {
    const near = splitStand([side(400, 12), side(400, 8)])
    expect(near.best[0]).toBeGreaterThan(0.7)
    expect(near.best[0]).toBeLessThan(0.95)
    expect(near.needed).toBeGreaterThan(100)
    const far = splitStand([side(4000, 120), side(4000, 60)])
    expect(far.best[0]).toBeGreaterThan(0.99)
    expect(far.needed).toBeNull()
  })
  it('needs as many arrivals more as would settle it, were each side to go on as it does', () => {
    const sides = [side(500, 14), side(300, 5), side(450, 9, 4000)]
    const needed = splitStand(sides).needed!
    const after = (more: number) =>
      Math.max(
        ...splitStand(
          sides.map(one => {
            const by = (one.arrivals + more) / one.arrivals
            return {
              arrivals: one.arrivals + more,
              results: one.results * by,
              worth: one.worth * by,
              squares: one.squares * by,
            }
          }),
        ).best,
      )
    expect(after(needed)).toBeGreaterThanOrEqual(0.945)
    expect(after(needed * 0.9)).toBeLessThan(0.95)
  })
  it('says what drawing the rates and the worth of each side says as well', () => {
    const random = randomStream(8)
    const gamma = (shape: number) =>
      Array.from({ length: shape }, () => random.exponential(1)).reduce((a, b) => a + b)
    for (const [a, b] of [
      [side(500, 22), side(300, 8)],
      [side(700, 16, 3000), side(400, 15)],
      [side(300, 12), side(900, 30)],
    ] as const) {
      const DRAWS = 8000
      let won = 0
      for (let i = 0; i < DRAWS; i++) {
        // Worth of a single result: its spread is that of `squares`.
        const worth = ({ arrivals, results, worth }: typeof a) =>
          (gamma(results + 1) / (arrivals + arrivals / results)) *
          (worth / results) *
          (1 + Math.log(random.factor(1)) * Math.sqrt(0.2 / results))
        if (worth(a) > worth(b)) won += 1
      }
      expect(Math.abs(splitStand([a, b]).best[0]! - won / DRAWS)).toBeLessThan(0.05)
    }
  })
  it('goes by what results are worth, not by how many they are', () => {
    expect(splitStand([side(2000, 60, 2000), side(2000, 40, 9000)]).best[1]).toBeGreaterThan(0.95)
  })
  it('shares out certainty whatever the sides, and knows nothing of empty ones', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(5000), fc.nat(200)), { minLength: 2, maxLength: 5 }), given => {
        const { best } = splitStand(given.map(([arrivals, results]) => side(arrivals + results, results)))
        expect(best.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 6)
        expect(best.every(share => share >= 0 && share <= 1)).toBe(true)
      }),
    )
    expect(splitStand([side(400, 10), side(400, 10)]).needed).toBeNull()
    expect(splitStand([side(0, 0), side(0, 0)])).toEqual({ best: [0.5, 0.5], needed: null })
  })
  it('is right as often as it says, over many drawn splits', () => {
    const random = randomStream(4)
    let [said, right] = [0, 0]
    for (let i = 0; i < 300; i++) {
      const rates = [0.03 * random.factor(0.25), 0.03 * random.factor(0.25)]
      const sides = rates.map(rate => side(600, random.poisson(600 * rate)))
      const { best } = splitStand(sides)
      const leading = best[0]! > best[1]! ? 0 : 1
      said += best[leading]!
      right += rates[leading]! >= rates[1 - leading]! ? 1 : 0
    }
    expect(Math.abs(said - right) / 300).toBeLessThan(0.07)
  })
})
