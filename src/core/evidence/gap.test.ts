import { describe, expect, it } from 'vitest'
import { type Gap, reconcile, sumGap, sumGaps } from './gap'
import { matchClaims } from './match'
import { placeOrders } from './place'
import { always, claim, click, dataset, instantAt, order, type Rows } from './sampleRecords'

const DAY = 24
const dayAt = (hours: number) => Math.floor(instantAt(hours) / 86_400_000)

function judged(records: Rows, settings: object = {}, period = always) {
  const data = dataset(records, settings)
  const placements = placeOrders(data)
  const fates = reconcile(data, placements, matchClaims(data, placements), period)
  return { data, fates }
}
const fatesOf = (records: Rows, settings?: object, period?: typeof always) => {
  const { fates } = judged(records, settings, period)
  return { claims: fates.claims, orders: fates.orders }
}
const named = (hours: number, id: string, more: object = {}) => claim(hours, { transaction_id: id, ...more })
const kelpie = { network: 'kelpie', ad_id: 'ka' }

describe('the fate of a claim', () => {
  const paid = [order('o1', 2)]
  it.each<[why: string, records: Rows, fates: unknown[], settings?: object, period?: typeof always]>([
    ['is matched', { orders: paid, claimRows: [named(2, 'o1')] }, ['matched']],
    [
      'is a repeat of its own network’s first',
      { orders: paid, claimRows: [named(3, 'o1'), named(2, 'o1')] },
      ['repeat', 'matched'],
    ],
    [
      'is a repeat though the order is not there',
      { claimRows: [named(2, 'gone'), named(3, 'gone')] },
      ['no_such_order', 'repeat'],
    ],
    [
      'is no repeat of another conversion’s, but the order is taken',
      { orders: paid, claimRows: [named(2, 'o1'), named(3, 'o1', { conversion: 'lead' })] },
      ['matched', 'repeat'],
    ],
    [
      'is shared with the network that our evidence credits, though that one was later',
      {
        clicks: [click('k1', 0, kelpie)],
        orders: [order('o1', 2, { click_id: 'k1' })],
        claimRows: [named(2, 'o1'), named(9, 'o1', kelpie)],
      },
      ['shared', 'matched'],
    ],
    [
      'is shared with the network that was first, where our evidence says nothing',
      { orders: paid, claimRows: [named(3, 'o1'), named(2, 'o1', kelpie)] },
      ['shared', 'matched'],
    ],
    ['is by view alone', { orders: paid, claimRows: [named(2, 'o1', { kind: 'view' })] }, ['view_only']],
    [
      'is matched by view, where views count as long as the network looks back',
      { orders: paid, claimRows: [named(2, 'o1', { kind: 'view' })] },
      ['matched'],
      { view_window_days: 1 },
    ],
    [
      'is by view alone, where the network looks back longer than views count',
      { orders: paid, claimRows: [named(2, 'o1', { kind: 'view' })] },
      ['view_only'],
      { view_window_days: 6, networks: [{ id: 'norrfeed', view_window_days: 7 }] },
    ],
    [
      'is by view alone, where the network has no views',
      { orders: paid, claimRows: [named(2, 'o1', { kind: 'view' })] },
      ['view_only'],
      { view_window_days: 6, networks: [{ id: 'norrfeed', view_window_days: 0 }] },
    ],
    [
      'is kept by click rather than by the view before it',
      { orders: paid, claimRows: [named(2, 'o1', { kind: 'view' }), named(3, 'o1')] },
      ['repeat', 'matched'],
    ],
    [
      'is a repeat by view after a click',
      { orders: paid, claimRows: [named(2, 'o1'), named(3, 'o1', { kind: 'view' })] },
      ['matched', 'repeat'],
    ],
    [
      'is for an order that does not count',
      { orders: [order('o1', 2, { status: 'cancelled' })], claimRows: [named(2, 'o1')] },
      ['does_not_count'],
    ],
    [
      'is for an order of another day',
      { orders: [order('o1', 50)], claimRows: [named(2, 'o1')] },
      ['other_day'],
      {},
      { from: dayAt(0), to: dayAt(0) },
    ],
    ['is for no order', { orders: paid, claimRows: [named(2, 'gone')] }, ['no_such_order']],
    [
      'is none outside the period',
      { orders: paid, claimRows: [named(50, 'o1')] },
      [null],
      {},
      { from: dayAt(0), to: dayAt(0) },
    ],
  ])('%s', (_, records, fates, settings, period) => {
    expect(fatesOf(records, settings, period).claims).toEqual(fates)
  })
})

describe('the fate of an order without a claim', () => {
  const norrfeed = (click_window_days: number) => ({ networks: [{ id: 'norrfeed', click_window_days }] })
  it.each<[why: string, records: Rows, fate: unknown, settings?: object]>([
    [
      'had an ad click that the network did not tell of',
      { clicks: [click('k1', 0)], orders: [order('o', 5, { click_id: 'k1' })] },
      'not_seen',
    ],
    [
      'had one in our window that was past the network’s',
      { clicks: [click('k1', 0)], orders: [order('o', 8 * DAY, { click_id: 'k1' })] },
      'past_window',
      norrfeed(7),
    ],
    [
      'had one at the very end of the network’s window',
      { clicks: [click('k1', 0)], orders: [order('o', 7 * DAY, { click_id: 'k1' })] },
      'past_window',
      norrfeed(7),
    ],
    [
      'had one just within the network’s window',
      { clicks: [click('k1', 0)], orders: [order('o', 7 * DAY - 0.1, { click_id: 'k1' })] },
      'not_seen',
      norrfeed(7),
    ],
    [
      'had one that is too old for us',
      { clicks: [click('k1', 0)], orders: [order('o', 31 * DAY, { click_id: 'k1' })] },
      'past_window',
    ],
    [
      'carries an ad’s parameters',
      { clicks: [click('k1', 0)], orders: [order('o', 5, { utm_source: 'norrfeed' })] },
      'not_seen',
    ],
    ['has nothing of an ad', { clicks: [click('k1', 0)], orders: [order('o', 5)] }, 'no_ad_evidence'],
    ['does not count', { orders: [order('o', 5, { status: 'refunded' })] }, null],
    ['is a test', { orders: [order('o', 5, { status: 'test' })] }, null],
    [
      'is partly refunded and counts',
      { orders: [order('o', 5, { status: 'partially_refunded' })] },
      'no_ad_evidence',
    ],
  ])('it %s', (_, records, fate, settings) => {
    expect(fatesOf(records, settings).orders).toEqual([fate])
  })

  it('stands under the ad of the claim that it is matched with, else under the one that has most of it', () => {
    const { data, fates } = judged({
      clicks: [click('k1', 0), click('k2', 0, { ad_id: 'a2' })],
      orders: [order('o1', 2, { click_id: 'k1' }), order('o2', 3, { click_id: 'k2' }), order('o3', 4)],
      claimRows: [named(2, 'o1', { ad_id: 'a2' })],
    })
    expect([...fates.leafOf].map(leaf => data.tree.leaves[leaf]?.ad ?? null)).toEqual(['a2', 'a2', null])
    expect([...fates.claimOf]).toEqual([0, -1, -1])
  })
})

describe('the sums of the gap', () => {
  const records: Rows = {
    clicks: [click('k1', 0), click('k2', 0, kelpie)],
    orders: [
      order('both', 2, { click_id: 'k1', total: '80.00' }),
      order('less', 3, { click_id: 'k1', total: '50.00' }),
      order('unseen', 4, { click_id: 'k2', total: '30.00' }),
      order('none', 5, { total: '7.00' }),
    ],
    claimRows: [
      named(2, 'both', { value: '80.00' }),
      named(3, 'less', { value: '45.00' }),
      named(3, 'gone', { value: '11.00' }),
      named(2, 'both', { value: '80.00', ...kelpie }),
    ],
  }
  const lines = (gap: Gap) =>
    Object.fromEntries(
      gap.causes
        .filter(line => line.count > 0 || line.value !== 0)
        .map(({ cause, count, value, pairs }) => [
          cause,
          pairs === undefined ? [count, value] : [count, value, pairs],
        ]),
    )
  it('are those of every order and claim, with how values differ in pairs', () => {
    const { data, fates } = judged(records)
    const gap = sumGap(data, fates)
    expect(gap).toMatchObject({ orders: 4, ordersValue: 16_700, claims: 4, claimsValue: 21_600, matched: 2 })
    expect(lines(gap)).toEqual({
      not_seen: [1, 3000],
      no_ad_evidence: [1, 700],
      shared: [1, 8000],
      no_such_order: [1, 1100],
      value_differs: [0, 500, 1],
    })
  })
  it('are taken apart by where each side stands, and stand in each scope that holds them', () => {
    const { data, fates } = judged(records)
    const by = sumGaps(data, fates, leaf => [data.tree.leaves[leaf]?.network ?? 'none', 'all'])
    expect(by.get('all')).toEqual(sumGap(data, fates))
    expect(by.get('kelpie')).toMatchObject({ orders: 1, claims: 1, matched: 0 })
    expect(by.get('none')).toMatchObject({ orders: 1, ordersValue: 700, claims: 0 })
    expect(sumGap(data, fates, () => false)).toMatchObject({ orders: 0, claims: 0, matched: 0 })
  })
})
