import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { formatDay, parseDay } from '../../shared/days'
import { guessDates } from './guess'
import { type DateOrder, momentReader, readTime } from './moment'

const read = (text: string, order: DateOrder = 'dmy') => {
  const moment = momentReader(order)(text)
  return moment && [formatDay(moment.day), moment.seconds, moment.offset]
}
const AT = 11 * 3600 + 15 * 60

describe('a moment', () => {
  it.each<[string, DateOrder, unknown]>([
    ['2026-11-02 11:15:00 +0000', 'ymd', ['2026-11-02', AT, 0]],
    ['2026-11-02 11:15:00 -0500', 'ymd', ['2026-11-02', AT, -300]],
    ['2026-11-02T11:15:00.123Z', 'ymd', ['2026-11-02', AT, 0]],
    ['2026-11-02T11:15:00+05:30', 'ymd', ['2026-11-02', AT, 330]],
    ['2026-11-02 11:15 UTC', 'ymd', ['2026-11-02', AT, 0]],
    ['2026-11-02 11:15 GMT+2', 'ymd', ['2026-11-02', AT, 120]],
    ['Nov 2, 2026, 11:15 AM', 'dmy', ['2026-11-02', AT, null]],
    ['November 2, 2026 at 11:15:09 pm', 'ymd', ['2026-11-02', 23 * 3600 + 909, null]],
    ['Mon, 2 Nov 2026 11:15:00 +0100', 'ymd', ['2026-11-02', AT, 60]],
    ['24 nov. 2026', 'mdy', ['2026-11-24', null, null]],
    ['mar. 24 nov. 2026 11h15', 'ymd', ['2026-11-24', AT, null]],
    ['24 listopada 2026', 'ymd', ['2026-11-24', null, null]],
    ['24 de novembro de 2026', 'ymd', ['2026-11-24', null, null]],
    ['24. November 2026', 'ymd', ['2026-11-24', null, null]],
    ['2026年11月24日', 'ymd', ['2026-11-24', null, null]],
    ['24. 11. 2026', 'dmy', ['2026-11-24', null, null]],
    ['02/11/26 12:00 a.m.', 'dmy', ['2026-11-02', 0, null]],
    ['11:15 02/11/2026', 'dmy', ['2026-11-02', AT, null]],
    ['20261102', 'ymd', ['2026-11-02', null, null]],
    ['46328', 'dmy', ['2026-11-02', null, null]],
    ['46328.46875', 'dmy', ['2026-11-02', AT, null]],
  ])('%s', (text, order, meant) => expect(read(text, order)).toEqual(meant))

  it.each([
    ['31/02/2026', 'dmy'],
    ['2026-11-02 25:00', 'ymd'],
    ['2026-11-02 13:00 pm', 'ymd'],
    ['02/11/2026 11:75', 'dmy'],
    ['Novembruary 2, 2026', 'dmy'],
    ['12.50', 'dmy'],
    ['1234', 'dmy'],
    ['', 'dmy'],
  ] as [string, DateOrder][])('is not %s', (text, order) => expect(read(text, order)).toBeNull())

  it('is read again from what any language writes', () => {
    const day = fc.integer({ min: parseDay('2020-01-01')!, max: parseDay('2030-12-31')! })
    const language = fc.constantFrom(
      'en-GB',
      'en-US',
      'de',
      'fr',
      'es',
      'pt-BR',
      'it',
      'nl',
      'pl',
      'cs',
      'sv',
      'ru',
    )
    const month = fc.constantFrom('long' as const, 'short' as const)
    const order = fc.constantFrom('ymd' as const, 'dmy' as const, 'mdy' as const)
    fc.assert(
      fc.property(day, language, month, order, (at, locale, shape, by) => {
        const written = new Intl.DateTimeFormat(locale, {
          day: 'numeric',
          month: shape,
          year: 'numeric',
          timeZone: 'UTC',
        }).format(at * 86_400_000)
        // Some write a short month in figures, which an order has to tell apart.
        fc.pre(/\p{L}{3}/u.test(written))
        expect([locale, written, read(written, by)]).toEqual([locale, written, [formatDay(at), null, null]])
      }),
    )
  })
  it('of a column is asked about only where other orders would say other days', () => {
    expect(guessDates(['11/02/2026', '03/04/2026'])).toMatchObject({ sure: false })
    expect(guessDates(['11/02/2026', '23/04/2026'])).toEqual({ order: 'dmy', sure: true })
    expect(guessDates(['11/11/2026'])).toMatchObject({ sure: true })
    expect(guessDates(['Nov 2, 2026', 'Dec 24, 2026'])).toMatchObject({ sure: true })
  })
  it('has a time of its own in a column beside', () => {
    expect(['11:15', '11:15:00', '1:15 PM', '111500', 'noon', '25:00'].map(readTime)).toEqual([
      AT,
      AT,
      AT + 7200,
      AT,
      null,
      null,
    ])
  })
})
