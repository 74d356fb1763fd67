import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { click, dataset, order } from '../evidence/sampleRecords'
import { measureElasticity } from './elasticity'
import { gatherEvidence } from './evidence'
import { forecastOf, forecastOver, soonAfterClick } from './forecast'
import { mostWorth, reachBreakEven } from './propose'
import type { Series } from './series'
import { factorsOfAds, marginalReturn, type PlannedAd, planKey, whatIf } from './whatIf'

const ad = fc
  .record({
    network: fc.constantFrom('norrfeed', 'kelpie'),
    campaign: fc.constantFrom('c1', 'c2'),
    set: fc.constantFrom('s1', 's2'),
    spend: fc.nat(500_000),
    tenths: fc.nat(800),
    expected: fc.double({ min: 0, max: 80, noNaN: true }),
    variance: fc.double({ min: 0, max: 1, noNaN: true }),
    left: fc.option(fc.double({ min: 1, max: 20_000, noNaN: true }), { nil: null }),
  })
  .map(({ network, campaign, set, ...figures }) => ({ at: [network, campaign, set], ...figures }))
const account = fc.array(ad, { minLength: 1, maxLength: 25 }).map(rows => {
  const ads = rows.map(
    ({ at, left, tenths, expected, ...row }, i): PlannedAd => ({
      ...row,
      path: [...at, `a${i}`],
      tenths,
      value: tenths * 300,
      expected: row.spend > 0 ? expected : 0,
      left,
      worth: left === null ? null : left * 2,
    }),
  )
  const sum = (pick: (one: PlannedAd) => number) => ads.reduce((all, one) => all + pick(one), 0)
  const tenths = sum(one => one.tenths)
  const today = {
    spend: sum(one => one.spend),
    tenths,
    value: sum(one => one.value),
    leaves: Math.round(sum(one => (one.tenths / 10) * (one.left ?? 0))),
    low: tenths / 12,
    high: tenths / 9,
  }
  return { ads, today }
})
const factor = fc.constantFrom(0, 0.2, 0.5, 0.8, 1, 1.2, 2, 3)
const rules = { elasticity: 0.8, cut: 'saved' as const }

describe('what if', () => {
  it('with no change is what it is today, to the unit', () => {
    fc.assert(
      fc.property(account, fc.constantFrom('saved' as const, 'moved' as const), ({ ads, today }, cut) => {
        const { low, high, ...sums } = today
        for (const factors of [new Map(), new Map(ads.map(one => [planKey(one.path), 1]))])
          expect(whatIf(today, ads, factors, { elasticity: 0.7, cut })).toEqual({
            sums,
            low,
            high,
            changes: [],
          })
      }),
    )
  })
  it('comes to what today is and the changes of its ads sum to, at every level', () => {
    fc.assert(
      fc.property(account, fc.array(factor, { minLength: 25, maxLength: 25 }), ({ ads, today }, each) => {
        const own = new Map(ads.map((one, i) => [planKey(one.path), each[i]!]))
        const { sums, changes } = whatIf(today, ads, own, rules)
        for (const figure of ['spend', 'leaves'] as const)
          expect(sums[figure]).toBe(today[figure] + changes.reduce((all, one) => all + one[figure], 0))
        expect(sums.tenths).toBe(
          Math.max(0, today.tenths + changes.reduce((all, one) => all + one.tenths, 0)),
        )
        // Said of a campaign it is the same as said of each of its ads.
        const byCampaign = new Map(ads.map(one => [planKey(one.path.slice(0, 2)), 0.5]))
        const byAd = new Map(ads.map(one => [planKey(one.path), 0.5]))
        expect(whatIf(today, ads, byCampaign, rules)).toEqual(whatIf(today, ads, byAd, rules))
      }),
    )
  })
  it('spends what is cut elsewhere, where it is to be moved', () => {
    fc.assert(
      fc.property(account, ({ ads, today }) => {
        const cut = new Map([[planKey(ads[0]!.path), 0]])
        const others = ads.slice(1).reduce((all, one) => all + one.spend, 0)
        const moved = whatIf(today, ads, cut, { ...rules, cut: 'moved' }).sums.spend
        expect(Math.abs(moved - (others > 0 ? today.spend : 0))).toBeLessThanOrEqual(ads.length)
        expect(whatIf(today, ads, cut, rules).sums.spend).toBe(today.spend - ads[0]!.spend)
      }),
    )
  })
  it('takes what stands nearest above an ad, worked out by hand', () => {
    const ads: PlannedAd[] = [
      {
        path: ['n', 'c', 's', 'a'],
        spend: 10_000,
        tenths: 40,
        value: 20_000,
        expected: 4,
        variance: 0,
        worth: 5000,
        left: 2500,
      },
      {
        path: ['n', 'c', 's', 'b'],
        spend: 10_000,
        tenths: 10,
        value: 5000,
        expected: 1,
        variance: 0,
        worth: 5000,
        left: 2500,
      },
    ]
    const factors = new Map([
      [planKey(['n', 'c']), 0.5],
      [planKey(['n', 'c', 's', 'b']), 0],
    ])
    expect(factorsOfAds(ads, factors, 'saved')).toEqual([0.5, 0])
    const today = { spend: 20_000, tenths: 50, value: 25_000, leaves: 12_500, low: 4, high: 6 }
    const { sums, low, high } = whatIf(today, ads, factors, { elasticity: 1, cut: 'saved' })
    expect(sums).toEqual({ spend: 5000, tenths: 20, value: 10_000, leaves: 5000 })
    expect([low, high]).toEqual([1, 3])
    // What is not sure of a rate is not sure of what a change of it brings.
    const unsure = ads.map(ad => ({ ...ad, variance: 0.5 }))
    const wide = whatIf(today, unsure, factors, { elasticity: 1, cut: 'saved' })
    expect(wide.sums).toEqual(sums)
    expect(wide.high).toBeGreaterThan(high + 0.5)
    expect(wide.low).toBeLessThan(low)
    // One more unit brings back elasticity × what it expects × what that leaves, over what it spends.
    expect(marginalReturn(ads[0]!, 1, 0.8)).toBeCloseTo((0.8 * 4 * 2500) / 10_000, 9)
    expect(marginalReturn(ads[0]!, 2, 0.8)!).toBeLessThan(marginalReturn(ads[0]!, 1, 0.8)!)
  })
})

describe('money that is cut and moved', () => {
  it('goes to those of which nothing is said, and raising frees none', () => {
    const of = (id: string, spend: number): PlannedAd => ({
      path: ['n', 'c', 's', id],
      spend,
      tenths: 0,
      value: 0,
      expected: 1,
      variance: 0,
      worth: 1,
      left: 1,
    })
    const factors = new Map([
      [planKey(['n', 'c', 's', 'a']), 0],
      [planKey(['n', 'c', 's', 'b']), 1.5],
    ])
    const ads = [of('a', 300), of('b', 1000), of('c', 600)]
    expect(factorsOfAds(ads, factors, 'moved')).toEqual([0, 1.5, 1.5])
    expect(factorsOfAds(ads, factors, 'saved')).toEqual([0, 1.5, 1])
    // Where nothing else spends, nothing can take it.
    expect(factorsOfAds([...ads.slice(0, 2), of('c', 0)], factors, 'moved')).toEqual([0, 1.5, 1])
  })
})

describe('a proposal', () => {
  it('to reach break-even reaches it, and with one cut less it is not reached', () => {
    fc.assert(
      fc.property(account, ({ ads, today }) => {
        const said = reachBreakEven(today, ads, 0.8)
        expect(said.kind === 'already').toBe(today.leaves >= today.spend)
        if (said.kind === 'already') return
        const after = (paths: readonly (readonly string[])[]) =>
          whatIf(today, ads, new Map(paths.map(path => [planKey(path), 0])), rules).sums
        const all = after(said.changes.map(change => change.path))
        if (said.kind === 'out_of_reach') {
          expect(all.leaves).toBeLessThan(all.spend)
          return
        }
        expect(all.leaves).toBeGreaterThanOrEqual(all.spend)
        const now = { ...today, leaves: 0, spend: 0 }
        for (const { path, factor, gain } of said.changes) {
          const { sums } = whatIf(now, ads, new Map([[planKey(path), factor]]), rules)
          expect(Math.abs(sums.leaves - sums.spend - gain)).toBeLessThanOrEqual(1)
        }
        for (const without of said.changes) {
          const fewer = after(said.changes.filter(one => one !== without).map(one => one.path))
          expect(fewer.leaves).toBeLessThan(fewer.spend)
        }
      }),
    )
  })
  it('for most worth never spends more than it may, nor more on one than it may grow to', () => {
    fc.assert(
      fc.property(account, fc.double({ min: 1.2, max: 4, noNaN: true }), ({ ads, today }, most) => {
        const said = mostWorth(ads, { budget: today.spend, elasticity: 0.8, most })
        if (said.kind === 'already') return
        // Those that gain most stand first; what stays as it is stands in none.
        expect(said.changes.map(one => one.gain)).toEqual(
          said.changes.map(one => one.gain).sort((a, b) => b - a),
        )
        expect(said.changes.every(one => one.factor > 1 || one.factor <= 0.9)).toBe(true)
        const now = { ...today, leaves: 0, spend: 0 }
        for (const { path, factor, gain } of said.changes) {
          const { sums } = whatIf(now, ads, new Map([[planKey(path), factor]]), rules)
          expect(Math.abs(sums.leaves - sums.spend - gain)).toBeLessThanOrEqual(1)
        }
        const factors = new Map(said.changes.map(one => [planKey(one.path), one.factor]))
        expect(Math.max(...factors.values())).toBeLessThanOrEqual(most + 1e-6)
        const { sums } = whatIf(today, ads, factors, rules)
        expect(sums.spend).toBeLessThanOrEqual(today.spend + ads.length)
      }),
    )
  })
  it('cuts the smallest that suffices as its last', () => {
    const losing = (id: string, spend: number, loses: number): PlannedAd => ({
      path: ['n', 'c', 's', id],
      spend,
      tenths: 0,
      value: 0,
      expected: (spend - loses) / 100,
      variance: 0,
      worth: 100,
      left: 100,
    })
    const ads = [losing('big', 20_000, 10_000), losing('middle', 50_000, 4000), losing('small', 4000, 3500)]
    const today = { spend: 74_000, tenths: 0, value: 0, leaves: 61_000, low: 0, high: 0 }
    const said = reachBreakEven(today, ads, 0.8)
    expect(said.kind === 'proposed' && said.changes.map(one => [one.path[3], one.factor, one.gain])).toEqual([
      ['big', 0, 10_000],
      ['small', 0, 3500],
    ])
  })
  it('does not spend more for rounding what it would hardly change', () => {
    const alike = fc.array(
      fc.tuple(fc.integer({ min: 5000, max: 200_000 }), fc.double({ min: 0.93, max: 1.07, noNaN: true })),
      { minLength: 2, maxLength: 8 },
    )
    fc.assert(
      fc.property(alike, given => {
        const ads = given.map(
          ([spend, by], i): PlannedAd => ({
            path: ['n', 'c', 's', `a${i}`],
            spend,
            tenths: 0,
            value: 0,
            expected: (spend / 5000) * by,
            variance: 0,
            worth: 1,
            left: 5000,
          }),
        )
        const budget = ads.reduce((sum, one) => sum + one.spend, 0)
        const said = mostWorth(ads, { budget, elasticity: 0.8, most: 2 })
        if (said.kind === 'already') return
        const more = said.changes.reduce((sum, one) => sum + (one.factor - 1) * one.spend, 0)
        expect(more).toBeLessThanOrEqual(1e-6 * budget)
      }),
    )
  })
  it('moves money from what brings little to what brings much', () => {
    const one = (id: string, expected: number): PlannedAd => ({
      path: ['n', 'c', 's', id],
      spend: 100_000,
      tenths: expected * 10,
      value: 0,
      expected,
      variance: 0.01,
      worth: 10_000,
      left: 5000,
    })
    // At break-even nothing need be done for it, and among equals nothing can be moved.
    const even = { spend: 200_000, tenths: 400, value: 0, leaves: 200_000, low: 30, high: 50 }
    expect(reachBreakEven(even, [one('a', 20), one('b', 20)], 0.8)).toEqual({ kind: 'already' })
    const alike = { budget: 200_000, elasticity: 0.8, most: 2 }
    expect(mostWorth([one('a', 20), one('b', 20)], alike)).toEqual({ kind: 'already' })
    const ads = [one('poor', 10), one('good', 40)]
    const said = mostWorth(ads, { budget: 200_000, elasticity: 0.8, most: 2 })
    if (said.kind !== 'proposed') throw new Error(said.kind)
    const factorOf = (id: string) => said.changes.find(change => change.path[3] === id)!.factor
    expect(factorOf('good')).toBeGreaterThan(1.8)
    expect(factorOf('poor')).toBeLessThan(0.2)
    const factors = new Map(said.changes.map(change => [planKey(change.path), change.factor]))
    const today = { spend: 200_000, tenths: 500, value: 0, leaves: 250_000, low: 40, high: 60 }
    expect(whatIf(today, ads, factors, rules).sums.leaves).toBeGreaterThan(today.leaves)
    // Of a budget that is far larger, what no ad would bring back stays where it is.
    const large = mostWorth(ads, { budget: 1_000_000, elasticity: 0.8, most: 2 })
    if (large.kind !== 'proposed') throw new Error(large.kind)
    expect(large.changes.filter(change => change.factor > 1).map(change => change.path[3])).toEqual(['good'])
    expect(large.unspent).toBeGreaterThan(700_000)
  })
})

const seriesOf = (spend: number[][], results: number[][]): Series => {
  const days = spend[0]!.length
  const flat = (rows: number[][]) => Float64Array.from(rows.flat())
  const none = new Float64Array(spend.length * days)
  return {
    from: 20_000,
    days,
    groups: spend.length,
    spend: flat(spend),
    results: flat(results),
    impressions: none,
    clicks: none,
    reach: none,
    reachedImpressions: none,
    claimed: none,
    value: none,
    leaves: none,
    variance: none,
  }
}

describe('what a plan rests on', () => {
  const one = (id: string, more: Partial<PlannedAd> = {}): PlannedAd => ({
    path: ['n', 'c', 's', id],
    spend: 100_000,
    tenths: 200,
    value: 60_000,
    expected: 20,
    variance: 0,
    left: 8000,
    worth: 9000,
    ...more,
  })
  it('each end of its range goes on from that end of today’s', () => {
    const today = { spend: 200_000, tenths: 400, value: 0, leaves: 0, low: 20, high: 45 }
    const { sums, low, high } = whatIf(
      today,
      [one('a'), one('b')],
      new Map([[planKey(one('a').path), 0]]),
      rules,
    )
    // Sure rates add no doubt: forty less twenty below, five more above, about what is left.
    expect(low).toBeCloseTo(Math.max(0, sums.tenths / 10 - 20), 6)
    expect(high).toBeCloseTo(sums.tenths / 10 + 5, 6)
  })
  it('a budget to share out holds what is spent on ads of which nothing is known', () => {
    const ads = [
      one('a', { expected: 5 }),
      one('b', { expected: 60 }),
      one('unknown', { left: null, worth: null }),
    ]
    const budget = 240_000
    const said = mostWorth(ads, { budget, elasticity: 0.8, most: 3 })
    if (said.kind !== 'proposed') throw new Error('nothing is proposed')
    const factors = new Map(said.changes.map(change => [planKey(change.path), change.factor]))
    const spent = ads.reduce((sum, ad) => sum + ad.spend * (factors.get(planKey(ad.path)) ?? 1), 0)
    expect(spent).toBeLessThanOrEqual(budget)
    expect(spent).toBeGreaterThan(0.9 * budget)
  })
})

describe('elasticity', () => {
  it('is found where budgets were changed, and said to be unknown where they never were', () => {
    for (const power of [0.5, 0.8, 1]) {
      const budgets = [1, 2, 4, 1, 3, 6, 2, 5]
      const spend = [0, 1, 2].map(i => budgets.flatMap(b => Array<number>(7).fill(b * 100 * (i + 1))))
      const results = spend.map(row => row.map(s => 0.4 * s ** power))
      // Beside them one whose budget stood still, one that ran in one week alone, and one without results.
      const still = Array<number>(56).fill(500)
      const once = still.map((s, day) => (day < 7 ? s : 0))
      const all = [still, once, budgets.flatMap(b => Array<number>(7).fill(b * 90)), ...spend]
      const found = measureElasticity(
        seriesOf(all, [still.map(() => 3), once.map(s => s / 50), still.map(() => 0), ...results]),
      )
      expect(found!.elasticity).toBeCloseTo(power, 2)
    }
    // Budgets that hardly moved, with few results, tell nothing either.
    const hardly = [Array.from({ length: 56 }, (_, day) => (day % 14 < 7 ? 500 : 530))]
    expect(
      measureElasticity(
        seriesOf(
          hardly,
          hardly.map(row => row.map(() => 0.4)),
        ),
      ),
    ).toBeNull()
    const steady = [Array<number>(56).fill(500), Array<number>(56).fill(900)]
    expect(
      measureElasticity(
        seriesOf(
          steady,
          steady.map(row => row.map(() => 2)),
        ),
      ),
    ).toBeNull()
  })
})

describe('a forecast', () => {
  it('knows how soon results come after their click, by those that are tied to one', () => {
    const lags = [1, 23, 30, 24 * 3.5, 24 * 20]
    const soon = soonAfterClick(
      gatherEvidence(
        dataset({
          clicks: lags.map((_, i) => click(`c${i}`, 10 * i, { visitor_id: `v${i}` })),
          orders: [
            ...lags.map((lag, i) => order(`T${i}`, 10 * i + lag, { click_id: `c${i}` })),
            order('T8', 5, { status: 'cancelled', click_id: 'c0' }),
            order('T9', 5),
          ],
        }),
      ),
    )
    expect(soon.slice(0, 5)).toEqual([0.4, 0.6, 0.6, 0.8, 0.8])
    expect(soon.slice(13)).toEqual([0.8, 1])
    // Where nothing is tied to a click, what is cut is taken to end at once.
    expect(new Set(soonAfterClick(gatherEvidence(dataset({ orders: [order('T1', 1)] }))))).toEqual(
      new Set([1]),
    )
  })
  const within = [0.5, 0.75, 1]
  const ads: PlannedAd[] = [
    {
      path: ['n', 'c', 's', 'a'],
      spend: 70_000,
      tenths: 280,
      value: 0,
      expected: 28,
      variance: 0.02,
      worth: 1,
      left: 3,
    },
  ]
  const over = (factor: number, days: number) =>
    forecastOver(forecastOf(ads, [factor], { days: () => 28, elasticity: 0.8, within }), days)
  it('of what is cut still has the results of clicks before, and less with each day', () => {
    const cut = over(0, 1)
    expect(cut.spend).toBe(0)
    // Half of a day's clicks bring theirs within it: on the first day three quarters are of clicks before.
    expect(cut.results).toBeCloseTo(1 - 0.25, 9)
    expect(over(0, 20).results - over(0, 10).results).toBeCloseTo(0, 9)
    expect(cut.leaves).toBeCloseTo(0.75 * 3, 9)
  })
  it('is no surer of all ads together than the season lets it be', () => {
    const many = (n: number) =>
      Array.from({ length: n }, () => ({ ...ads[0]!, expected: 28 / n, spend: 70_000 / n }))
    const doubt = (n: number) =>
      forecastOf(
        many(n),
        many(n).map(() => 1),
        { days: () => 28, elasticity: 0.8, within },
      ).doubt
    expect(doubt(1)).toBeGreaterThan(doubt(10))
    expect(doubt(10_000)).toBeGreaterThan(0.001)
    expect(doubt(10_000)).toBeLessThan(doubt(10))
  })
  it('of what goes on is what it was, and of more grows by less than in proportion', () => {
    expect(over(1, 14).results).toBeCloseTo(14, 9)
    expect(over(1, 14).leaves).toBeCloseTo(14 * 3, 9)
    // It is the less sure, the less sure the ad's rate is, and in proportion to what comes.
    const doubtOf = (variance: number, expected: number) =>
      forecastOf([{ ...ads[0]!, variance, expected }], [1], { days: () => 28, elasticity: 0.8, within }).doubt
    expect(doubtOf(0.5, 28)).toBeGreaterThan(doubtOf(0.02, 28) + 0.4)
    expect(doubtOf(0.02, 56)).toBeCloseTo(4 * doubtOf(0.02, 28), 9)
    const sure = forecastOf(ads, [1], { days: () => 28, elasticity: 0.8, within })
    const unsure = forecastOver({ ...sure, doubt: 0.5 }, 14)
    expect(unsure.high).toBeGreaterThan(forecastOver(sure, 14).high + 5)
    expect(unsure.low).toBeLessThan(forecastOver(sure, 14).low)
    const more = over(2, 14)
    expect(more.spend).toBe(2 * over(1, 14).spend)
    expect(more.results).toBeGreaterThan(14)
    expect(more.results).toBeLessThan(28)
    expect(more.low).toBeLessThan(more.results)
    expect(more.high).toBeGreaterThan(more.results)
  })
})
