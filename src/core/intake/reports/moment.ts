import type { Day } from '../../shared/days'
import { perPath } from '../../shared/path'

/** How a file writes a date in figures. */
export const dateOrders = ['ymd', 'dmy', 'mdy'] as const
export type DateOrder = (typeof dateOrders)[number]

/** A moment as a file writes it. */
export interface Moment {
  day: Day
  /** after midnight; null where it says no time */
  seconds: number | null
  /** minutes that its clock is ahead of UTC; null where it does not say */
  offset: number | null
}

/** Languages whose months are known by name; of two that call different months alike, the one that more shops write. */
const LANGUAGES = 'en de fr es pt it nl pl cs sk sl sv da nb fi et lv lt hu ro tr ru uk bg el id'.split(' ')
/** In small letters, without marks above them and points behind them. */
const plain = (word: string): string => word.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()

let months: ReadonlyMap<string, number> | undefined
/** The number of the month that a word names in any of the languages, alone or within a date; undefined for none. */
function monthOf(word: string): number | undefined {
  if (!months) {
    const known = new Map<string, number>()
    for (const language of LANGUAGES)
      for (const month of ['long', 'short'] as const)
        for (const shape of [{ month }, { month, day: 'numeric' as const }]) {
          const format = new Intl.DateTimeFormat(language, { ...shape, timeZone: 'UTC' })
          for (let m = 0; m < 12; m++) {
            const part = format.formatToParts(Date.UTC(2026, m, 2)).find(one => one.type === 'month')
            const name = plain(part?.value ?? '').replace(/\.$/, '')
            // What is a month here and another one there names none.
            if (/\p{L}/u.test(name)) known.set(name, known.has(name) && known.get(name) !== m + 1 ? 0 : m + 1)
          }
        }
    // As English speakers write it besides.
    known.set('sept', 9)
    months = known
  }
  return months.get(word) || undefined
}

/** The number of the month that a word names, however it is written; undefined for none. */
export const monthNamed = (word: string): number | undefined => monthOf(plain(word))

const DAY_SECONDS = 86_400
/** The first of January 1970 among the days of spreadsheets, which count from 1899-12-30; those of 1954 to 2119. */
const SERIAL = { epoch: 25_569, least: 20_000, most: 80_000 }

/** Zone behind a time: `Z`, `UTC`, `GMT+2`, `+0100`, `-05:00`. */
const ZONE = /\s*(?:(?:UTC|GMT)\s*)?([+-])(\d{1,2}):?(\d{2})?$|\s*(Z|UTC|GMT)$/i
const CLOCK = String.raw`(\d{1,2})[:h](\d{2})(?::(\d{2})(?:[.,]\d{1,9})?)?(?:\s*([ap])\.?\s?m\.?)?`
const TIME_BEHIND = new RegExp(String.raw`(?:^|[T\s,])${CLOCK}$`, 'i')
const TIME_BEFORE = new RegExp(String.raw`^${CLOCK}[\s,]+`, 'i')

function secondsOf([, hours, minutes, seconds = '0', half]: readonly (string | undefined)[]): number | null {
  const [h, m, s] = [Number(hours), Number(minutes), Number(seconds)]
  if (m > 59 || s > 59 || (half ? h < 1 || h > 12 : h > 23)) return null
  const hour = half ? (h % 12) + (half.toLowerCase() === 'p' ? 12 : 0) : h
  return hour * 3600 + m * 60 + s
}

/** The time of day that a text of its own says, in seconds after midnight; null where it says none. */
export function readTime(text: string): number | null {
  const clock = TIME_BEHIND.exec(text.trim())
  if (clock) return clock.index === 0 ? secondsOf(clock) : null
  const [, h, m, s] = /^(\d{2})(\d{2})(\d{2})$/.exec(text.trim()) ?? []
  return h === undefined ? null : secondsOf(['', h, m, s])
}

function dayOf(year: number, month: number, date: number): Day | null {
  const at = Date.UTC(year, month - 1, date)
  const read = new Date(at)
  const isDay = read.getUTCMonth() === month - 1 && read.getUTCDate() === date && year >= 1900 && year < 2200
  return isDay ? at / (DAY_SECONDS * 1000) : null
}

/** A date without its time. Where the month is named, day and year tell themselves apart. */
function readDate(text: string, order: DateOrder): Day | null {
  const [, y, m, d] = /^(\d{4})(\d{2})(\d{2})$/.exec(text) ?? []
  if (y) return order === 'ymd' ? dayOf(Number(y), Number(m), Number(d)) : null
  const words = text.match(/\p{L}+/gu) ?? []
  const figures = text.match(/\d+/g) ?? []
  const named = words.flatMap(word => monthNamed(word) ?? [])
  // A weekday may be written as a month is: the month stands behind it.
  const month = named.at(-1)
  if (month !== undefined && figures.length === 2) {
    const year = figures.find(figure => figure.length === 4)
    const date = figures.find(figure => figure.length < 3)
    return year && date ? dayOf(Number(year), month, Number(date)) : null
  }
  // Between figures stand marks, or the signs of East Asia for year, month and day.
  if (figures.length !== 3 || !/^\d+([-/. ]+|年\s*)\d+([-/. ]+|月\s*)\d+[.日]?$/u.test(text)) return null
  const at = { ymd: [0, 1, 2], dmy: [2, 1, 0], mdy: [2, 0, 1] }[order]
  const [year, ofYear, date] = at.map(place => figures[place]!) as [string, string, string]
  if (ofYear.length > 2 || date.length > 2) return null
  if (year.length === 4) return dayOf(Number(year), Number(ofYear), Number(date))
  return year.length === 2 && order !== 'ymd'
    ? dayOf(2000 + Number(year), Number(ofYear), Number(date))
    : null
}

/**
 * Reads the moments of a column: dates in figures by their order, dates with a named month, the days of
 * spreadsheets, each with or without a time and a zone. Null for what is none.
 */
export function momentReader(order: DateOrder): (text: string) => Moment | null {
  // A column repeats few dates often.
  const dateOf = perPath(text => readDate(text!, order))
  return given => {
    const text = given.replace(/\s+/gu, ' ').trim()
    if (/^\d{5}([.,]\d+)?$/.test(text)) return ofSerial(Number(text.replace(',', '.')))
    let rest = text
    let offset: number | null = null
    const zone = ZONE.exec(text)
    const before = zone && text.slice(0, zone.index)
    // A mark and figures behind a date are a part of it; behind a time they are a zone.
    if (zone && before && TIME_BEHIND.test(before)) {
      const [, sign, hours, minutes = '0'] = zone
      offset = sign ? (sign === '-' ? -1 : 1) * (Number(hours) * 60 + Number(minutes)) : 0
      rest = before
    }
    const behind = TIME_BEHIND.exec(rest)
    const first = behind ? null : TIME_BEFORE.exec(rest)
    const clock = behind ?? first
    const seconds = clock && secondsOf(clock)
    if (clock && seconds === null) return null
    if (behind) rest = rest.slice(0, behind.index)
    if (first) rest = rest.slice(first[0].length)
    const day = dateOf(withoutWeekday(rest))
    return day === null ? null : { day, seconds, offset }
  }
}

/** A date without marks at its ends and without the weekday before it, which says nothing more. */
function withoutWeekday(text: string): string {
  const bare = text.replace(/[\s,]+$/, '')
  const [, first, rest] = /^(\p{L}+)\.?,?\s+(.*)$/u.exec(bare) ?? []
  return first && rest && monthNamed(first) === undefined && /\d/.test(rest) ? rest : bare
}

function ofSerial(serial: number): Moment | null {
  if (serial < SERIAL.least || serial > SERIAL.most) return null
  const whole = Math.floor(serial)
  const seconds = Math.round((serial - whole) * DAY_SECONDS)
  return {
    day: whole - SERIAL.epoch,
    seconds: Number.isInteger(serial) ? null : Math.min(DAY_SECONDS - 1, seconds),
    offset: null,
  }
}
