import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { countByOwnRules, within } from './ownRule'
import { placeOrders } from './place'
import { claim, click, dataset, instantAt, order, type Rows } from './sampleRecords'

const day = (text: string) => Date.parse(text) / 86_400_000
const HOURS = 24
const counted = (rows: Rows, settings: object, from: string, to = from) => {
  const data = dataset(rows, settings)
  return countByOwnRules(data, placeOrders(data), { from: day(from), to: day(to) })
}
const start = new Date(instantAt(0)).toISOString().slice(0, 10)
const later = (hours: number) => new Date(instantAt(hours)).toISOString().slice(0, 10)

describe('what a network should have claimed by its own rule', () => {
  const rows: Rows = {
    clicks: [
      click('n1', 0, { visitor_id: 'v' }),
      click('k1', 2 * HOURS, { network: 'kelpie', campaign_id: 'k', visitor_id: 'v' }),
    ],
    orders: [order('o', 3 * HOURS + 1, { visitor_id: 'v' })],
    claimRows: [claim(3 * HOURS + 1, { transaction_id: 'o' }), claim(3 * HOURS + 1, { kind: 'view' })],
  }
  const rules = {
    networks: [
      { id: 'norrfeed', click_window_days: 7, dated_by: 'click' },
      { id: 'kelpie', click_window_days: 1 },
    ],
  }
  it('is each order that follows a click of it, whoever else was clicked, in the window and on the day that it goes by', () => {
    const onOrderDay = counted(rows, rules, later(3 * HOURS + 1))
    const by = Object.fromEntries(onOrderDay.map(one => [one.network, one]))
    // Our rule gives the order to the last click alone.
    expect([by.norrfeed!.credited, by.kelpie!.credited]).toEqual([0, 1_000_000])
    expect([3, 4].map(window => within(by.norrfeed!.byOrderDay, window))).toEqual([0, 1])
    expect([1, 2].map(window => within(by.kelpie!.byOrderDay, window))).toEqual([0, 1])
    expect([by.norrfeed!.clickClaims, by.norrfeed!.viewClaims]).toEqual([1, 1])
    // Norrfeed dates by the click, which was three days before.
    expect(within(by.norrfeed!.byItsDay, 90)).toBe(0)
    expect(within(counted(rows, rules, start).find(one => one.network === 'norrfeed')!.byItsDay, 7)).toBe(1)
  })
  it('never falls with a longer window, and over all days is the same by either day', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(60 * HOURS), fc.nat(30 * HOURS), fc.constantFrom('norrfeed', 'kelpie')), {
          maxLength: 12,
        }),
        list => {
          const own: Rows = {
            clicks: list.map(([at, , network], i) =>
              click(`c${i}`, at, { network, campaign_id: 'c', visitor_id: `v${i % 4}` }),
            ),
            orders: list.map(([at, after], i) => order(`o${i}`, at + after, { visitor_id: `v${i % 4}` })),
          }
          for (const one of counted(own, rules, '2000-01-01', '2090-01-01')) {
            const sums = Array.from({ length: 91 }, (_, window) => within(one.byOrderDay, window))
            expect(sums).toEqual([...sums].sort((a, b) => a - b))
            expect(one.byItsDay).toEqual(one.byOrderDay)
            // What credit we give lies among what it may claim by our own window.
            expect(one.credited / 1e6).toBeLessThanOrEqual(sums[30]! + 1e-6)
          }
        },
      ),
    )
  })
})
