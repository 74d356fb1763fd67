import { describe, expect, it } from 'vitest'
import { always, claim, click, dataset, delivery, order, type Rows } from '../evidence/sampleRecords'
import { gatherEvidence } from './evidence'
import { costOf } from './figures'
import { judge } from './judge'
import { reportJudgement, reportRow } from './report'
import { pathAbove, scopeOf } from './rows'

const on = (day: string) => Date.parse(day) / 86_400_000
const judged = (records: Rows, settings: object = {}, period = always) =>
  judge(gatherEvidence(dataset(records, settings)), period)
const s1 = { ad_set_id: 's1' }
const records: Rows = {
  delivery: [
    delivery('2026-10-01', { ...s1, campaign_name: 'Old' }),
    delivery('2026-10-02', { ...s1, campaign_name: 'New', spend: '20.00', impressions: '1', clicks: '2' }),
    delivery('2026-10-02', { ...s1, ad_id: 'a2', spend: '5.00' }),
    delivery('2026-10-02', { network: 'kelpie', campaign_id: 'k1', ad_id: null, spend: '3.00' }),
  ],
  clicks: [click('x', 0, { ...s1, visitor_id: 'v' }), click('y', 1, { ...s1, ad_id: 'a2', visitor_id: 'v' })],
  orders: [
    order('o1', 2, { visitor_id: 'v', total: '100.01' }),
    order('o2', 30, { utm_source: 'norrfeed', utm_content: 'a2', total: '50.00' }),
    order('o3', 3, { status: 'cancelled', visitor_id: 'v' }),
  ],
  claimRows: [claim(2, { transaction_id: 'o1', value: '90.00' }), claim(30, { ad_id: 'a2', value: '40.00' })],
}

describe('a judged period', () => {
  it('sums each ad’s spend, claims, credit and value, and the levels above', () => {
    const { rows, totals, networks } = judged(records, { credit: 'even' })
    const sums = (level: string, id: string) => rows.find(r => r.level === level && r.id === id)!.sums
    expect(sums('ad', 'a1')).toMatchObject({
      spend: 3000,
      impressions: 1001,
      clicks: 12,
      claimed: 1,
      claimedValue: 9000,
      provenCredit: 500_000,
      taggedCredit: 0,
      trackedValue: 5000,
    })
    // The last part of an order’s value has what is left of it.
    expect(sums('ad', 'a2')).toMatchObject({
      spend: 500,
      provenCredit: 500_000,
      taggedCredit: 1_000_000,
      trackedValue: 5001 + 5000,
    })
    expect(sums('campaign', 'c1')).toMatchObject({
      spend: 3500,
      provenCredit: 1_000_000,
      trackedValue: 15_001,
    })
    expect(totals.sums).toMatchObject({ spend: 3800, claimed: 2, claimedValue: 13_000 })
    expect(networks.map(n => [n.network, n.sums.spend])).toEqual([
      ['norrfeed', 3500],
      ['kelpie', 300],
    ])
  })
  it('holds its first and last day and no other', () => {
    const { totals } = judged(records, {}, { from: on('2026-10-02'), to: on('2026-10-02') })
    expect(totals.sums).toMatchObject({ spend: 2800, claimed: 1, provenCredit: 0, taggedCredit: 1_000_000 })
    expect(judged(records, {}, { from: on('2026-10-03'), to: on('2026-10-09') }).rows).toEqual([])
  })
  it('names each row, with what it was called before and what stands above', () => {
    const { rows, totals } = judged(records)
    expect(
      rows.map(({ level, id, name, formerNames, network, parentId, path }) => ({
        level,
        id,
        name,
        formerNames,
        network,
        parentId,
        path,
      })),
    ).toEqual([
      {
        level: 'campaign',
        id: 'c1',
        name: 'New',
        formerNames: ['Old'],
        network: 'norrfeed',
        parentId: null,
        path: ['norrfeed', 'c1'],
      },
      {
        level: 'campaign',
        id: 'k1',
        name: 'k1',
        formerNames: [],
        network: 'kelpie',
        parentId: null,
        path: ['kelpie', 'k1'],
      },
      {
        level: 'ad_set',
        id: 's1',
        name: 's1',
        formerNames: [],
        network: 'norrfeed',
        parentId: 'c1',
        path: ['norrfeed', 'c1', 's1'],
      },
      {
        level: 'ad_set',
        id: '',
        name: '',
        formerNames: [],
        network: 'kelpie',
        parentId: 'k1',
        path: ['kelpie', 'k1', ''],
      },
      {
        level: 'ad',
        id: 'a1',
        name: 'a1',
        formerNames: [],
        network: 'norrfeed',
        parentId: 's1',
        path: ['norrfeed', 'c1', 's1', 'a1'],
      },
      {
        level: 'ad',
        id: 'a2',
        name: 'a2',
        formerNames: [],
        network: 'norrfeed',
        parentId: 's1',
        path: ['norrfeed', 'c1', 's1', 'a2'],
      },
      {
        level: 'ad',
        id: '',
        name: '',
        formerNames: [],
        network: 'kelpie',
        parentId: '',
        path: ['kelpie', 'k1', '', ''],
      },
    ])
    const whole = { level: 'total', id: 'total', name: 'All ads', formerNames: [], parentId: null }
    expect(totals).toMatchObject({ ...whole, network: '', path: [] })
    expect(judged(records).networks[1]).toMatchObject({ ...whole, network: 'kelpie', path: ['kelpie'] })
  })
  it('has its line at what an order leaves, or at the target', () => {
    // (100.01 + 50.00) / 2 × 0.4.
    expect(judged(records, { margin: 0.4 }).line).toBeCloseTo(3000.2, 6)
    expect(judged(records, { margin: 0.4 }).breakEvenRoas).toBe(2.5)
    expect(judged(records, { margin: 0.4, target_cost: 12.34 }).line).toBe(1234)
    expect(judged(records, { currency: 'JPY', target_cost: 1200 }).line).toBe(1200)
    expect(judged({ delivery: records.delivery! }).line).toBeNull()
  })
  it('has its line lower by what every order costs besides, and is surer to be over it', () => {
    const [without, by] = [judged(records, { margin: 0.4 }), judged(records, { margin: 0.4, fee: 2.5 })]
    expect(by.line).toBeCloseTo(without.line! - 250, 6)
    // An average of 75.005 leaves 27.502 of it: that much less has to be spent for each.
    expect(by.breakEvenRoas).toBeCloseTo(75.005 / 27.502, 6)
    for (const [i, row] of by.rows.entries()) {
      expect(row.line).toBeCloseTo(without.rows[i]!.line! - 250, 6)
      expect(row.verdict.probability ?? 0).toBeLessThanOrEqual(without.rows[i]!.verdict.probability ?? 0)
    }
    // What costs more than it brings has the least line that there is, and is cut.
    const dear = judged(records, { margin: 0.4, fee: 90 })
    expect(dear.line).toBe(1)
    expect(dear.totals.verdict.kind).toBe('cut')
    expect(judged(records, { margin: 0.4, fee: 2.5, target_cost: 12.34 }).line).toBe(1234)
  })
  it('has its line by the margins of the groups that its orders are of', () => {
    const grouped: Rows = {
      ...records,
      orders: records.orders!.map((o, i) => ({ ...o, product_group: i === 0 ? 'Looms' : 'Yarn' })),
    }
    const product_groups = [
      { name: 'Looms', margin: 0.5, fee: 10 },
      { name: 'Yarn' },
      { name: 'Wood', fee: 1 },
    ]
    const by = judged(grouped, { margin: 0.4, fee: 2.5, product_groups })
    // 100.01 leaves half of it less ten, 50.00 four tenths less 2.50.
    const [looms, yarn] = [10_001 * 0.5 - 1000, 5000 * 0.4 - 250]
    expect(by.line).toBeCloseTo((looms + yarn) / 2, 6)
    expect(by.breakEvenRoas).toBeCloseTo(15_001 / (looms + yarn), 6)
    expect(by.totals.leaves).toBeCloseTo(looms + yarn, 6)
    const adLine = (id: string) => by.rows.find(r => r.level === 'ad' && r.id === id)!.line!
    expect(adLine('a1')).toBeGreaterThan(adLine('a2'))
    // Without rules of their own they are as all others.
    const none = judged(grouped, { margin: 0.4, fee: 2.5 })
    expect(none.rows).toEqual(judged(records, { margin: 0.4, fee: 2.5 }).rows)
  })
  it('reads targets and rules in the minor units of the currency, of which a yen has one', () => {
    const yen: Rows = {
      delivery: [delivery('2026-10-01', { ...s1, spend: '900', currency: 'JPY' })],
      clicks: [],
      orders: [],
    }
    const rule = { when: 'little_spend', spend: 1000 }
    const of = (settings: object) => judged(yen, { currency: 'JPY', margin: 0.5, ...settings })
    expect(of({ target_cost: 2500 }).line).toBe(2500)
    const kinds = (spend: number) =>
      of({ target_cost: 2500, verdicts: { rules: [{ ...rule, spend }] } }).rows.map(r => r.verdict.because)
    expect(new Set(kinds(1000))).toEqual(new Set(['held_by_rule']))
    expect(kinds(800)).not.toContain('held_by_rule')
    const own = [{ network: 'norrfeed', campaign: 'c1', target_cost: 700 }]
    expect(of({ campaign_rules: own }).rows.find(r => r.level === 'campaign')!.line).toBe(700)
  })
  it('has one break-even for the account, wherever it stands', () => {
    const shop: Rows = {
      ...records,
      orders: [...records.orders!, order('walked-in', 5, { total: '900.00', channel: 'store' })],
    }
    const { line, totals } = judged(shop, { margin: 0.5 })
    expect(line).toBe(totals.line)
    // An order that no ad brought says nothing of what one of an ad may cost.
    expect(line).toBe(judged(records, { margin: 0.5 }).line)
  })
  it('judges each row beside those that stand under the same row', () => {
    const many: Rows = {
      delivery: ['a1', 'a2', 'a3'].map(ad_id => delivery('2026-10-01', { ...s1, ad_id, spend: '900.00' })),
      clicks: Array.from({ length: 40 }, (_, i) => click(`k${i}`, 0, { ...s1, ad_id: i < 38 ? 'a1' : 'a2' })),
      orders: Array.from({ length: 40 }, (_, i) => order(`o${i}`, 1, { click_id: `k${i}` })),
    }
    const { rows, totals } = judged(many, { margin: 0.9 })
    const ads = rows.filter(r => r.level === 'ad')
    expect(ads[0]!.verdict.probability).toBeGreaterThan(ads[2]!.verdict.probability!)
    expect(ads.map(r => r.verdict.kind)).toEqual(['raise', 'cut', 'cut'])
    // An ad without orders takes after its siblings, and is not thought worse than they make likely.
    expect(ads[2]!.verdict.probability).toBeGreaterThan(0)
    expect(totals.verdict.kind).toBe('raise')
  })
  it('has a line of its own for each row, by what its results are worth', () => {
    const set = (id: string) => ({ campaign_id: id, ad_set_id: `s-${id}`, ad_id: `a-${id}` })
    const some = (id: string, total: string, n: number) => ({
      clicks: Array.from({ length: n }, (_, i) => click(`${id}${i}`, 0, set(id))),
      orders: Array.from({ length: n }, (_, i) => order(`o-${id}${i}`, 1, { click_id: `${id}${i}`, total })),
    })
    const [yarn, loom] = [some('yarn', '25.00', 40), some('loom', '420.00', 4)]
    const { rows, totals } = judged(
      {
        delivery: ['yarn', 'loom'].map(id => delivery('2026-10-01', { ...set(id), spend: '400.00' })),
        clicks: [...yarn.clicks, ...loom.clicks],
        orders: [...yarn.orders, ...loom.orders],
      },
      { margin: 0.52 },
    )
    const of = (id: string) => rows.find(r => r.level === 'ad' && r.id === `a-${id}`)!
    expect(of('yarn').line! / 100).toBeCloseTo(13, 0)
    // Four looms say less than forty balls of yarn: their worth is drawn toward all.
    expect(of('loom').line! / 100).toBeGreaterThan(150)
    expect(of('loom').line! / 100).toBeLessThan(219)
    expect(of('loom').worth!.low).toBeLessThan(of('loom').worth!.mean)
    expect(of('loom').worth!.high).toBeGreaterThan(of('loom').worth!.mean)
    for (const row of rows) expect(row.line).toBeCloseTo(0.52 * row.worth!.mean, 6)
    expect(totals.line! / 100).toBeCloseTo((0.52 * (40 * 25 + 4 * 420)) / 44, 6)
    // Cost 10.00 under 13.00; cost 100.00 under some 200: neither is over its line, one of which is far from it.
    expect(of('loom').verdict.kind).not.toBe('cut')
    expect(of('yarn').verdict.probability).toBeGreaterThan(0.5)
    const targets = judged({ ...records, delivery: records.delivery! }, { margin: 0.52, target_cost: 20 })
    expect(new Set(targets.rows.map(r => r.line))).toEqual(new Set([2000]))
  })
})

describe('the range of a row', () => {
  // Norrfeed claims three of four tracked orders, and we track six of eight that it claims; Kelpie claims nothing.
  const many = (id: string, n: number, tracked: object | null, claims: boolean): Rows => ({
    clicks: tracked ? Array.from({ length: n }, (_, i) => click(`k-${id}${i}`, 0, tracked)) : [],
    orders: Array.from({ length: n }, (_, i) =>
      order(`${id}${i}`, 1, tracked ? { click_id: `k-${id}${i}` } : {}),
    ),
    claimRows: claims
      ? Array.from({ length: n }, (_, i) =>
          claim(1, { transaction_id: `${id}${i}`, ad_id: i % 2 ? 'a1' : 'a2' }),
        )
      : [],
  })
  const judgedMarket = () => {
    const parts = [
      many('b', 60, s1, true),
      many('t', 20, s1, false),
      many('c', 20, null, true),
      many('n', 60, null, false),
      many('q', 10, { network: 'kelpie', campaign_id: 'k1', ad_id: 'ka' }, false),
    ]
    return judged({
      delivery: [delivery('2026-10-01', s1)],
      clicks: parts.flatMap(p => p.clicks ?? []),
      orders: parts.flatMap(p => p.orders ?? []),
      claimRows: parts.flatMap(p => p.claimRows ?? []),
    })
  }
  it('holds its estimate, and no fewer than are proven', () => {
    const { rows, totals, networks } = judgedMarket()
    for (const row of [...rows, totals, ...networks]) {
      const estimated = row.sums.estimatedTenths / 10
      expect(row.low).toBeLessThanOrEqual(estimated)
      expect(row.high).toBeGreaterThanOrEqual(estimated)
      expect(row.low).toBeGreaterThanOrEqual(Math.min(estimated, row.sums.provenCredit / 1e6))
    }
  })
  it('is as wide as the doubt that its ads share, and their own', () => {
    const { totals, networks } = judgedMarket()
    const norrfeed = networks.find(n => n.network === 'norrfeed')!
    // 80 proven, 20 claimed alone, and about 7 that nobody saw.
    expect(norrfeed.sums.provenCredit / 1e6).toBe(80)
    expect(norrfeed.sums.estimatedTenths / 10).toBeGreaterThan(104)
    expect(norrfeed.sums.estimatedTenths / 10).toBeLessThan(109)
    expect(norrfeed.high - norrfeed.low).toBeGreaterThanOrEqual(5)
    expect(norrfeed.high - norrfeed.low).toBeLessThanOrEqual(13)
    const kelpie = networks.find(n => n.network === 'kelpie')!
    expect(kelpie.low).toBeGreaterThanOrEqual(10)
    expect(kelpie.low).toBeLessThanOrEqual(kelpie.sums.estimatedTenths / 10)
    // Doubts of two networks are none of each other’s, and none is taken away by the other.
    expect(totals.low).toBeGreaterThanOrEqual(90)
    expect(totals.high - totals.low).toBeGreaterThanOrEqual(norrfeed.high - norrfeed.low)
  })
  it('has the worth of estimated orders by the same parts', () => {
    const { networks } = judgedMarket()
    const { sums } = networks.find(n => n.network === 'norrfeed')!
    expect(sums.estimatedValue / 10_000).toBeCloseTo(sums.estimatedTenths / 10, 0)
  })
})

describe('where a row stands', () => {
  const row = (level: 'campaign' | 'ad_set' | 'ad' | 'part' | 'total', path: string[], network = 'n') => ({
    level,
    path,
    network,
  })
  it.each([
    [row('total', [], ''), null, {}],
    [row('total', ['n']), null, { network: 'n' }],
    [row('campaign', ['n', 'c']), null, { network: 'n', campaign: 'c' }],
    [row('ad_set', ['n', 'c', 's']), ['n', 'c'], { network: 'n', campaign: 'c', ad_set: 's' }],
    [row('ad', ['n', 'c', 's', 'a']), ['n', 'c', 's'], { network: 'n', campaign: 'c', ad_set: 's', ad: 'a' }],
    [row('part', ['campaign.theme', 'Oak'], ''), null, { part: 'campaign.theme', value: 'Oak' }],
    [row('part', ['campaign.theme', '']), null, { network: 'n', part: 'campaign.theme', value: '' }],
    [
      row('campaign', ['campaign.theme', 'Oak', 'n', 'c']),
      ['campaign.theme', 'Oak'],
      { network: 'n', campaign: 'c', part: 'campaign.theme', value: 'Oak' },
    ],
  ])('%j', (given, above, scope) => {
    expect(pathAbove(given)).toStrictEqual(above)
    expect(scopeOf(given)).toStrictEqual(scope)
  })
})

describe('the cost of a result', () => {
  it.each([
    [{ spend: 1000, impressions: 0, clicks: 0 }, 4, 250],
    [{ spend: 0, impressions: 5, clicks: 0 }, 4, 0],
    [{ spend: 0, impressions: 0, clicks: 5 }, 4, 0],
    [{ spend: 0, impressions: 0, clicks: 0 }, 4, null],
    [{ spend: 1000, impressions: 1, clicks: 1 }, 0, null],
  ])('%j over %d is %s', (delivery, results, cost) => {
    expect(costOf(delivery, results)).toBe(cost)
  })
})

describe('a judgement as it is exchanged', () => {
  it('is in major units, with a ratio only where there is something to divide by', () => {
    const evidence = gatherEvidence(dataset(records))
    const judgement = judge(evidence, always)
    const row = reportRow(judgement.rows.find(r => r.level === 'ad' && r.id === 'a1')!, 'EUR')
    expect(row).toMatchObject({
      level: 'ad',
      spend: 30,
      claimed: 1,
      proven: 0,
      revenue: { claimed: 90, tracked: 0 },
      cost_per_result: { claimed: 30, tracked: null },
      roas: { claimed: 3, tracked: 0 },
    })
    const kelpie = reportRow(judgement.rows.find(r => r.network === 'kelpie')!, 'EUR')
    expect(kelpie).toMatchObject({
      spend: 3,
      cost_per_result: { claimed: null, estimate: null },
      roas: { claimed: 0 },
    })
  })
  it('has the low cost by the many orders and the high cost by the few', () => {
    const row = judged(records).rows[0]!
    const { cost_per_result: cost, estimate } = reportRow({ ...row, low: 1, high: 5 }, 'EUR')
    expect([estimate.low, estimate.high]).toEqual([1, 5])
    expect([cost.low, cost.high]).toEqual([35 / 5, 35])
  })
  it('holds the rows of one level, the gap in money and the captures', () => {
    const evidence = gatherEvidence(dataset(records))
    const report = reportJudgement(evidence, judge(evidence, always), evidence.data.settings, 'ad_set', [])
    expect(report.rows.map(r => r.level)).toEqual(['ad_set', 'ad_set'])
    expect(report.totals.spend).toBe(38)
    expect(report.gap).toMatchObject({
      orders: 2,
      orders_value: 150.01,
      claims: 2,
      claims_value: 130,
      matched: 1,
    })
    expect(report.gap.causes.find(c => c.cause === 'value_differs')).toEqual({
      cause: 'value_differs',
      count: 0,
      value: 10.01,
      pairs: 1,
    })
    expect(report.capture).toEqual([
      { network: 'norrfeed', network_capture: 0.5, own_capture: 1, orders_estimated: 2 },
      { network: 'kelpie', network_capture: null, own_capture: null, orders_estimated: 0 },
    ])
  })
})
