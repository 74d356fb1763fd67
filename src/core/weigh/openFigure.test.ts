import { describe, expect, it } from 'vitest'
import { always, claim, click, dataset, delivery, order, type Rows } from '../evidence/sampleRecords'
import { DAY_MS } from '../shared/days'
import { claimedOrders, gatherEvidence, gradeOf } from './evidence'
import { openFigure } from './openFigure'
import { type Figure, figures, openingOf, openings } from './openings'
import { inScope, type Scope } from './scope'

const on = (day: string) => Date.parse(day) / DAY_MS
const kelpie = { network: 'kelpie', campaign_id: 'k1', ad_id: 'ka' }
const v = { visitor_id: 'v' }
const records: Rows = {
  delivery: [
    delivery('2026-10-01'),
    delivery('2026-10-02', { spend: '20.00', impressions: '5', clicks: '3' }),
    delivery('2026-10-02', { ...kelpie, spend: '7.00', impressions: '9', clicks: '1' }),
  ],
  clicks: [
    click('x', 0, v),
    click('y', 25, { ...v, ad_id: 'a2' }),
    click('z', 3, kelpie),
    click('w', 60, kelpie),
  ],
  orders: [
    order('shared', 30, { ...v, total: '100.01' }),
    order('tagged', 31, { utm_source: 'norrfeed', utm_content: 'a2', total: '50.00' }),
    order('theirs', 5, { click_id: 'z', total: '30.00' }),
    order('claimed', 6, { total: '40.00' }),
    order('nobody', 7, { total: '8.00' }),
    order('gone', 8, { status: 'cancelled', click_id: 'z' }),
  ],
  claimRows: [
    claim(30, { transaction_id: 'shared', value: '90.00' }),
    claim(6, { transaction_id: 'claimed', value: '40.00' }),
    claim(9, { transaction_id: 'missing', value: '11.00' }),
    claim(9, { transaction_id: 'gone', value: '1.00', ...kelpie }),
  ],
}
const evidence = () => gatherEvidence(dataset(records, { credit: 'even' }))
const open = (figure: Figure, scope: Scope = {}, period = always) => {
  const all = evidence()
  const { data } = all
  const { leaf, at } = data.clicks
  const seen = [...leaf].map((of, c) => ({ leaf: of, day: Math.floor(at[c]! / DAY_MS), clicks: 1 }))
  const opened = openFigure(all, figure, scope, period, seen)
  return {
    amount: opened.amount,
    worth: opened.worth,
    orders: opened.orders.map(({ order, part }) => [data.orders[order]!.order_id, part]),
    claims: opened.claims.map(c => data.claims[c]!.transaction),
    days: opened.days.map(({ day, spend, impressions, clicks, seen }) => [
      day,
      spend,
      impressions,
      clicks,
      seen,
    ]),
  }
}
const norrfeed = { network: 'norrfeed' }
const second = { from: on('2026-10-02'), to: on('2026-10-02') }

describe('an opened figure', () => {
  it.each<[Figure, Scope, object, typeof always?]>([
    [
      'orders',
      {},
      {
        amount: 5,
        worth: 22_801,
        orders: [
          ['theirs', 1],
          ['claimed', 1],
          ['nobody', 1],
          ['shared', 1],
          ['tagged', 1],
        ],
      },
    ],
    [
      'orders',
      norrfeed,
      {
        amount: 3,
        orders: [
          ['claimed', 1],
          ['shared', 1],
          ['tagged', 1],
        ],
      },
    ],
    ['orders', { nowhere: 'yes' }, { amount: 1, orders: [['nobody', 1]] }],
    [
      'orders',
      {},
      {
        amount: 2,
        orders: [
          ['shared', 1],
          ['tagged', 1],
        ],
      },
      second,
    ],
    ['claims', {}, { amount: 4, worth: 14_200, claims: ['shared', 'claimed', 'missing', 'gone'] }],
    ['claims', kelpieScope(), { amount: 1, claims: ['gone'] }],
    [
      'matched',
      {},
      {
        amount: 2,
        worth: 1001,
        orders: [
          ['claimed', 1],
          ['shared', 1],
        ],
        claims: ['claimed', 'shared'],
      },
    ],
    ['value_differs', {}, { amount: 1, worth: 1001, orders: [['shared', 1]], claims: ['shared'] }],
    [
      'not_seen',
      {},
      {
        amount: 2,
        worth: 8000,
        orders: [
          ['theirs', 1],
          ['tagged', 1],
        ],
        claims: [],
      },
    ],
    ['no_ad_evidence', {}, { amount: 1, worth: 800, orders: [['nobody', 1]] }],
    ['no_such_order', {}, { amount: 1, worth: 1100, orders: [], claims: ['missing'] }],
    ['does_not_count', {}, { amount: 1, worth: 100, claims: ['gone'] }],
    ['repeat', {}, { amount: 0, worth: 0, orders: [], claims: [] }],
    [
      'proven',
      {},
      {
        amount: 2,
        worth: 13_001,
        orders: [
          ['theirs', 1],
          ['shared', 1],
        ],
      },
    ],
    [
      'proven',
      { ...norrfeed, campaign: 'c1', ad: 'a1' },
      { amount: 0.5, worth: 5000, orders: [['shared', 0.5]] },
    ],
    [
      'proven',
      { ...norrfeed, campaign: 'c1', ad: 'a2' },
      { amount: 0.5, worth: 5001, orders: [['shared', 0.5]] },
    ],
    ['tagged', {}, { amount: 1, worth: 5000, orders: [['tagged', 1]] }],
    ['tracked', {}, { amount: 3, worth: 18_001 }],
    ['tracked', {}, { amount: 2, worth: 15_001 }, second],
    [
      'spend',
      {},
      {
        amount: 3700,
        days: [
          [on('2026-10-01'), 1000, 1000, 10, 2],
          [on('2026-10-02'), 2700, 14, 4, 1],
          [on('2026-10-03'), 0, 0, 0, 1],
        ],
      },
    ],
    ['impressions', norrfeed, { amount: 1005 }],
    [
      'clicks',
      kelpieScope(),
      {
        amount: 1,
        days: [
          [on('2026-10-01'), 0, 0, 0, 1],
          [on('2026-10-02'), 700, 9, 1, 0],
          [on('2026-10-03'), 0, 0, 0, 1],
        ],
      },
    ],
    ['clicks_seen', {}, { amount: 1, days: [[on('2026-10-02'), 2700, 14, 4, 1]] }, second],
    ['cost_claimed', {}, { amount: 3700 / 4 }],
    ['cost_tracked', {}, { amount: 3700 / 3, worth: 18_001 }],
    ['cost_tracked', { network: 'nobody' }, { amount: null }],
    [
      'network_capture',
      norrfeed,
      {
        amount: 0.5,
        orders: [
          ['shared', 1],
          ['tagged', 0],
        ],
      },
      second,
    ],
    ['network_capture', kelpieScope(), { amount: 0, orders: [['theirs', 0]] }],
    ['network_capture', { network: 'nobody' }, { amount: null, orders: [] }],
  ])('%s of %j', (figure, scope, expected, period) => {
    expect(open(figure, scope, period)).toMatchObject(expected)
  })

  it('of estimated orders sums what was seen and what is added, in tenths and cents', () => {
    const { estimate } = evidence()
    const all = open('estimated')
    const sum = estimate.shares.reduce((s, { seen, unseen }) => s + seen + unseen, 0)
    expect(all.amount).toBeCloseTo(sum, 0)
    expect(all.amount! * 10).toBe(Math.round(all.amount! * 10))
    expect(Number.isInteger(all.worth)).toBe(true)
    expect(all.orders.map(([id]) => id)).toEqual(['theirs', 'claimed', 'shared', 'tagged'])
    expect(open('cost').amount).toBeCloseTo(3700 / all.amount!, 6)
    expect(open('roas')).toMatchObject({
      amount: all.worth / 3700,
      days: [expect.anything(), expect.anything(), expect.anything()],
    })
  })

  it('of our own capture holds what the network claims, in part where that is doubtful', () => {
    const { amount, orders } = open('own_capture', norrfeed)
    expect(orders.map(([id]) => id)).toEqual(['claimed', 'shared'])
    const [claimed, shared] = orders.map(([, part]) => part as number)
    expect(shared).toBe(1)
    expect(claimed).toBeGreaterThan(0.9)
    expect(amount).toBeCloseTo(1 / (1 + claimed!), 9)
  })
})

function kelpieScope(): Scope {
  return { network: 'kelpie' }
}

it('every figure has a way to open, and every ratio is of two that open', () => {
  for (const figure of figures) {
    expect(openingOf(figure).lists.length).toBeGreaterThan(0)
    const { over, under } = openingOf(figure)
    if (over !== undefined) expect([over in openings, under! in openings]).toEqual([true, true])
    expect(() => open(figure)).not.toThrow()
  }
})

it('an order is known by our evidence, else by a network’s word, by click alone', () => {
  const { data, ...rest } = evidence()
  const own = { data, ...rest }
  const claimed = claimedOrders(own)
  const grade = (id: string) =>
    gradeOf(
      own,
      data.orders.findIndex(o => o.order_id === id),
      claimed,
    )
  expect(['shared', 'tagged', 'claimed', 'nobody'].map(grade)).toEqual([
    'proven',
    'tagged',
    'claimed',
    'unplaced',
  ])
  const byView = gatherEvidence(
    dataset({ orders: [order('o', 1)], claimRows: [claim(1, { transaction_id: 'o', kind: 'view' })] }),
  )
  expect(claimedOrders(byView).size).toBe(0)
})

describe('a part of the account', () => {
  const leaf = { network: 'n', campaign: 'c', adSet: 's', ad: 'a', parts: { 'campaign.theme': 'Oak' } }
  it.each<[Scope, boolean, boolean]>([
    [{}, true, true],
    [{ nowhere: 'yes' }, false, true],
    [{ network: 'n' }, true, false],
    [{ network: 'm' }, false, false],
    [{ network: 'n', campaign: 'c' }, true, false],
    [{ network: 'n', campaign: '' }, false, false],
    [{ network: 'n', campaign: 'c', ad_set: 's' }, true, false],
    [{ network: 'n', campaign: 'c', ad_set: 'x' }, false, false],
    [{ network: 'n', ad: 'a' }, true, false],
    [{ network: 'n', campaign: 'c', ad_set: 's', ad: 'b' }, false, false],
    [{ part: 'campaign.theme', value: 'Oak' }, true, false],
    [{ part: 'campaign.theme', value: '' }, false, false],
    [{ part: 'campaign.theme' }, false, false],
    [{ part: 'campaign.month', value: '' }, true, false],
    [{ part: 'campaign.theme', value: 'Oak', network: 'm' }, false, false],
  ])('%j holds an ad of it, and what stands nowhere', (scope, own, nowhere) => {
    expect([inScope(leaf, scope), inScope(undefined, scope)]).toEqual([own, nowhere])
    expect(inScope({ ...leaf, parts: undefined as never }, { part: 'x', value: '' })).toBe(true)
  })
})
