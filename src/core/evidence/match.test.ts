import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { matchClaims } from './match'
import { placeOrders } from './place'
import { claim, claimSum, click, dataset, order, type Rows } from './sampleRecords'

/** By which order each claim is matched and how, in the order given. */
function matched(records: Rows, settings: object = {}) {
  const data = dataset(records, settings)
  return matchClaims(data, placeOrders(data)).map(({ order, by }) => [
    data.orders[order]?.order_id ?? null,
    by,
  ])
}
const NONE = [null, null]

describe('the order behind a claim', () => {
  it.each<[why: string, records: Rows, expected: unknown[]]>([
    [
      'is the one that it names, before anything else',
      {
        clicks: [click('k1', 0)],
        orders: [order('o1', 2, { click_id: 'k1' }), order('o2', 2)],
        claimRows: [claim(2, { transaction_id: 'o2', click_id: 'k1' })],
      },
      [['o2', 'transaction']],
    ],
    [
      'is none where it names one that is not there, though others fit',
      {
        clicks: [click('k1', 0)],
        orders: [order('o1', 2, { click_id: 'k1' })],
        claimRows: [claim(2, { transaction_id: 'gone', click_id: 'k1' })],
      },
      [NONE],
    ],
    [
      'may be named twice: who counts it again is told elsewhere',
      {
        orders: [order('o1', 2)],
        claimRows: [claim(2, { transaction_id: 'o1' }), claim(3, { transaction_id: 'o1' })],
      },
      [
        ['o1', 'transaction'],
        ['o1', 'transaction'],
      ],
    ],
    [
      'is told by our click ID, the nearest in time of several',
      {
        clicks: [click('k1', 0, { visitor_id: 'v' })],
        orders: [
          order('early', 2, { visitor_id: 'v' }),
          order('late', 20, { visitor_id: 'v', total: '7.00' }),
        ],
        claimRows: [claim(18, { click_id: 'k1' })],
      },
      [['late', 'click_id']],
    ],
    [
      'is told by the network’s click ID',
      {
        clicks: [click('k1', 0, { network_click_id: 'nf-1' })],
        orders: [order('o1', 2, { click_id: 'k1', total: '7.00' })],
        claimRows: [claim(2, { click_id: 'nf-1' })],
      },
      [['o1', 'click_id']],
    ],
    [
      'is by click ID once for each claim of a network',
      {
        clicks: [click('k1', 0, { visitor_id: 'v' })],
        orders: [
          order('o1', 2, { visitor_id: 'v', total: '7.00' }),
          order('o2', 3, { visitor_id: 'v', total: '8.00' }),
        ],
        claimRows: [
          claim(2, { click_id: 'k1' }),
          claim(2.1, { click_id: 'k1' }),
          claim(2.2, { click_id: 'k1' }),
        ],
      },
      [['o1', 'click_id'], ['o2', 'click_id'], NONE],
    ],
    [
      'is the one of its value near in time',
      { orders: [order('o1', 2), order('o2', 30)], claimRows: [claim(29)] },
      [['o2', 'value_and_time']],
    ],
    [
      'is one within 36 hours, and not beyond',
      { orders: [order('o1', 0)], claimRows: [claim(36)] },
      [['o1', 'value_and_time']],
    ],
    ['is none 36 hours and a minute away', { orders: [order('o1', 0)], claimRows: [claim(36.02)] }, [NONE]],
    [
      'is none of another value',
      { orders: [order('o1', 2)], claimRows: [claim(2, { value: '100.01' })] },
      [NONE],
    ],
    [
      'is none where the network says no value',
      { orders: [order('o1', 2)], claimRows: [claim(2, { value: null })] },
      [NONE],
    ],
    [
      'is told by what remains after a refund too',
      { orders: [order('o1', 2, { refunded: '40.00' })], claimRows: [claim(2, { value: '60.00' })] },
      [['o1', 'value_and_time']],
    ],
    [
      'is an order of the same ad rather than a nearer one of another network',
      {
        clicks: [click('k1', 0), click('k2', 0, { network: 'kelpie', ad_id: 'ka' })],
        orders: [order('near', 2, { click_id: 'k2' }), order('own', 2.3, { click_id: 'k1' })],
        claimRows: [claim(2)],
      },
      [['own', 'value_and_time']],
    ],
    [
      'is one that nothing is known of rather than one of another network',
      {
        clicks: [click('k2', 0, { network: 'kelpie', ad_id: 'ka' })],
        orders: [order('theirs', 2, { click_id: 'k2' }), order('open', 2.1)],
        claimRows: [claim(2)],
      },
      [['open', 'value_and_time']],
    ],
    [
      'goes to the likeliest pair first, once for each claim of a network',
      { orders: [order('o1', 2), order('o2', 5)], claimRows: [claim(4), claim(4.9)] },
      [
        ['o1', 'value_and_time'],
        ['o2', 'value_and_time'],
      ],
    ],
    [
      'may be claimed by two networks',
      { orders: [order('o1', 2)], claimRows: [claim(2), claim(2, { network: 'kelpie', ad_id: 'ka' })] },
      [
        ['o1', 'value_and_time'],
        ['o1', 'value_and_time'],
      ],
    ],
  ])('%s', (_, records, expected) => {
    expect(matched(records)).toEqual(expected)
  })

  it('is looked for as far as claims and orders usually lie apart, as the certain ones tell', () => {
    // Where hours lie between, an order of another ad is not preferred to the own ad's for an hour's sake.
    const sure = Array.from({ length: 5 }, (_, i) => i * 30)
    const records = (lag: number): Rows => ({
      clicks: [click('k1', 0), click('k2', 0, { ad_id: 'a2' })],
      orders: [
        ...sure.map((at, i) => order(`s${i}`, 200 + at, { total: `${i + 1}.00` })),
        order('other', 2, { click_id: 'k2' }),
        order('own', 4, { click_id: 'k1' }),
      ],
      claimRows: [...sure.map((at, i) => claim(200 + at + lag, { transaction_id: `s${i}` })), claim(2)],
    })
    expect(matched(records(0)).at(-1)).toEqual(['other', 'value_and_time'])
    expect(matched(records(3)).at(-1)).toEqual(['own', 'value_and_time'])
  })
})

describe('the orders behind a day’s sum', () => {
  const day = '2026-10-02'
  it.each<[why: string, records: Rows, expected: unknown[], settings?: object]>([
    [
      'are those of the same ad and day first, then those that nothing is known of',
      {
        clicks: [click('k1', 24), click('k2', 24, { ad_id: 'a2' })],
        orders: [
          order('own', 30, { click_id: 'k1' }),
          order('other', 31, { click_id: 'k2' }),
          order('open', 32),
        ],
        claims: [claimSum(day, { click_through: '3', value: '300.00' })],
      },
      [['own', 'day'], ['open', 'day'], NONE],
    ],
    [
      'are none of another day',
      { orders: [order('before', 23.9), order('after', 48)], claims: [claimSum(day)] },
      [NONE],
    ],
    [
      'are the nearest in value of those that nothing is known of',
      {
        orders: [order('cheap', 30, { total: '20.00' }), order('fits', 31, { total: '95.00' })],
        claims: [claimSum(day)],
      },
      [['fits', 'day']],
    ],
    [
      'are those whose click was on that day, where the network dates by the click',
      {
        clicks: [click('k1', 30)],
        orders: [order('own', 100, { click_id: 'k1' })],
        claims: [claimSum(day)],
      },
      [['own', 'day']],
      { networks: [{ id: 'norrfeed', dated_by: 'click' }] },
    ],
    [
      'are those that came up to a fortnight after, where the network dates by the click',
      {
        orders: [order('late', 24 * 15 + 1), order('too late', 24 * 16 + 1)],
        claims: [claimSum(day, { click_through: '2' })],
      },
      [['late', 'day'], NONE],
      { networks: [{ id: 'norrfeed', dated_by: 'click' }] },
    ],
    [
      'are counted in the network’s own zone',
      {
        clicks: [click('k1', 20)],
        orders: [order('evening', 47, { click_id: 'k1' })],
        claims: [claimSum('2026-10-03')],
      },
      [['evening', 'day']],
      { networks: [{ id: 'norrfeed', time_zone: 'Europe/Athens' }] },
    ],
  ])('%s', (_, records, expected, settings) => {
    expect(matched(records, settings)).toEqual(expected)
  })
  it('are the nearest in value that nobody has taken, of several alike the first, whatever is asked for', () => {
    const total = fc.integer({ min: 1, max: 9 }).map(n => `${n}0.00`)
    const sum = fc.record({ network: fc.constantFrom('norrfeed', 'kelpie'), value: total })
    fc.assert(
      fc.property(fc.array(total, { maxLength: 8 }), fc.array(sum, { maxLength: 8 }), (totals, sums) => {
        const orders = totals.map((total, i) => order(`o${i}`, 25 + i, { total }))
        const claims = sums.map((row, i) => claimSum(day, { ...row, ad_id: `a${i}` }))
        const left = new Set(orders.keys())
        const wanted = sums.map(({ value }) => {
          const apart = (o: number) => Math.abs(Number(totals[o]) - Number(value))
          const [best] = [...left].sort((a, b) => apart(a) - apart(b) || a - b)
          if (best === undefined) return NONE
          left.delete(best)
          return [`o${best}`, 'day']
        })
        expect(matched({ orders, claims })).toEqual(wanted)
      }),
    )
  })
})
