import { describe, expect, it } from 'vitest'
import { instantAt, order } from '../evidence/sampleRecords'
import { minor } from '../shared/money'
import { type OutcomeFacts, outcomesOf, type ToldResult } from './outcomes'
import { resultSchema } from './result'

const told = (event_id: string, hours: number, more: Partial<ToldResult> = {}): ToldResult => ({
  event_id,
  at: instantAt(hours),
  name: 'order',
  visitor_id: null,
  click_id: null,
  transaction_id: null,
  value: null,
  currency: null,
  ...more,
})
const definition = (more: object = {}) =>
  resultSchema.parse({
    id: 'order',
    name: 'Order',
    kind: 'order',
    currency: 'EUR',
    value: { by: 'event' },
    count: 'every',
    ...more,
  })
const facts: OutcomeFacts = {
  settings: { order_value: 'gross' },
  convert: (amount, from, to) => (from === to ? amount : from === 'USD' ? minor(amount / 2) : null),
  dayOf: () => 0,
  clickOf: id => (id.startsWith('k') ? { network: 'kelpie', campaign: 'c1', at: instantAt(0) } : null),
  statusOf: id => ({ shop: 'paid' as const, gone: 'cancelled' as const })[id],
  shopTells: () => false,
}
const outcome = (
  given: { orders?: ReturnType<typeof order>[]; events?: ToldResult[] },
  more: object = {},
  by = facts,
) =>
  outcomesOf(definition(more), given.orders ?? [], given.events ?? [], by).map(({ id, worth, left }) => [
    id,
    worth ?? left,
  ])

describe('what came about', () => {
  it('is told by the shop, by a rule, or by both, and counts once', () => {
    const orders = [order('shop', 1, { total: '80.00' }), order('gone', 1, { status: 'cancelled' })]
    const events = [
      told('e1', 1, { transaction_id: 'shop', value: '99.00' }),
      told('e2', 1, { transaction_id: 'gone', value: '99.00' }),
      told('e3', 2, { transaction_id: 'unheard', value: '20.00' }),
      told('e4', 3, { transaction_id: 'unheard', value: '20.00' }),
      told('e5', 4, { name: 'lead', value: '1.00' }),
    ]
    expect(outcome({ orders, events })).toEqual([
      ['shop', 8000],
      ['gone', 'does_not_count'],
      ['e1', 'same_transaction'],
      ['e2', 'does_not_count'],
      ['e3', 2000],
      ['e4', 'same_transaction'],
    ])
  })

  it('is by whom the rule saw where the order does not say it', () => {
    const events = [told('e', 1, { transaction_id: 'shop', click_id: 'k1', visitor_id: 'v1' })]
    const [silent] = outcomesOf(definition(), [order('shop', 1)], events, facts)
    expect(silent).toMatchObject({ click: 'k1', visitor: 'v1' })
    const own = order('shop', 1, { click_id: 'k2', visitor_id: 'v2' })
    expect(outcomesOf(definition(), [own], events, facts)[0]).toMatchObject({ click: 'k2', visitor: 'v2' })
  })

  it.each<[says: string, definition: object, value: string | null, number | string]>([
    ['what it says itself', {}, '12.00', 1200],
    ['a fixed amount, whatever it says', { value: { by: 'fixed', amount: 300 } }, '12.00', 300],
    ['an amount less a fee', { value: { by: 'less_fee', amount: 900, fee: 250 } }, null, 650],
    ['price times periods', { value: { by: 'lifetime', price: 2400, periods: 500 } }, null, 12_000],
    ['nothing that is known', {}, null, 'no_value'],
    ['less than counts', { minimum: 1201 }, '12.00', 'below_minimum'],
    ['just what counts', { minimum: 1200 }, '12.00', 1200],
  ])('is worth %s', (_, more, value, worth) => {
    expect(outcome({ events: [told('e', 1, { value })] }, more)).toEqual([['e', worth]])
  })

  it('is worth what its currency comes to, or nothing that is known', () => {
    const events = [
      told('usd', 1, { value: '12.00', currency: 'USD' }),
      told('gbp', 1, { value: '12.00', currency: 'GBP' }),
    ]
    expect(outcome({ events })).toEqual([
      ['usd', 600],
      ['gbp', 'no_value'],
    ])
    expect(
      outcome(
        { orders: [order('net', 1, { total: '12.00', tax: '2.00' })] },
        {},
        {
          ...facts,
          settings: { order_value: 'net' },
        },
      ),
    ).toEqual([['net', 1000]])
  })

  it('counts once for a click, or a visitor, where that is the rule; the earliest does', () => {
    const value = '1.00'
    const events = [
      told('late', 2, { click_id: 'k1', value }),
      told('early', 1, { click_id: 'k1', value }),
      told('v', 3, { visitor_id: 'v1', value }),
      told('again', 4, { visitor_id: 'v1', value }),
    ]
    expect(outcome({ events }, { count: 'once' })).toEqual([
      ['late', 'once_per_click'],
      ['early', 100],
      ['v', 100],
      ['again', 'once_per_click'],
    ])
  })

  it('is only for the campaigns that the result names', () => {
    const value = '1.00'
    const events = [told('theirs', 1, { click_id: 'k1', value }), told('nobody', 1, { value })]
    for (const [more, left] of [
      [{ networks: ['kelpie'] }, 100],
      [{ campaigns: ['kelpie/c1'] }, 100],
      [{ networks: ['norrfeed'] }, 'not_for_it'],
    ] as const)
      expect(outcome({ events }, more)).toEqual([
        ['theirs', left],
        ['nobody', 'not_for_it'],
      ])
  })
  describe('where the shop tells of its orders', () => {
    const ofShop = { ...facts, shopTells: (_: string, at: number) => at >= instantAt(0) }
    it('is never what a browser alone tells, but of before its first order', () => {
      const events = [told('e1', 2, { transaction_id: 'made-up', value: '99999.00' }), told('e2', 3)]
      expect(outcome({ orders: [order('shop', 1)], events }, {}, ofShop)).toEqual([
        ['shop', 10_000],
        ['e1', 'unconfirmed'],
        ['e2', 'unconfirmed'],
      ])
      expect(outcome({ events: [told('e3', -1, { value: '9.00' })] }, {}, ofShop)).toEqual([['e3', 900]])
    })
    const tied = (...events: ToldResult[]) =>
      outcomesOf(definition(), [order('shop', 10, { total: '50.00' })], events, ofShop)[0]!.click
    const sign = (id: string, hours: number, more: object = {}) =>
      told(id, hours, { transaction_id: 'shop', click_id: `k-${id}`, ...more })
    it('comes by the click of whoever was told of it when it was made, or of its very amount', () => {
      expect(tied(sign('thanks', 10.01, { value: '44.00' }))).toBe('k-thanks')
      // Dated by its payment, two days after its page was seen.
      expect(tied(sign('thanks', -38, { value: '50.00' }))).toBe('k-thanks')
    })
    it('does not come by the click of who named its number in advance, or long after', () => {
      expect(tied(sign('forged', 2, { value: '99.00' }))).toBeNull()
      expect(tied(sign('forged', 2))).toBeNull()
      expect(tied(sign('forged', 9.99))).toBeNull()
      expect(tied(sign('forged', 10 + 24 * 4))).toBeNull()
      expect(tied(sign('forged', 2), sign('thanks', 10.01), sign('later', 11))).toBe('k-thanks')
    })
    it('comes by the same click in whatever order its signs stand', () => {
      const signs = [sign('a', 10.5), sign('b', 10.2), sign('c', 9.999), sign('d', 60, { value: '50.00' })]
      expect(tied(...signs.slice(0, 3))).toBe('k-c')
      expect([tied(...signs), tied(...signs.toReversed())]).toEqual(['k-d', 'k-d'])
    })
  })
})
