import { describe, expect, it } from 'vitest'
import { dataset, order } from '../evidence/sampleRecords'
import { worthAsReported } from './basis'
import type { Cell } from './witnesses'

const DAY = 24
const orders = [
  order('a', 1, { total: '123.00', tax: '23.00', shipping: '7.00' }),
  order('b', 2, { total: '61.50', tax: '11.50', shipping: '3.50' }),
  order('c', DAY + 1, { total: '24.60', tax: '4.60', shipping: '0.60' }),
  order('free', DAY + 2, { total: '0.00' }),
]
const data = dataset({ orders })
const first = data.orders[0]!.day
const cell = (value: number, day = first, more: Partial<Cell> = {}): Cell => ({
  network: 0,
  leaf: 0,
  day,
  days: 1,
  clicks: 1,
  views: 0,
  value,
  ...more,
})
const worth = (cells: Cell[], reach = 0) => [...worthAsReported(data, cells, reach)]

describe('what an order is worth as a network reports it', () => {
  it.each([
    ['all of it', [12_300, 6150, 2460, 0]],
    ['without shipping', [11_600, 5800, 2400, 0]],
    ['without tax', [10_000, 5000, 2000, 0]],
    ['without both', [9300, 4650, 1940, 0]],
  ])('is %s where lines of one claim are worth just that', (_, values) => {
    expect(worth([cell(values[0]!), cell(values[1]!), cell(values[2]!, first + 1)])).toEqual(values)
  })
  it('is all of it where another basis fits but little better', () => {
    const gross = [cell(12_300), cell(6150)]
    // Three against two are no more than half as many again.
    const net = [cell(10_000), cell(5000), cell(2000, first + 1)]
    expect(worth([...gross, ...net])[0]).toBe(12_300)
    expect(worth([gross[0]!, ...net.slice(0, 2)])[0]).toBe(10_000)
    expect(worth([])[0]).toBe(12_300)
  })
  it('goes by lines of one claim by click, of the days on which the order may be', () => {
    expect(worth([cell(10_000, first, { clicks: 2 })])[0]).toBe(12_300)
    expect(worth([cell(10_000, first, { views: 1 })])[0]).toBe(12_300)
    expect(worth([cell(10_000, first - 2)])[0]).toBe(12_300)
    expect(worth([cell(10_000, first - 2)], 1)[0]).toBe(12_300)
    expect(worth([cell(10_000, first - 2)], 2)[0]).toBe(10_000)
    expect(worth([cell(10_000, first + 1)], 2)[0]).toBe(12_300)
  })
  it('is in the workspace’s currency', () => {
    const usd = dataset({
      orders: [order('u', 1, { currency: 'USD', total: '100.00', tax: '20.00' })],
      rates: [{ day: first, base: 'USD', quote: 'EUR', rate: '0.5' }],
    })
    expect([...worthAsReported(usd, [cell(4000)], 0)]).toEqual([4000])
  })
})
