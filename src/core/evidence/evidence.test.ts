import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { exchangeFiles, orderStatuses } from '../intake/records'
import { creditRules } from '../intake/settings'
import { DAY_MS } from '../shared/days'
import { gatherEvidence } from '../weigh/evidence'
import { judge } from '../weigh/judge'
import { claimCauses, orderCauses } from './causes'
import { reconcile, sumGap } from './gap'
import { placeOrders, WHOLE } from './place'
import { always, claim, click, dataset, instantAt, order, type Rows } from './sampleRecords'

const T0 = instantAt(0)
const iso = (hours: number) => new Date(instantAt(hours)).toISOString()
const placeOne = (records: Rows, settings?: object) => placeOrders(dataset(records, settings))[0]!

describe('which ad brought an order', () => {
  it('goes by click ID, then visitor, then the customer’s earlier visitor, then parameters', () => {
    const clicks = [click('k1', 0, { visitor_id: 'v1', network_click_id: 'nf-000001' })]
    expect(placeOne({ clicks, orders: [order('o', 5, { click_id: 'k1' })] })).toMatchObject({
      grade: 'proven',
      by: 'click_id',
    })
    expect(placeOne({ clicks, orders: [order('o', 5, { visitor_id: 'v1' })] })).toMatchObject({
      grade: 'proven',
      by: 'visitor_id',
    })
    const customer = placeOrders(
      dataset({
        clicks,
        orders: [
          order('o1', 5, { visitor_id: 'v1', customer_id: 'u' }),
          order('o2', 9, { customer_id: 'u' }),
        ],
      }),
    )
    expect(customer[1]).toMatchObject({ grade: 'proven', by: 'customer' })
    expect(
      placeOne({
        clicks,
        orders: [order('o', 5, { landing_url: 'https://tarnbrook.example/?nfref=nf-000001' })],
      }),
    ).toMatchObject({ grade: 'tagged', by: 'network_click_id' })
    expect(
      placeOne({ clicks, orders: [order('o', 5, { utm_source: 'Norrfeed', utm_content: 'a1' })] }),
    ).toMatchObject({ grade: 'tagged', by: 'parameters' })
    expect(placeOne({ clicks, orders: [order('o', 5)] })).toMatchObject({ grade: 'unplaced', by: null })
  })
  it('counts a click at the very instant, none after the order, and none at the window’s end', () => {
    const at = (hours: number) =>
      placeOne(
        { clicks: [click('k1', 0)], orders: [order('o', hours, { click_id: 'k1' })] },
        { click_window_days: 2 },
      ).grade
    expect([at(0), at(-0.01), at(47.99), at(48)]).toEqual(['proven', 'unplaced', 'proven', 'unplaced'])
  })
  it('shares one order so that its credits sum to exactly one, under every rule', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 700 }), { minLength: 1, maxLength: 9 }),
        fc.constantFrom(...creditRules),
        (hours, credit) => {
          const clicks = hours.map((h, i) => click(`k${i}`, h, { visitor_id: 'v', ad_id: `a${i % 3}` }))
          const { credits } = placeOne({ clicks, orders: [order('o', 700, { visitor_id: 'v' })] }, { credit })
          expect(credits.reduce((sum, c) => sum + c.share, 0)).toBe(WHOLE)
        },
      ),
    )
  })
})

describe('the gap', () => {
  const hours = fc.integer({ min: 0, max: 24 * 40 })
  const someOrder = fc.record({
    at: hours,
    status: fc.constantFrom(...orderStatuses),
    total: fc.constantFrom('100.00', '40.00', '18.90'),
    click: fc.option(fc.integer({ min: 0, max: 11 })),
  })
  const someClaim = fc.record({
    at: hours,
    network: fc.constantFrom('norrfeed', 'kelpie', 'mothwire'),
    kind: fc.constantFrom('click', 'view'),
    order: fc.option(fc.integer({ min: 0, max: 14 })),
    value: fc.constantFrom('100.00', '40.00', '12.00', null),
    dated: fc.option(hours),
  })
  const market = fc.record({
    clicks: fc.array(hours, { maxLength: 12 }),
    orders: fc.array(someOrder, { maxLength: 14 }),
    claims: fc.array(someClaim, { maxLength: 30 }),
    from: fc.integer({ min: 0, max: 30 }),
    views: fc.boolean(),
  })

  it('adds up to the unit and to the cent on any market, in any part of it', () => {
    fc.assert(
      fc.property(market, m => {
        const data = dataset(
          {
            clicks: m.clicks.map((h, i) =>
              click(`k${i}`, h, { network: i % 2 ? 'kelpie' : 'norrfeed', ad_id: `a${i % 4}` }),
            ),
            orders: m.orders.map((o, i) =>
              order(`o${i}`, o.at, {
                status: o.status,
                total: o.total,
                click_id: o.click === null ? null : `k${o.click}`,
              }),
            ),
            claimRows: m.claims.map(c =>
              claim(c.at, {
                network: c.network,
                kind: c.kind,
                ad_id: `a${c.at % 4}`,
                value: c.value,
                transaction_id: c.order === null ? null : `o${c.order}`,
                date: c.dated === null ? null : iso(c.dated).slice(0, 10),
              }),
            ),
          },
          { view_window_days: m.views ? 1 : 0 },
        )
        const evidence = gatherEvidence(data)
        const period = { from: T0 / DAY_MS + m.from, to: T0 / DAY_MS + m.from + 12 }
        const fates = reconcile(data, evidence.placements, evidence.matches, period)
        const parts = [
          () => true,
          (leaf: number) => leaf < 0,
          ...data.tree.networks.map((_, n) => (leaf: number) => data.tree.networkOf[leaf] === n),
        ]
        const gaps = parts.map(inScope => sumGap(data, fates, inScope))
        for (const gap of gaps) {
          const sum = (causes: readonly string[], of: 'count' | 'value') =>
            gap.causes.filter(c => causes.includes(c.cause)).reduce((s, c) => s + c[of], 0)
          expect(gap.orders - gap.claims).toBe(sum(orderCauses, 'count') - sum(claimCauses, 'count'))
          expect(gap.ordersValue - gap.claimsValue).toBe(
            sum(orderCauses, 'value') - sum(claimCauses, 'value') + sum(['value_differs'], 'value'),
          )
        }
        const [whole, ...rest] = gaps
        expect(rest.reduce((s, g) => s + g.orders, 0)).toBe(whole!.orders)
        expect(rest.reduce((s, g) => s + g.claims, 0)).toBe(whole!.claims)
      }),
      { numRuns: 200 },
    )
  })

  const fateOf = (records: Rows, settings: object = {}, period = always) => {
    const data = dataset(records, settings)
    const { placements, matches } = gatherEvidence(data)
    return reconcile(data, placements, matches, period)
  }
  it('gives each claim the first cause that holds', () => {
    const orders = [order('o1', 10), order('o2', 10, { status: 'cancelled' }), order('o3', 24 * 30)]
    const claimRows = [
      claim(11, { transaction_id: 'o1' }),
      claim(12, { transaction_id: 'o1' }),
      claim(13, { transaction_id: 'o1', network: 'kelpie', ad_id: 'k1' }),
      claim(14, { kind: 'view', transaction_id: 'o9' }),
      claim(15, { transaction_id: 'o2' }),
      claim(16, { transaction_id: 'o3' }),
      claim(17, { transaction_id: 'nowhere' }),
    ]
    const day = T0 / DAY_MS
    expect(fateOf({ orders, claimRows }, {}, { from: day, to: day + 2 }).claims).toEqual([
      'matched',
      'repeat',
      'shared',
      'view_only',
      'does_not_count',
      'other_day',
      'no_such_order',
    ])
  })
  it('leaves a shared order to the network that our evidence credits', () => {
    const clicks = [click('k', 0, { network: 'kelpie', ad_id: 'k1' })]
    const claimRows = [
      claim(11, { transaction_id: 'o1' }),
      claim(12, { transaction_id: 'o1', network: 'kelpie', ad_id: 'k1' }),
    ]
    expect(fateOf({ clicks, orders: [order('o1', 10, { click_id: 'k' })], claimRows }).claims).toEqual([
      'shared',
      'matched',
    ])
  })
  it('tells why an order stands alone', () => {
    const clicks = [click('k1', 0, { visitor_id: 'v1' }), click('k2', 0, { visitor_id: 'v2' })]
    const orders = [
      order('o1', 10, { visitor_id: 'v1' }),
      order('o2', 24 * 20, { visitor_id: 'v2' }),
      order('o3', 10),
    ]
    const settings = { networks: [{ id: 'norrfeed', click_window_days: 7 }] }
    expect(fateOf({ clicks, orders }, settings).orders.sort()).toEqual([
      'no_ad_evidence',
      'not_seen',
      'past_window',
    ])
  })
  it('matches by click ID and by value and time where no transaction is named', () => {
    const clicks = [click('k1', 0, { network_click_id: 'nf-000001' })]
    const orders = [order('o1', 10, { click_id: 'k1', total: '40.00' }), order('o2', 20, { total: '18.90' })]
    const fates = fateOf({
      clicks,
      orders,
      claimRows: [claim(10, { click_id: 'nf-000001' }), claim(20.1, { value: '18.90' })],
    })
    expect(fates.claims).toEqual(['matched', 'matched'])
  })
})

describe('figures', () => {
  it('gives no ratio where there is nothing to divide by, and sums rows to the totals', () => {
    const delivery = [
      exchangeFiles.delivery.schema.parse({
        date: '2026-10-01',
        network: 'norrfeed',
        campaign_id: 'c1',
        ad_id: 'a1',
        currency: 'EUR',
        spend: '10.01',
      }),
      exchangeFiles.delivery.schema.parse({
        date: '2026-10-01',
        network: 'kelpie',
        campaign_id: 'c2',
        currency: 'EUR',
        spend: '0.02',
      }),
    ]
    const { rows, totals } = judge(
      gatherEvidence(
        dataset({ delivery, clicks: [click('k', 0)], orders: [order('o', 1, { click_id: 'k' })] }),
      ),
      always,
    )
    for (const level of ['campaign', 'ad_set', 'ad'] as const) {
      const own = rows.filter(r => r.level === level)
      expect(own.reduce((s, r) => s + r.sums.spend, 0)).toBe(totals.sums.spend)
      expect(own.reduce((s, r) => s + r.sums.estimatedTenths, 0)).toBe(totals.sums.estimatedTenths)
    }
    expect(totals.sums.spend).toBe(1003)
  })
})
