import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type BeginStep, bettersMost, type Held, lacksOf, stepsOf } from './beginning'

const nothing: Held = {
  settled: false,
  orders: null,
  networks: [],
  spend: null,
  claiming: [],
  links: 0,
  clicks: 0,
  events: 0,
  named: 0,
}
const whole: Held = {
  settled: true,
  orders: { count: 134, first: 100, last: 127 },
  networks: ['kelpie'],
  spend: { networks: [{ network: 'kelpie', last: 127 }], last: 127 },
  claiming: ['kelpie'],
  links: 12,
  clicks: 900,
  events: 4000,
  named: 0,
}
const part = <Value>(value: Value, none: Value) => fc.constantFrom(value, none)
const held: fc.Arbitrary<Held> = fc.record({
  settled: fc.boolean(),
  orders: part(whole.orders, null),
  networks: part<readonly string[]>(['kelpie'], []),
  spend: part(whole.spend, null),
  claiming: part<readonly string[]>(['kelpie'], []),
  links: part(12, 0),
  clicks: part(900, 0),
  events: part(4000, 0),
  named: part(51, 0),
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
    const upTo = (last: number) => ({ ...whole, spend: { networks: [{ network: 'kelpie', last }], last } })
    expect(bettersMost(upTo(121))).toBe('later_reports')
    expect(bettersMost(upTo(126))).toBeNull()
  })
  it('says of each figure what it lacks, and of which network', () => {
    const lacks = (held: Held) =>
      Object.fromEntries(
        lacksOf(held).flatMap(({ figure, lacks }) => (lacks.length > 0 ? [[figure, lacks]] : [])),
      )
    expect(lacks(whole)).toEqual({})
    expect(lacks({ ...whole, events: 0, settled: false })).toEqual({
      proven: [{ step: 'tag' }],
      estimated: [{ step: 'tag' }],
      line: [{ step: 'settle' }],
    })
    const several = {
      ...whole,
      networks: ['kelpie', 'norrfeed', 'whyfold'],
      spend: {
        networks: [
          { network: 'kelpie', last: 127 },
          { network: 'norrfeed', last: 120 },
          { network: 'newsletter', last: 127 },
        ],
        last: 127,
      },
    }
    expect(lacks(several)).toEqual({
      cost: [
        { step: 'reports', networks: ['whyfold'] },
        { step: 'reports', networks: ['norrfeed'], after: 120 },
      ],
      estimated: [{ step: 'claims', networks: ['norrfeed'] }],
      gap: [{ step: 'claims', networks: ['norrfeed'] }],
    })
  })
  it('does not say that a figure lacks what the parameters of orders stand in for', () => {
    const exported = { ...whole, links: 0, clicks: 0, events: 0, named: 51 }
    const lacking = (held: Held) =>
      lacksOf(held).flatMap(({ figure, lacks }) => (lacks.length > 0 ? [figure] : []))
    expect(lacking(exported)).toEqual(['proven'])
    expect(lacking({ ...exported, named: 0 })).toEqual(['proven', 'tagged', 'estimated'])
  })
  it('has figures that lack something exactly while some step for them is missing', () => {
    fc.assert(
      fc.property(held, one => {
        const open = new Set(stepsOf(one).flatMap(({ step, done }) => (done ? [] : [step])))
        for (const { lacks } of lacksOf(one))
          for (const lack of lacks) expect('networks' in lack || open.has(lack.step)).toBe(true)
        if (open.has('orders'))
          for (const { lacks } of lacksOf(one)) expect(lacks[0]).toEqual({ step: 'orders' })
      }),
    )
  })
})
