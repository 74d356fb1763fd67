import { describe, expect, it } from 'vitest'
import { WHOLE } from '../evidence/place'
import { minor } from '../shared/money'
import { noSums, type Sums } from './figures'
import { reportRow } from './report'
import type { JudgedRow } from './rows'

const row = (sums: Partial<Sums>, more: Partial<JudgedRow> = {}): JudgedRow => ({
  level: 'ad',
  path: ['norrfeed', 'c1', 's1', 'a1'],
  id: 'a1',
  name: 'Hands at the loom',
  formerNames: [],
  byResult: null,
  restsOn: null,
  network: 'norrfeed',
  parentId: 's1',
  sums: { ...noSums(), ...sums },
  low: 16.049,
  high: 25.951,
  variance: 4,
  squares: 9,
  leaves: 4,
  leavesSquares: 5,
  worth: { mean: 15_012.34, low: 14_000, high: 16_000 },
  line: 7806.4168,
  rate: null,
  left: null,
  verdict: { kind: 'hold', because: 'near_the_line', probability: 0.612345, needed: minor(250_07) },
  ...more,
})
/** Every amount and count another, so that no figure can stand for its neighbour. */
const sums = {
  spend: minor(1_000_03),
  impressions: 90_000,
  clicks: 700,
  claimed: 30,
  claimedValue: minor(4_500_00),
  provenCredit: 12 * WHOLE,
  taggedCredit: 3 * WHOLE,
  trackedValue: minor(2_250_00),
  estimatedTenths: 200,
  estimatedValue: minor(3_000_00),
}

describe('a row as it is exchanged', () => {
  it('gives amounts in major units, and every ratio from the sums of its own kind', () => {
    expect(reportRow(row(sums), 'EUR')).toEqual({
      level: 'ad',
      id: 'a1',
      name: 'Hands at the loom',
      parent_id: 's1',
      network: 'norrfeed',
      spend: 1000.03,
      impressions: 90_000,
      clicks: 700,
      claimed: 30,
      proven: 12,
      tagged: 3,
      estimate: { orders: 20, low: 16.05, high: 25.95 },
      revenue: { claimed: 4500, tracked: 2250, estimate: 3000 },
      cost_per_result: {
        claimed: 33.3343,
        tracked: 66.6687,
        estimate: 50.0015,
        // Many orders make one cheap: the low end of the cost comes from the high end of the orders.
        low: 38.5353,
        high: 62.311,
      },
      roas: { claimed: 4.4999, tracked: 2.2499, estimate: 2.9999 },
      line: 78.06,
      worth: { mean: 150.12, low: 140, high: 160 },
      verdict: { kind: 'hold', because: 'near_the_line', probability: 0.6123, needed: 250.07 },
      results: null,
    })
  })
  it('counts in the currency’s own units', () => {
    expect(reportRow(row({ spend: minor(1500), estimatedTenths: 10 }), 'JPY')).toMatchObject({
      spend: 1500,
      cost_per_result: { estimate: 1500 },
    })
    expect(reportRow(row({ spend: minor(1500), estimatedTenths: 10 }), 'KWD').spend).toBe(1.5)
  })
  it('gives credits that are parts of an order as they are', () => {
    expect(reportRow(row({ provenCredit: WHOLE / 2, taggedCredit: WHOLE / 4 }), 'EUR')).toMatchObject({
      proven: 0.5,
      tagged: 0.25,
    })
  })
  it.each([
    ['nothing at all', {}, { low: 0, high: 0 }, [null, null, null, null, null], [null, null, null]],
    [
      'spend without an order',
      { spend: minor(5000) },
      { low: 0, high: 2 },
      [null, null, null, 25, null],
      [0, 0, 0],
    ],
    [
      'an order without spend',
      { claimed: 1, claimedValue: minor(100), provenCredit: WHOLE, estimatedTenths: 10 },
      { low: 1, high: 1 },
      [0, 0, 0, 0, 0],
      [null, null, null],
    ],
  ] as const)('has no ratio without a denominator: %s', (_, own, range, costs, roas) => {
    const { cost_per_result: c, roas: r } = reportRow(row(own, range), 'EUR')
    expect([c.claimed, c.tracked, c.estimate, c.low, c.high]).toEqual(costs)
    expect([r.claimed, r.tracked, r.estimate]).toEqual(roas)
  })
  it('leaves out a chance, a worth and a line that nothing says', () => {
    const nothing = { kind: 'wait', because: 'no_line', probability: null, needed: null } as const
    const { verdict, worth, line } = reportRow(row({}, { worth: null, line: null, verdict: nothing }), 'EUR')
    expect([verdict, worth, line]).toEqual([nothing, null, null])
  })
})
