import { describe, expect, it } from 'vitest'
import { type LaterOrder, laterWorth } from './laterWorth'

const DAY = 86_400_000
const order = (
  at: number,
  worth: number,
  visitor: string | null,
  customer: string | null = null,
): LaterOrder => ({
  at: at * DAY,
  worth,
  visitor,
  customer,
})
const leads = [
  { visitor: 'a', at: 0 },
  { visitor: 'b', at: 2 * DAY },
  { visitor: null, at: 3 * DAY },
  { visitor: 'c', at: 95 * DAY },
]

describe('what leads later bought', () => {
  it('is worked out by hand', () => {
    const orders = [
      order(5, 6000, 'a', 'ana'),
      // Of another device, the same customer.
      order(20, 3000, 'z', 'ana'),
      // Before the lead, after its days, and of nobody who was one.
      order(1, 9900, 'b'),
      order(70, 9900, 'b'),
      order(10, 9900, 'x', 'rui'),
    ]
    const found = laterWorth(leads, orders, 60, 100 * DAY)!
    // Three leads whose days are over bought for 9000 together; the fourth's are not.
    expect(found).toMatchObject({ leads: 3, buyers: 1, mean: 3000, days: 60 })
    const error = 1.2816 * Math.sqrt((6000 ** 2 + 2 * 3000 ** 2) / 2 / 3)
    expect(found.low).toBe(Math.max(0, 3000 - error))
    expect(found.high).toBeCloseTo(3000 + error, 6)
  })
  it('gives an order to the latest lead before it, once', () => {
    const twice = [
      { visitor: 'a', at: 0 },
      { visitor: 'a', at: 10 * DAY },
    ]
    const found = laterWorth(twice, [order(12, 5000, 'a')], 30, 100 * DAY)!
    expect([found.leads, found.buyers, found.mean]).toEqual([2, 1, 2500])
  })
  it('is not known before the days of any lead are over', () => {
    expect(laterWorth(leads, [], 60, 50 * DAY)).toBeNull()
    expect(laterWorth([], [], 60, 500 * DAY)).toBeNull()
  })
})
