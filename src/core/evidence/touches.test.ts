import { describe, expect, it } from 'vitest'
import { clickColumns } from '../intake/clicks'
import { buildDataset } from '../intake/dataset'
import { exchangeFiles } from '../intake/records'
import { settingsSchema } from '../intake/settings'
import { DAY_MS } from '../shared/days'
import { placeOrders } from './place'
import { touchesOfOrder } from './touches'

const T = Date.UTC(2026, 9, 20, 12)
const click = (id: string, daysBefore: number, visitor: string | null) => ({
  click_id: id,
  clicked_at: T - daysBefore * DAY_MS,
  network: 'norrfeed',
  campaign_id: 'c1',
  ad_set_id: 's1',
  ad_id: id,
  visitor_id: visitor,
  network_click_id: null,
  landing_url: null,
  device: null,
  placement: null,
  keyword: null,
  match_type: null,
  source: null,
  country: null,
})
const order = (id: string, facts: Record<string, string>) =>
  exchangeFiles.orders.schema.parse({
    order_id: id,
    ordered_at: new Date(T).toISOString(),
    status: 'paid',
    currency: 'EUR',
    total: '10.00',
    ...facts,
  })
const clicks = clickColumns([
  click('old', 40, 'v1'),
  click('first', 12, 'v1'),
  click('phone', 5, 'v2'),
  click('last', 1, 'v1'),
  click('later', -2, 'v1'),
  click('stranger', 1, 'v9'),
])
const touchesOf = (credit: 'last_click' | 'even', ...orders: ReturnType<typeof order>[]) => {
  const settings = settingsSchema.parse({ credit })
  const data = buildDataset({ clicks, orders, delivery: [], claims: [], claimRows: [], rates: [] }, settings)
  const placements = placeOrders(data)
  const o = data.orders.findIndex(each => each.order_id === orders.at(-1)!.order_id)
  return touchesOfOrder(data, o, placements[o]!).map(t => [data.clicks.ids[t.click], t.by, t.when, t.share])
}

describe('the touches of an order', () => {
  it('are all ad clicks of its visitor, with why those outside the window count for nothing', () => {
    expect(touchesOf('last_click', order('o1', { visitor_id: 'v1' }))).toEqual([
      ['old', 'visitor_id', 'too_old', 0],
      ['first', 'visitor_id', 'counts', 0],
      ['last', 'visitor_id', 'counts', 1],
      ['later', 'visitor_id', 'after', 0],
    ])
  })
  it('share the credit as the rule says, and the shares are one', () => {
    const shares = touchesOf('even', order('o1', { visitor_id: 'v1', click_id: 'last' })).map(
      t => t[3] as number,
    )
    expect(shares).toEqual([0, 0.5, 0.5, 0])
  })
  it('hold the click that the order names where nobody knows who clicked', () => {
    const anonymous = clickColumns([click('nobody’s', 6, null), click('last', 1, 'v1')])
    const data = buildDataset(
      {
        clicks: anonymous,
        orders: [order('o1', { visitor_id: 'v1', click_id: 'nobody’s' })],
        delivery: [],
        claims: [],
        claimRows: [],
        rates: [],
      },
      settingsSchema.parse({}),
    )
    const touches = touchesOfOrder(data, 0, placeOrders(data)[0]!)
    expect(touches.map(({ click: c, by }) => [data.clicks.ids[c], by])).toEqual([
      ['nobody’s', 'click_id'],
      ['last', 'visitor_id'],
    ])
  })
  it('include the customer’s other devices, and nobody else’s', () => {
    const before = order('o0', { customer_id: 'u1', visitor_id: 'v2' })
    const touches = touchesOf('last_click', before, order('o1', { customer_id: 'u1', visitor_id: 'v1' }))
    expect(touches.map(t => [t[0], t[1]])).toContainEqual(['phone', 'customer'])
    expect(touches.map(t => t[0])).not.toContain('stranger')
  })
  it('are none where nothing is known of who ordered', () => {
    expect(touchesOf('last_click', order('o1', { utm_source: 'norrfeed' }))).toEqual([])
  })
})
