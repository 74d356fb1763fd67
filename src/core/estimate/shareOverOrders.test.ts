import { describe, expect, it } from 'vitest'
import { shareOverOrders, type Wish } from './shareOverOrders'

const wish = (leaf: number, amount: number, orders: number[], weights = orders.map(() => 1)): Wish => ({
  leaf,
  amount,
  variance: amount / 2,
  orders,
  weights,
})
const share = (wishes: Wish[], room: number[]) => shareOverOrders(wishes, Float64Array.from(room))
const sumOf = (parts: { part: number }[]) => parts.reduce((sum, { part }) => sum + part, 0)

describe('orders shared out among those who may claim them', () => {
  it('go by how likely they are, as many as are wanted', () => {
    const parts = share([wish(7, 1, [0, 1], [3, 1])], [1, 1])
    expect(parts.map(({ order, leaf, part }) => [order, leaf, part])).toEqual([
      [0, 7, expect.closeTo(0.75, 9)],
      [1, 7, expect.closeTo(0.25, 9)],
    ])
    // The variance of the wish is shared as the wish is.
    expect(parts.map(({ variance }) => variance)).toEqual([
      expect.closeTo(0.375, 9),
      expect.closeTo(0.125, 9),
    ])
  })
  it('are none more than once in all', () => {
    const parts = share([wish(1, 1, [0]), wish(2, 1, [0]), wish(3, 0.5, [0, 1])], [1, 1])
    const of = (order: number) => sumOf(parts.filter(part => part.order === order))
    expect(of(0)).toBeCloseTo(1, 3)
    expect(of(1)).toBeLessThanOrEqual(0.5)
    // What is wanted of an order by nobody else is had of the other.
    expect(of(1)).toBeGreaterThan(0.3)
  })
  it('fill only what is left of them', () => {
    const parts = share([wish(1, 2, [0, 1])], [0.25, 1])
    expect(parts.map(({ part }) => part)).toEqual([expect.closeTo(0.25, 9), expect.closeTo(1, 9)])
    expect(share([wish(1, 1, [0])], [0])).toEqual([])
    expect(share([wish(1, 1, [])], [1])).toEqual([])
  })
  it('leave out what is next to nothing', () => {
    const parts = share([wish(1, 1, [0, 1], [1, 1e-6])], [1, 1])
    expect(parts.map(({ order }) => order)).toEqual([0])
  })
})
