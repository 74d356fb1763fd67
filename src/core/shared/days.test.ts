import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { formatDay, HOUR_MS, parseDay, parseInstant, startOfDay, zoneClock } from './days'

describe('days in a zone', () => {
  it('agrees with the calendar of the zone at any instant, offsets of a quarter hour among them', () => {
    const zones = [
      'Europe/Lisbon',
      'Asia/Kathmandu',
      'America/St_Johns',
      'Australia/Lord_Howe',
      'Pacific/Apia',
    ]
    fc.assert(
      fc.property(
        fc.constantFrom(...zones),
        fc.integer({ min: Date.UTC(2015, 0), max: Date.UTC(2030, 0) }),
        (zone, at) => {
          const calendar = DateTime.fromMillis(at, { zone })
          const { day, hour, weekday } = zoneClock(zone)(at)
          expect([formatDay(day), hour, weekday]).toEqual([
            calendar.toISODate(),
            calendar.hour,
            calendar.weekday,
          ])
        },
      ),
    )
  })
  it('gives daylight-saving days 23 and 25 hours', () => {
    const hours = (text: string) => {
      const day = parseDay(text)!
      return (startOfDay(day + 1, 'Europe/Lisbon') - startOfDay(day, 'Europe/Lisbon')) / HOUR_MS
    }
    expect([hours('2026-03-29'), hours('2026-10-25'), hours('2026-10-26')]).toEqual([23, 25, 24])
  })
  it('refuses dates that do not exist and instants without a zone', () => {
    expect(parseDay('2026-02-30')).toBeNull()
    expect(parseDay('26-02-03')).toBeNull()
    expect(parseInstant('2026-10-05T14:30:00')).toBeNull()
    expect(parseInstant('2026-10-05T14:30:00+01:00')).toBe(Date.UTC(2026, 9, 5, 13, 30))
    for (const none of ['2026-02-30T10:00:00Z', '2026-04-31T23:59:00+02:00', '2027-02-29T10:00:00Z'])
      expect(parseInstant(none)).toBeNull()
    expect(parseInstant('2028-02-29T10:00:00Z')).toBe(Date.UTC(2028, 1, 29, 10))
    // In the zone of the text the day may be one outside those that are taken.
    expect(parseInstant('1969-12-31T23:00:00-05:00')).toBe(Date.UTC(1970, 0, 1, 4))
    expect(parseInstant('2100-01-01T00:30:00+01:00')).toBe(Date.UTC(2099, 11, 31, 23, 30))
  })
})
