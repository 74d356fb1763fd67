import { describe, expect, it } from 'vitest'
import { formatsOf, UNKNOWN } from './format'

const habits = { locale: 'en-GB', zone: 'Europe/Lisbon', currency: 'EUR', firstWeekday: 1 }
const { count, tenths, money, ratioText, percent, smallPercent, between, instant, day, minute } =
  formatsOf(habits)
const AT = Date.UTC(2026, 9, 5, 23, 30)

describe('a figure', () => {
  it.each([
    ['money of a currency with cents', money(123_456_789), '1,234,567.89'],
    ['money of one without', money(1_234, 'JPY'), '1,234'],
    ['money of one with mils', money(1_234_567, 'KWD'), '1,234.567'],
    ['what was lost', money(-5), '-0.05'],
    ['a count', count(10_000), '10,000'],
    ['an estimate', tenths(146.94), '146.9'],
    ['a large one', tenths(12_345), '12,345.0'],
    ['a ratio', ratioText(1.925), '1.93'],
    ['a share', percent(0.456), '46 %'],
    ['a share of a few', smallPercent(0.0052), '0.5 %'],
    ['a share of none', smallPercent(0), '0 %'],
    ['a time of days', between(3 * 86_400_000), '3.0 d'],
    ['a time of seconds', between(8_400), '8.4 s'],
    ['an instant, in the zone', instant(AT), '6 Oct 2026, 00:30:00'],
    ['its minute', minute(AT), '00:30'],
    ['a day', day('2026-10-05'), '5 Oct 2026'],
  ])('is written in one way: %s', (_, shown, wanted) => {
    expect(shown).toBe(wanted)
  })
  it('that nobody knows is a dash, never nought', () => {
    expect([money(null), ratioText(null), percent(null), smallPercent(null)]).toEqual(Array(4).fill(UNKNOWN))
  })
  it('is written by the habit of whoever reads it', () => {
    const german = formatsOf({ ...habits, locale: 'de-DE' })
    expect(german.money(123_456_789)).toBe('1.234.567,89')
    expect(german.tenths(1_234.5)).toBe('1.234,5')
    expect(german.day('2026-10-05')).toBe('05.10.2026')
  })
})
