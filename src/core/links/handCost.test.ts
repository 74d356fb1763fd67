import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { handCostSchema, spreadCost } from './handCost'

describe('a price for a span of days', () => {
  const day = fc.date({ min: new Date('2020-01-01'), max: new Date('2027-12-31'), noInvalidDate: true })
  it('is shared out to the unit, each day once and none more than a unit apart', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e9 }), day, fc.nat(1000), (amount, first, length) => {
        const text = (date: Date) => date.toISOString().slice(0, 10)
        const to = text(new Date(first.getTime() + length * 86_400_000))
        const days = spreadCost(handCostSchema.parse({ amount, currency: 'EUR', from: text(first), to }))
        expect(days.reduce((sum, d) => sum + d.amount, 0)).toBe(amount)
        expect(new Set(days.map(d => d.day)).size).toBe(length + 1)
        expect([days[0]!.day, days.at(-1)!.day]).toEqual([text(first), to])
        const amounts = days.map(d => d.amount)
        expect(Math.max(...amounts) - Math.min(...amounts)).toBeLessThanOrEqual(1)
      }),
    )
  })
  it('is refused for no days, for ages, and in what is no currency', () => {
    const cost = { amount: 100, currency: 'EUR', from: '2026-10-02', to: '2026-10-01' }
    const taken = (part: object) => handCostSchema.safeParse({ ...cost, ...part }).success
    expect(taken({})).toBe(false)
    expect(taken({ to: '2126-10-01' })).toBe(false)
    expect(taken({ to: '2026-10-03', currency: 'euro' })).toBe(false)
    expect(taken({ to: '2026-10-03', amount: 0 })).toBe(false)
    expect(taken({ to: '2026-10-02' })).toBe(true)
  })
})
