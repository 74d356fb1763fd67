import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type BeginStep, bettersMost, type Held, stepsOf } from './beginning'

const nothing: Held = {
  settled: false,
  orders: null,
  networks: [],
  spend: null,
  claims: 0,
  links: 0,
  clicks: 0,
  events: 0,
}
const whole: Held = {
  settled: true,
  orders: { count: 134, first: 100, last: 127 },
  networks: ['kelpie'],
  spend: { networks: ['kelpie'], last: 127 },
  claims: 60,
  links: 12,
  clicks: 900,
  events: 4000,
}
const part = <Value>(value: Value, none: Value) => fc.constantFrom(value, none)
const held: fc.Arbitrary<Held> = fc.record({
  settled: fc.boolean(),
  orders: part(whole.orders, null),
  networks: part<readonly string[]>(['kelpie'], []),
  spend: part(whole.spend, null),
  claims: part(60, 0),
  links: part(12, 0),
  clicks: part(900, 0),
  events: part(4000, 0),
})

describe('the way to the first number', () => {
  it('begins with nothing done, and asks for nothing once all is', () => {
    expect(stepsOf(nothing).filter(one => one.done)).toEqual([])
    expect(bettersMost(nothing)).toBe('orders')
    expect(stepsOf(whole).every(one => one.done)).toBe(true)
    expect(bettersMost(whole)).toBeNull()
  })
  it('never asks for what is there, and asks as long as anything is missing', () => {
    fc.assert(
      fc.property(held, one => {
        const missing = stepsOf(one).flatMap(({ step, done }) => (done ? [] : [step]))
        const next = bettersMost(one)
        expect(missing.includes(next as BeginStep)).toBe(missing.length > 0)
        if (missing.length === 0) expect(next).toBeNull()
      }),
    )
  })
  it('asks for later reports where orders go on after them: results would look cheap', () => {
    expect(bettersMost({ ...whole, spend: { networks: ['kelpie'], last: 121 } })).toBe('later_reports')
    expect(bettersMost({ ...whole, spend: { networks: ['kelpie'], last: 126 } })).toBeNull()
  })
})
