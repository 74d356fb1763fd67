import { describe, expect, it } from 'vitest'
import { orderRange } from '../estimate/range'
import { always, claim, click, dataset, delivery, order } from '../evidence/sampleRecords'
import { formatDay, parseDay } from '../shared/days'
import { type DoubtFacts, doubtsOf, fallenCaptures } from './doubts'
import { type Evidence, gatherEvidence } from './evidence'
import { judge } from './judge'
import { leavesIn } from './leavesIn'
import type { JudgedRow } from './rows'
import { trendDays, trendOf } from './trend'
import { weighRows } from './weighRow'

const facts: DoubtFacts = {
  fallen: false,
  lostClicks: false,
  firstSpent: 100,
  learningDays: 0,
  period: { from: 100, to: 127 },
  late: false,
}
/** A row with so many results, of which so many were seen, all worth as much unless one is larger. */
const row = ({ results = 10, seen = 8, kind = 'hold', largest = 100 }) =>
  ({
    verdict: { kind },
    sums: {
      estimatedTenths: results * 10,
      provenCredit: seen * 600_000,
      taggedCredit: seen * 400_000,
      estimatedValue: (results - 1) * 100 + largest,
    },
    squares: (results - 1) * 10_000 + largest ** 2,
  }) as JudgedRow

describe('what a verdict rests on', () => {
  it.each([
    ['nothing beside its own figures', {}, {}, []],
    ['results that nobody saw', { seen: 6 }, {}, ['lost_tracking']],
    ['not where most were seen', { seen: 6.5 }, {}, []],
    ['not where there are too few to say', { results: 1, seen: 0 }, {}, []],
    ['a network that sees less than before', {}, { fallen: true }, ['lost_tracking']],
    ['clicks that never arrive', {}, { lostClicks: true }, ['lost_clicks']],
    ['a network that still learns', {}, { firstSpent: 121, learningDays: 7 }, ['learning']],
    ['not once it has learned', {}, { firstSpent: 120, learningDays: 7 }, []],
    ['not what never ran', {}, { firstSpent: null, learningDays: 7, period: { from: -24, to: 3 } }, []],
    ['nor at a network that does not learn', {}, { firstSpent: 130, learningDays: 0 }, []],
    ['a report that is late', {}, { late: true }, ['not_reported']],
    ['one large order', { largest: 2000 }, {}, ['one_large_order']],
    ['which does not speak against a cut', { largest: 2000, kind: 'cut' }, {}, []],
    ['not what is large beside few', { results: 2, seen: 2, largest: 2000 }, {}, []],
  ])('%s', (_, given, more, doubts) => {
    expect(doubtsOf(row(given), { ...facts, ...more })).toEqual(doubts)
  })
  it('takes a network for one that sees less when its capture falls by more than a fifth', () => {
    const captures = { norrfeed: [0.8, 0.63], kelpie: [0.8, 0.65], mothwire: [0, 0.5] }
    const evidence = {
      data: { tree: { networks: Object.keys(captures) }, orders: [{ day: 10 }] },
      estimate: {
        captureOn: (n: number, _: number, to: number) => Object.values(captures)[n]![to < 100 ? 0 : 1]!,
      },
    } as unknown as Evidence
    const asked: number[][] = []
    const { captureOn } = evidence.estimate
    Object.assign(evidence.estimate, {
      captureOn: (n: number, from: number, to: number) => {
        asked.push([from, to])
        return captureOn(n, from, to)
      },
    })
    expect(fallenCaptures(evidence, { from: 100, to: 127 })).toEqual([true, false, false])
    // As many days before stand beside the period.
    expect(asked.slice(0, 2)).toEqual([
      [72, 99],
      [100, 127],
    ])
    // Before the first order nobody could see anything.
    expect(fallenCaptures(evidence, { from: 10, to: 127 })).toEqual([false, false, false])
  })
})

describe('what an order leaves, by the campaign of its ad', () => {
  const settings = {
    margin: 0.5,
    fee: 2,
    product_groups: [
      { name: 'kits', margin: 0.3, fee: 1 },
      { name: 'looms', target_cost: 40 },
    ],
    campaign_rules: [
      { network: 'norrfeed', campaign: 'c1', margin: 0.6 },
      { network: 'norrfeed', campaign: 'c2', fee: 5 },
      { network: 'norrfeed', campaign: 'c3', target_cost: 30 },
    ],
  }
  const data = dataset(
    {
      delivery: ['c1', 'c2', 'c3'].map((campaign_id, i) =>
        delivery('2026-10-01', { campaign_id, ad_id: `a${i}` }),
      ),
      orders: [
        order('T1', 1, { product_group: 'kits' }),
        order('T2', 2, { product_group: 'looms' }),
        order('T3', 3),
      ],
    },
    settings,
  )
  // Each order is of 100.00. In rows: a margin of its own, a fee of its own, neither.
  it.each([
    ['c1', [5900, 5800, 5800]],
    ['c2', [2500, 4000, 4500]],
    ['c3', [2900, 4000, 4800]],
  ])('%s', (campaign, leaves) => {
    const leaf = data.tree.leaves.findIndex(one => one.campaign === campaign)
    const left = leavesIn(data)
    const byName = ['T1', 'T2', 'T3'].map(id => data.orders.find(one => one.order_id === id)!)
    expect(byName.map(one => Math.round(left(one, leaf)))).toEqual(leaves)
  })
})

const first = parseDay('2026-10-01')!
/** Two ads of one campaign, one of another network, over ten days. */
const evidence = gatherEvidence(
  dataset({
    delivery: [
      delivery('2026-10-01', { status: 'Active', reach: '500', campaign_name: 'Autumn kits' }),
      delivery('2026-10-02', { status: 'Paused', spend: '0.00', reach: '400' }),
      delivery('2026-10-04', { ad_id: 'a2', spend: '30.00', status: 'running' }),
      delivery('2026-10-05', { ad_id: 'a3', spend: '0.00', impressions: '0', clicks: '0', status: 'Ended' }),
      delivery('2026-10-09', { ad_id: 'a2', impressions: '4000' }),
      delivery('2026-10-10', { network: 'kelpie', campaign_id: 'k', ad_id: 'b', spend: '7.00' }),
    ],
    clicks: [
      click('c1', 2, { visitor_id: 'v1' }),
      click('c2', 80, { visitor_id: 'v2', ad_id: 'a2' }),
      click('c3', 220, { visitor_id: 'v3', network: 'kelpie', campaign_id: 'k', ad_id: 'b' }),
    ],
    orders: [
      order('T1', 3, { click_id: 'c1' }),
      order('T2', 90, { click_id: 'c2', total: '60.00' }),
      order('T3', 221, { click_id: 'c3' }),
    ],
    claimRows: [claim(3), claim(91, { ad_id: 'a2', value: '60.00' })],
  }),
)
const period = { from: first, to: first + 9 }

describe('a weighed row', () => {
  /** Rows by their level and ID. */
  const finder = () => {
    const weighed = weighRows(evidence, judge(evidence, always).rows, period, {
      learningDays: network => (network === 'kelpie' ? 3 : 0),
      lostClicks: new Set(['norrfeed/a2']),
    })
    return (level: string, id: string) => weighed.find(one => one.level === level && one.id === id)!
  }
  it('knows when it spent, and whether it runs by its network’s last word', () => {
    const at = finder()
    expect(at('ad', 'a1')).toMatchObject({ firstSpent: first, lastSpent: first, active: false })
    expect(at('ad', 'a2')).toMatchObject({ firstSpent: first + 3, lastSpent: first + 8, active: true })
    // One of its ads runs.
    expect(at('campaign', 'c1')).toMatchObject({ firstSpent: first, lastSpent: first + 8, active: true })
    expect(at('ad', 'b').active).toBeNull()
  })
  it('says what is doubtful about it and about those below it', () => {
    const at = finder()
    expect(at('ad', 'a1').doubts).toContain('not_reported')
    expect(at('ad', 'a1').doubts).not.toContain('lost_clicks')
    expect(at('ad', 'a2').doubts).toContain('lost_clicks')
    expect(at('campaign', 'c1').doubts).toContain('lost_clicks')
    expect(at('ad', 'b').doubts).toEqual(['learning'])
  })
  it('is not late with days that are not asked for, and has nothing to rest on where it is all', () => {
    const usual = { learningDays: () => 0, lostClicks: new Set<string>() }
    const { rows, totals } = judge(evidence, always)
    const early = weighRows(evidence, rows, { from: first, to: first + 3 }, usual)
    expect(early.filter(one => one.doubts.includes('not_reported'))).toEqual([])
    expect(weighRows(evidence, [totals], period, usual)).toMatchObject([
      { firstSpent: null, lastSpent: null, active: null, doubts: [], tires: [] },
    ])
  })
})

describe('the history of a row', () => {
  const history = () => trendOf(evidence, ['norrfeed'], period, 4)
  it('ends with the period, and begins with what is left of days', () => {
    expect(history().whole.stretches.map(({ from, days }) => [from, days])).toEqual([
      ['2026-10-01', 2],
      ['2026-10-03', 4],
      ['2026-10-07', 4],
    ])
  })
  it('holds what was delivered, claimed and brought in each stretch', () => {
    const { whole } = history()
    expect(whole.stretches.map(one => [one.spend, one.impressions, one.clicks, one.claimed])).toEqual([
      [1000, 2000, 20, 1],
      [3000, 1000, 10, 1],
      [1000, 4000, 10, 0],
    ])
    // Both orders that are tracked to it were claimed; in the last days none was tracked.
    expect(whole.stretches.map(one => one.capture)).toEqual([1, 1, null])
    const judged = whole.stretches.map(({ from, days }) => {
      const start = parseDay(from)!
      return judge(evidence, { from: start, to: start + days - 1 }).networks.find(
        one => one.network === 'norrfeed',
      )!
    })
    whole.stretches.forEach((stretch, i) => {
      expect(Math.abs(stretch.results - judged[i]!.sums.estimatedTenths / 10)).toBeLessThanOrEqual(0.05)
      expect(Math.abs(stretch.leaves - judged[i]!.leaves)).toBeLessThanOrEqual(1)
      // Chance of counts alone leaves this much open.
      const chance = orderRange(0, stretch.results, stretch.results)
      expect(stretch.low).toBeLessThanOrEqual(chance.low)
      expect(stretch.high).toBeGreaterThanOrEqual(chance.high)
      expect(stretch.cost === null).toBe(stretch.results < 0.05)
    })
    // Reach is told of the first two days alone: 2,000 impressions for 900 people.
    expect(whole.stretches.map(one => one.frequency)).toEqual([2000 / 900, null, null])
    expect(whole.stretches.map(one => one.priceOfAttention)).toEqual([500, 3000, 250])
  })
  it('is of its own ads alone, those below it in order of spend, and of all networks where none is named', () => {
    expect(history().below.map(one => one.path)).toEqual([['norrfeed', 'c1']])
    const ads = trendOf(evidence, ['norrfeed', 'c1', ''], period, 10).below
    expect(ads.map(one => [one.path.at(-1), one.stretches[0]!.spend])).toEqual([
      ['a2', 4000],
      ['a1', 1000],
    ])
    const all = trendOf(evidence, [], period, 10).whole.stretches[0]!
    expect([history().whole.name, ...history().below.map(one => one.name)]).toEqual([
      'norrfeed',
      'Autumn kits',
    ])
    // What its network does not break down has no name, and what has none is called by its ID.
    expect(trendOf(evidence, ['norrfeed', 'c1'], period, 10).below.map(one => one.name)).toEqual([''])
    expect(ads.map(one => one.name)).toEqual(['a2', 'a1'])
    expect(all.spend).toBe(5700)
    expect(all.capture).toBeNull()
    expect(trendOf(evidence, ['norrfeed', 'c1', '', 'a1'], period, 10).below).toEqual([])
  })
  it('goes back eight weeks where the period is short, but not before the first day', () => {
    const of = (from: string, to: string, begin: string) =>
      formatDay(trendDays({ from: parseDay(from)!, to: parseDay(to)! }, parseDay(begin)!).from)
    expect(of('2026-11-01', '2026-11-28', '2026-01-01')).toBe('2026-10-04')
    expect(of('2026-11-01', '2026-11-28', '2026-10-20')).toBe('2026-10-20')
    expect(of('2026-06-01', '2026-11-28', '2026-01-01')).toBe('2026-06-01')
    expect(of('2026-06-01', '2026-06-05', '2026-06-03')).toBe('2026-06-01')
  })
})
