import { DateTime } from 'luxon'
import { DAY_MS, type Day, type Period } from '../../shared/days'
import { dateReader } from './cells'
import { type DateOrder, monthNamed } from './moment'

/** For how many days a date stands that names no end. */
export const covers = ['day', 'week', 'month'] as const
export type Covers = (typeof covers)[number]

/** What stands between the two ends of a stretch: words and dashes; a mark that dates hold as well, where it is the only one. */
const BETWEEN = /\s+(?:to|until|through|bis|au|al|do|a|até|tot|–|—|-|~|→)\s+|\s*(?:–|—|~|→|\.{2,3})\s*/giu
const ONLY = [/-/g, /\//g]
/** Further than these days no line sums. */
const LONGEST = 366

/**
 * Reads what days a line of a report sums: one date, both ends in one cell, a week by its number, or a month by its
 * name. Null for what is none.
 */
export function spanReader(order: DateOrder, standsFor: Covers = 'day'): (text: string) => Period | null {
  const readDay = dateReader(order)
  return given => {
    const text = given.replace(/\s+/gu, ' ').trim()
    const day = readDay(text)
    if (day !== null) return spanFrom(day, standsFor)
    const whole = weekOf(text) ?? wholeMonth(text)
    if (whole) return whole
    const marks = [...text.matchAll(BETWEEN)]
    const only = ONLY.flatMap(mark => (text.match(mark)?.length === 1 ? [...text.matchAll(mark)] : []))
    for (const mark of [...marks, ...only]) {
      const [first, last] = [text.slice(0, mark.index), text.slice(mark.index + mark[0].length)]
      const span = bothEnds(first.trim(), last.trim(), readDay)
      if (span) return span
    }
    return null
  }
}

/** The stretch that a date stands for. */
export const spanFrom = (day: Day, standsFor: Covers): Period => ({
  from: day,
  to: standsFor === 'day' ? day : standsFor === 'week' ? day + 6 : lastOfMonth(day),
})
const dayOf = (date: DateTime): Day => Math.floor(date.toMillis() / DAY_MS)
const lastOfMonth = (day: Day): Day =>
  dayOf(DateTime.fromMillis(day * DAY_MS, { zone: 'utc' }).endOf('month'))

/** Both ends, of which one may leave out the month or the year that the other says. */
function bothEnds(first: string, last: string, readDay: (text: string) => Day | null): Period | null {
  const year = /(?<!\d)\d{4}(?!\d)/.exec(last)?.[0] ?? ''
  const month = /\p{L}+\.?/u.exec(first)?.[0] ?? ''
  const to = readDay(last) ?? readDay(`${month} ${last}`)
  if (to === null) return null
  const starts = [
    first,
    `${first}${first.endsWith('.') || first.endsWith('/') ? '' : ' '}${year}`,
    `${first}, ${year}`,
    `${first}${last.replace(/^\d+/, '')}`,
  ]
  for (const start of starts) {
    const from = readDay(start)
    if (from !== null && from <= to && to - from < LONGEST) return { from, to }
  }
  return null
}

/** A week by its number in its year, which begins on a Monday (ISO 8601): `2026-W45`, `W45 2026`, `KW 45/2026`. */
function weekOf(text: string): Period | null {
  const behind = /^(\d{4})[-\s]?\p{L}{1,8}[-\s]?(\d{1,2})$/u.exec(text)
  const before = /^\p{L}{1,8}\.?\s?(\d{1,2})[\s,/-]+(\d{4})$/u.exec(text)
  const [year, week] = behind ? [behind[1], behind[2]] : before ? [before[2], before[1]] : []
  // "Nov 11 2026" is a day, which was read before, or none.
  const isMonth = text.match(/\p{L}+/gu)?.some(word => monthNamed(word) !== undefined)
  if (!year || isMonth) return null
  const monday = DateTime.fromObject(
    { weekYear: Number(year), weekNumber: Number(week), weekday: 1 },
    { zone: 'utc' },
  )
  return monday.isValid ? spanFrom(dayOf(monday), 'week') : null
}

/** A month by its name or number and its year: `Nov 2026`, `2026-11`, `11/2026`, `2026年11月`. */
function wholeMonth(text: string): Period | null {
  const figures = text.match(/\d+/g) ?? []
  const year = figures.find(figure => figure.length === 4)
  const named = text.match(/\p{L}+/gu)?.flatMap(word => monthNamed(word) ?? []) ?? []
  const other = figures.find(figure => figure.length < 3)
  const month: number | undefined =
    named.length > 0 && figures.length === 1
      ? named.at(-1)
      : figures.length === 2 && /^\d+\s?[-/.年]\s?\d+月?$/u.test(text)
        ? Number(other)
        : undefined
  if (!year || !month || month > 12) return null
  return spanFrom(dayOf(DateTime.utc(Number(year), month, 1)), 'month')
}
