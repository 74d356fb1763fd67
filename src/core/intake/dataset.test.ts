import { describe, expect, it } from 'vitest'
import { placeOrders } from '../evidence/place'
import { claim, claimSum, click, dataset, delivery, instantAt, order } from '../evidence/sampleRecords'
import { resultSchema } from '../signals/result'

const rates = [{ day: 20_700, base: 'USD', quote: 'EUR', rate: '0.5' }]
const on = (day: string) => Date.parse(day) / 86_400_000

describe('what records come to in one currency', () => {
  const usd = [{ day: on('2026-09-30'), base: 'USD', quote: 'EUR', rate: '0.5' }]
  it('is by the rate of the row’s own currency, orders and claims and spend alike', () => {
    const data = dataset({
      rates: usd,
      orders: [order('o', 0, { currency: 'USD', total: '100.00', refunded: '20.00' })],
      claimRows: [claim(0, { currency: 'USD', value: '60.00' })],
      claims: [claimSum('2026-10-01', { network: 'kelpie', currency: 'USD', value: '50.00' })],
      delivery: [delivery('2026-10-01', { currency: 'USD', spend: '8.00' })],
    })
    expect(data.orders[0]).toMatchObject({ gross: 5000, value: 4000 })
    expect(data.claims.map(c => c.value)).toEqual([3000, 2500])
    expect(data.delivery[0]?.spend).toBe(400)
    expect(data.setAside).toEqual([])
  })
  it('is that of a day’s sum, whatever its rows', () => {
    const third = [{ day: on('2026-10-01'), base: 'USD', quote: 'EUR', rate: '0.3333' }]
    const spend = ['0.01', '0.01', '0.01', '1.00', '0.05']
    const data = dataset({
      rates: third,
      delivery: spend.map((amount, i) =>
        delivery('2026-10-01', { currency: 'USD', spend: amount, ad_id: `a${i}` }),
      ),
    })
    // 1.08 at 0.3333, to the cent; row by row it would be 0.35.
    expect(data.delivery.reduce((sum, row) => sum + row.spend, 0)).toBe(36)
    expect(data.assumedRates).toEqual([])
  })
  it('says from which day on a rate is only assumed', () => {
    const data = dataset({
      rates: usd,
      delivery: [delivery('2026-10-02', { currency: 'USD', spend: '8.00' })],
    })
    expect(data.assumedRates).toEqual([{ currency: 'USD', after: on('2026-09-30') }])
  })
  it('is nothing without a rate, and the row is named', () => {
    const data = dataset({
      rates,
      orders: [order('a', 0), order('o', 0, { currency: 'GBP' })],
      claimRows: [claim(0, { currency: 'GBP' })],
      delivery: [delivery('2026-10-01', { currency: 'GBP' })],
    })
    expect([data.orders.length, data.claims.length, data.delivery.length]).toEqual([1, 0, 0])
    expect(data.setAside).toEqual([
      { file: 'delivery', row: 0, reason: 'no_rate', currency: 'GBP' },
      { file: 'claim-rows', row: 0, reason: 'no_rate', currency: 'GBP' },
      { file: 'orders', row: 1, reason: 'no_rate', currency: 'GBP' },
    ])
  })
  it.each([
    ['gross', 12_300 - 1000],
    ['net', 12_300 - 2300 - 500 - 1000],
  ])('is %s less what was refunded, as the settings say', (order_value, value) => {
    const given = { total: '123.00', tax: '23.00', shipping: '5.00', refunded: '10.00' }
    expect(dataset({ orders: [order('o', 0, given)] }, { order_value }).orders[0]).toMatchObject({
      gross: 12_300,
      value,
    })
  })
  it('is never below nothing', () => {
    expect(dataset({ orders: [order('o', 0, { total: '5.00', refunded: '9.00' })] }).orders[0]?.value).toBe(0)
  })
})

describe('which records stand in it', () => {
  it('are the latest of each order, of the judged result alone, in order of time', () => {
    const data = dataset({
      orders: [
        order('b', 5),
        order('a', 9, { total: '1.00' }),
        order('a', 2, { total: '2.00' }),
        order('l', 3, { result: 'lead' }),
      ],
      claimRows: [claim(0, { conversion: 'lead' }), claim(0, { conversion: 'purchase' })],
    })
    expect(data.orders.map(o => [o.order_id, o.value])).toEqual([
      ['a', 200],
      ['b', 10_000],
    ])
    expect([...data.otherResults]).toEqual([['lead', 1]])
    // A conversion that is named as another result is that one’s.
    expect(data.claims.map(c => c.conversion)).toEqual(['purchase'])
  })
  it('are single claims rather than the sums of the same network', () => {
    const data = dataset({
      claimRows: [claim(0)],
      claims: [claimSum('2026-10-01'), claimSum('2026-10-01', { network: 'kelpie' })],
    })
    expect(data.claims.map(c => [data.tree.networks[c.network], c.at === null])).toEqual([
      ['norrfeed', false],
      ['kelpie', true],
    ])
  })
  it('are the units of a sum, clicks first, with its value to the last cent', () => {
    const data = dataset({
      claims: [claimSum('2026-10-01', { click_through: '2', view_through: '1', value: '10.00' })],
    })
    expect(data.claims.map(({ kind, value, valued, day }) => [kind, value, valued, day])).toEqual([
      ['click', 334, true, on('2026-10-01')],
      ['click', 333, true, on('2026-10-01')],
      ['view', 333, true, on('2026-10-01')],
    ])
    const none = dataset({ claims: [claimSum('2026-10-01', { value: null })] })
    expect(none.claims[0]).toMatchObject({ value: 0, valued: false })
  })
})

describe('a result that is no order', () => {
  const lead = resultSchema.parse({
    id: 'lead',
    name: 'Lead',
    kind: 'lead',
    currency: 'EUR',
    value: { by: 'fixed', amount: 300 },
    count: 'once',
    credit: 'first_click',
    click_window_days: 7,
  })
  const told = (event_id: string, hours: number, more: object = {}) => ({
    event_id,
    at: instantAt(hours),
    name: 'lead',
    visitor_id: null,
    click_id: null,
    transaction_id: null,
    value: null,
    currency: null,
    ...more,
  })
  const rows = {
    clicks: [click('k', 0, { visitor_id: 'v' })],
    orders: [order('o', 1), order('corvane:l', 2, { result: 'lead', total: '50.00', channel: 'partner' })],
    told: [
      told('e1', 3, { click_id: 'k', transaction_id: 't1' }),
      told('e2', 4, { click_id: 'k' }),
      told('e3', 5, { name: 'order', value: '9.00' }),
    ],
    definitions: [lead],
  }
  it('is told by whoever tells it, and counted and valued by its own rules', () => {
    const data = dataset(rows, { click_window_days: 30, target_cost: 25 }, 'lead')
    expect(data.orders.map(o => [o.order_id, o.value, o.left, o.told])).toEqual([
      ['corvane:l', 300, null, false],
      ['t1', 300, null, true],
      ['e2', 300, 'once_per_click', true],
    ])
    expect(data.settings).toMatchObject({ credit: 'first_click', click_window_days: 7 })
    // A target that was set for orders is none of a lead's.
    expect(data.settings.target_cost).toBeUndefined()
    expect([...data.otherResults]).toEqual([['order', 2]])
    expect(placeOrders(data).map(p => p.by)).toEqual([null, 'click_id', 'click_id'])
  })
  it('is none of the orders, of which the shop tells: what a browser says of more is not booked', () => {
    const data = dataset(rows, { target_cost: 25 })
    expect(data.orders.map(o => [o.order_id, o.value])).toEqual([['o', 10_000]])
    expect(data.unconfirmed.map(sign => sign.event_id)).toEqual(['e3'])
    const { orders, unconfirmed } = dataset({ ...rows, orders: [] }, {})
    expect([orders.map(o => [o.order_id, o.value]), unconfirmed]).toEqual([[['e3', 900]], []])
    expect(data.settings).toMatchObject({ credit: 'last_click', target_cost: 25 })
  })
  it('is claimed as what a network calls it, else by its ID; what nobody knows is an order, unless its word plainly says otherwise', () => {
    const claimRows = ['lead', 'sign_up', 'purchase', 'odd'].flatMap(conversion => [
      claim(0, { conversion }),
      claim(0, { conversion, network: 'kelpie' }),
    ])
    const slots = [
      { network: 'norrfeed', slot: 'sign_up', result: 'lead' },
      { network: 'norrfeed', slot: 'purchase', result: 'order' },
    ]
    const claimed = (result: string) => {
      const { claims, tree } = dataset({ claimRows, slots, definitions: [lead] }, {}, result)
      return claims.map(c => `${tree.networks[c.network]} ${c.conversion}`)
    }
    expect(claimed('lead')).toEqual(['norrfeed lead', 'kelpie lead', 'norrfeed sign_up'])
    expect(claimed('order')).toEqual(['norrfeed purchase', 'kelpie purchase', 'norrfeed odd', 'kelpie odd'])
  })
})

describe('the day of a record', () => {
  const late = 23.5
  it('is an order’s in the workspace’s zone, a claim’s in its network’s', () => {
    const data = dataset(
      { orders: [order('o', late)], claimRows: [claim(late), claim(late, { network: 'kelpie' })] },
      { time_zone: 'Europe/Athens', networks: [{ id: 'norrfeed', time_zone: 'UTC' }] },
    )
    expect(data.orders[0]?.day).toBe(on('2026-10-02'))
    expect(data.claims.map(c => c.day)).toEqual([on('2026-10-01'), on('2026-10-02')])
  })
  it('is the one that a claim says itself, whatever its instant', () => {
    const data = dataset({ claimRows: [claim(late, { date: '2026-09-28' })] })
    expect(data.claims[0]?.day).toBe(on('2026-09-28'))
  })
})

it('an ad stands where the first row puts it, under its latest name', () => {
  const data = dataset({
    delivery: [
      delivery('2026-10-02', { campaign_name: 'New', ad_set_id: 's1', ad_name: 'Late' }),
      delivery('2026-10-01', { campaign_name: 'Old', ad_name: 'Early' }),
    ],
    clicks: [click('k', 0, { campaign_id: null }), click('k2', 0, { ad_id: 'a9', campaign_id: 'c9' })],
    names: [{ network: 'norrfeed', level: 'ad', id: 'a1', name: 'Given' }],
  })
  expect([...data.clicks.leaf].map(leaf => data.tree.leaves[leaf])).toEqual([
    { network: 'norrfeed', campaign: 'c1', adSet: '', ad: 'a1' },
    { network: 'norrfeed', campaign: 'c9', adSet: '', ad: 'a9' },
  ])
  expect([...data.tree.names.values()]).toEqual([
    ['Old', 'New'],
    ['Early', 'Late', 'Given'],
  ])
})

describe('what a network calls otherwise', () => {
  it('is no order beside its orders, but stands for them where it counts nothing else', () => {
    const counted = (...conversions: string[]) =>
      dataset({
        claims: conversions.map(conversion => claimSum('2026-10-05', { conversion, click_through: '1' })),
      })
        .claims.map(one => one.conversion)
        .sort()
    expect(counted('purchase', 'lead', 'sign_up')).toEqual(['purchase'])
    expect(counted('Käufe', 'Kontaktanfragen')).toEqual(['Käufe'])
    expect(counted('lead')).toEqual(['lead'])
    expect(counted('event_x')).toEqual(['event_x'])
  })
})
