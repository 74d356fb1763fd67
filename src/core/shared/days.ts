import { DateTime, IANAZone } from 'luxon'

/** A calendar day as days since 1970-01-01; which instants belong to it depends on a zone. */
export type Day = number

export const DAY_MS = 86_400_000
export const HOUR_MS = 3_600_000
const QUARTER_MS = 900_000

export interface LocalTime {
  day: Day
  /** 0–23 */
  hour: number
  /** 1 Monday – 7 Sunday (ISO 8601) */
  weekday: number
}

/** What is dated before or after is no record of anybody's shop: a slip, or made up to do harm. */
const FIRST_MS = Date.UTC(1970, 0)
const END_MS = Date.UTC(2100, 0)
const isWithin = (ms: number): boolean => ms >= FIRST_MS && ms < END_MS

/** Days that were read: a report names the same few a hundred thousand times. */
const known = new Map<string, Day>()

/** The day of `YYYY-MM-DD` from 1970 to 2099; null when there is no such date. */
export function parseDay(text: string): Day | null {
  const before = known.get(text)
  if (before !== undefined) return before
  const ms = isDate(text) ? Date.parse(`${text}T00:00:00Z`) : Number.NaN
  if (!isWithin(ms)) return null
  known.set(text, ms / DAY_MS)
  return ms / DAY_MS
}

/** Whether there is such a day: `Date.parse` takes the 30th of February for the 2nd of March. */
function isDate(text: string): boolean {
  const ms = /^\d{4}-\d{2}-\d{2}$/.test(text) ? Date.parse(`${text}T00:00:00Z`) : Number.NaN
  return !Number.isNaN(ms) && formatDay(ms / DAY_MS) === text
}

export const formatDay = (day: Day): string => new Date(day * DAY_MS).toISOString().slice(0, 10)

/** Epoch milliseconds of an ISO 8601 instant from 1970 to 2099; null without a zone or when there is none such. */
export function parseInstant(text: string): number | null {
  if (!/^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}(:\d{2}(\.\d{1,9})?)?(Z|[+-]\d{2}:?\d{2})$/.test(text)) return null
  const ms = Date.parse(text.replace(' ', 'T'))
  const date = text.slice(0, 10)
  return isWithin(ms) && (parseDay(date) !== null || isDate(date)) ? ms : null
}

export function isLocale(tag: string): boolean {
  try {
    return Intl.NumberFormat.supportedLocalesOf(tag).length > 0
  } catch {
    return false
  }
}

export const isZone = (zone: string): boolean => IANAZone.isValidZone(zone)

/** 1 for Monday to 7 for Sunday. */
export const weekdayOf = (day: Day): number => ((((day + 3) % 7) + 7) % 7) + 1

/**
 * A clock of one IANA zone. The zone's offset is looked up once a UTC day where it is the same at both
 * ends, and else once a quarter hour, on which every zone changes its offset.
 *
 * @example
 * zoneClock('Europe/Lisbon')(Date.UTC(2026, 9, 25, 0, 30)).hour // 1, still summer time
 */
export function zoneClock(zone: string): (instant: number) => LocalTime {
  const known = clocks.get(zone)
  if (known) return known
  const iana = IANAZone.create(zone)
  /** minutes by UTC day; null where the day has two offsets */
  const ofDay = new Map<number, number | null>()
  const offsetAt = (instant: number): number => {
    const utcDay = Math.floor(instant / DAY_MS)
    let offset = ofDay.get(utcDay)
    if (offset === undefined) {
      const start = iana.offset(utcDay * DAY_MS)
      offset = start === iana.offset((utcDay + 1) * DAY_MS) ? start : null
      ofDay.set(utcDay, offset)
    }
    return offset ?? iana.offset(Math.floor(instant / QUARTER_MS) * QUARTER_MS)
  }
  const clock = (instant: number): LocalTime => {
    const local = instant + offsetAt(instant) * 60_000
    const day = Math.floor(local / DAY_MS)
    // 1970-01-01 was a Thursday.
    return {
      day,
      hour: Math.floor((local - day * DAY_MS) / HOUR_MS),
      weekday: weekdayOf(day),
    }
  }
  clocks.set(zone, clock)
  return clock
}
const clocks = new Map<string, (instant: number) => LocalTime>()

/**
 * When an hour of a day begins in a zone, in epoch ms. One that the clocks pass over begins when they have;
 * of one that they go through twice it is the first.
 */
export function localHours(zone: string): (day: Day, hour: number) => number {
  const known = new Map<number, number>()
  return (day, hour) => {
    const at = day * 24 + hour
    let ms = known.get(at)
    if (ms === undefined) {
      const utc = new Date(day * DAY_MS)
      const date = { year: utc.getUTCFullYear(), month: utc.getUTCMonth() + 1, day: utc.getUTCDate() }
      known.set(at, (ms = DateTime.fromObject({ ...date, hour }, { zone }).toMillis()))
    }
    return ms
  }
}

/** The first instant of a day in a zone. */
export function startOfDay(day: Day, zone: string): number {
  const utc = new Date(day * DAY_MS)
  return DateTime.fromObject(
    { year: utc.getUTCFullYear(), month: utc.getUTCMonth() + 1, day: utc.getUTCDate() },
    { zone },
  )
    .startOf('day')
    .toMillis()
}

/** Both ends included. */
export interface Period {
  from: Day
  to: Day
}

/** Whatever its day. */
export const everything: Period = { from: -1e6, to: 1e6 }

/** A span of time in ms, half-open: `from ≤ instant < until`. */
export interface Span {
  from: number
  until: number
}

/** The instants of a period's days in a zone. */
export const spanOf = ({ from, to }: Period, zone: string): Span => ({
  from: startOfDay(from, zone),
  until: startOfDay(to + 1, zone),
})

/** Reads `FROM..TO`, both days included; null for what is none, or ends before it begins. */
export function parsePeriod(text: string): Period | null {
  const [from, to, ...more] = text.split('..').map(parseDay)
  return from == null || to == null || more.length > 0 || from > to ? null : { from, to }
}

export const inPeriod = (day: Day, period: Period): boolean => day >= period.from && day <= period.to
