import { describe, expect, it } from 'vitest'
import { between, count, instant, money, percent, ratioText, smallPercent, tenths, UNKNOWN } from './format'

describe('a figure', () => {
  it.each([
    ['money of a currency with cents', money(123_456_789, 'EUR'), '1,234,567.89'],
    ['money of one without', money(1_234, 'JPY'), '1,234'],
    ['money of one with mils', money(1_234_567, 'KWD'), '1,234.567'],
    ['what was lost', money(-5, 'EUR'), '-0.05'],
    ['a count', count(10_000), '10,000'],
    ['an estimate', tenths(146.94), '146.9'],
    ['a large one', tenths(12_345), '12,345.0'],
    ['a ratio', ratioText(1.925), '1.93'],
    ['a share', percent(0.456), '46 %'],
    ['a share of a few', smallPercent(0.0052), '0.5 %'],
    ['a share of none', smallPercent(0), '0 %'],
    ['a time of days', between(3 * 86_400_000), '3.0 d'],
    ['a time of seconds', between(8_400), '8.4 s'],
  ])('is written in one way: %s', (_, shown, wanted) => {
    expect(shown).toBe(wanted)
  })
  it('that nobody knows is a dash, never nought', () => {
    expect([money(null, 'EUR'), ratioText(null), percent(null), smallPercent(null)]).toEqual(
      Array(4).fill(UNKNOWN),
    )
  })
  it('that is an instant stands in the zone that is asked for', () => {
    expect(instant(Date.UTC(2026, 9, 5, 23, 30), 'Europe/Lisbon')).toBe('6 Oct 2026, 00:30:00')
  })
})
