import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DAY_MS } from '../shared/days'
import { type BrowserResult, noDays, type UsualDays, unusual } from './limits'

const DAY = 20_000 * DAY_MS
let number = 0
const one = (more: Partial<BrowserResult> = {}): BrowserResult => ({
  id: `e${++number}`,
  result: 'booklet',
  at: DAY + number * 61_000,
  from: `class${number}`,
  agent: 'Firefox',
  page: 'https://tarnbrook.example/thanks',
  click: null,
  value: null,
  visited: true,
  decided: false,
  ...more,
})
const many = (n: number, more: (i: number) => Partial<BrowserResult> = () => ({})) =>
  Array.from({ length: n }, (_, i) => one(more(i)))
const usual = (more: Partial<UsualDays> = {}): UsualDays => ({ ...noDays, days: 14, ...more })
const reasons = (told: BrowserResult[], days = usual(), pages = new Map<string, number>()) =>
  [...new Set(unusual(told, days, pages).values())].sort()

describe('what browsers tell', () => {
  it('is nothing unusual on a common day, nor on the first', () => {
    const told = many(150, i => ({ from: `class${i % 40}`, click: `k${i}` }))
    expect(reasons(told)).toEqual([])
    expect(reasons(many(400), noDays)).toEqual([])
  })
  it('is kept apart where one address sends many, and opened hardly a page', () => {
    const told = [...many(20), ...many(30, () => ({ from: 'flood' }))]
    const found = unusual(told, usual(), new Map([['flood', 12]]))
    expect(found.size).toBe(30)
    expect(reasons(told)).toEqual(['many_of_class'])
    // An office behind one address reads pages before it orders.
    expect(reasons(told, usual(), new Map([['flood', 400]]))).toEqual([])
    // What it sent on a day before is nothing new.
    expect(reasons(told, usual({ most: { ...noDays.most, many_of_class: 11 } }))).toEqual([])
  })
  it('is kept apart where one click brings many, or one minute, beyond what was ever seen', () => {
    expect(reasons(many(6, () => ({ click: 'k1' })))).toEqual(['many_of_click'])
    expect(reasons(many(40, i => ({ at: DAY + i * 1000 })))).toEqual(['many_in_minute'])
    expect(
      reasons(
        many(40, i => ({ at: DAY + i * 1000 })),
        noDays,
      ),
    ).toEqual([])
  })
  it('is kept apart where nobody opened a page before, if that is rare', () => {
    const told = [...many(50), ...many(9, () => ({ visited: false }))]
    expect(unusual(told, usual(), new Map()).size).toBe(9)
    expect(reasons(told, usual({ unvisited: 4 }))).toEqual([])
    expect(reasons(many(3, () => ({ visited: false })))).toEqual([])
  })
  it('is kept apart where its value was never seen, once there are values to know by', () => {
    const told = [...many(5, () => ({ value: '30.00' })), one({ value: '99999.00' })]
    expect(unusual(told, usual({ valued: 40, topValue: 45 }), new Map())).toEqual(
      new Map([[told.at(-1)!.id, 'value_unseen']]),
    )
    expect(reasons(told, usual({ valued: 4, topValue: 45 }))).toEqual([])
  })
  it('counts where somebody said so, in whatever order it came', () => {
    const told = many(30, () => ({ from: 'fair' }))
    expect(reasons(told.map(r => ({ ...r, decided: true })))).toEqual([])
    fc.assert(
      fc.property(fc.shuffledSubarray([...many(20), ...told], { minLength: 50 }), shuffled => {
        expect([...unusual(shuffled, usual(), new Map()).keys()].sort()).toEqual(told.map(r => r.id).sort())
      }),
      { numRuns: 20 },
    )
  })
})
