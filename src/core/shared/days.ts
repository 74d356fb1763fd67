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

/** The day of `YYYY-MM-DD`; null when there is no such date. */
export function parseDay(text: string): Day | null {
  const ms = /^\d{4}-\d{2}-\d{2}$/.test(text) ? Date.parse(`${text}T00:00:00Z`) : Number.NaN
  return Number.isNaN(ms) || formatDay(ms / DAY_MS) !== text ? null : ms / DAY_MS
}

export const formatDay = (day: Day): string => new Date(day * DAY_MS).toISOString().slice(0, 10)

/** Epoch milliseconds of an ISO 8601 instant; null without a zone or when it is not one. */
export function parseInstant(text: string): number | null {
  if (!/^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}(:\d{2}(\.\d{1,9})?)?(Z|[+-]\d{2}:?\d{2})$/.test(text)) return null
  const ms = Date.parse(text.replace(' ', 'T'))
  return Number.isNaN(ms) ? null : ms
}

export const isZone = (zone: string): boolean => IANAZone.isValidZone(zone)

/**
 * A clock of one IANA zone. Every zone changes its offset on a quarter hour, so one look-up a quarter
 * hour serves all instants in it.
 *
 * @example
 * zoneClock('Europe/Lisbon')(Date.UTC(2026, 9, 25, 0, 30)).hour // 1, still summer time
 */
export function zoneClock(zone: string): (instant: number) => LocalTime {
  const known = clocks.get(zone)
  if (known) return known
  const seen = new Map<number, LocalTime>()
  const clock = (instant: number): LocalTime => {
    const quarter = Math.floor(instant / QUARTER_MS)
    let local = seen.get(quarter)
    if (!local) {
      const at = DateTime.fromMillis(quarter * QUARTER_MS, { zone })
      const day = Date.UTC(at.year, at.month - 1, at.day) / DAY_MS
      local = { day, hour: at.hour, weekday: at.weekday }
      seen.set(quarter, local)
    }
    return local
  }
  clocks.set(zone, clock)
  return clock
}
const clocks = new Map<string, (instant: number) => LocalTime>()

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

export const inPeriod = (day: Day, period: Period): boolean => day >= period.from && day <= period.to
