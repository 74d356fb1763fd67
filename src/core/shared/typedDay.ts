import { parseDay } from './days'

/** Month names of a language, long and short, by the number of their month; Intl knows all that browsers do. */
function monthNames(locale: string): Map<string, number> {
  const names = new Map<string, number>()
  for (const month of ['long', 'short'] as const)
    for (const shape of [{ month }, { day: 'numeric' as const, month }]) {
      const format = new Intl.DateTimeFormat(locale, { ...shape, timeZone: 'UTC' })
      for (let i = 0; i < 12; i++) {
        const name = format.formatToParts(Date.UTC(2026, i, 1)).find(part => part.type === 'month')?.value
        if (name && /\p{L}/u.test(name)) names.set(plain(name), i + 1)
      }
    }
  return names
}
const plain = (word: string) => word.toLowerCase().replace(/\.$/, '')

/** Whether a language writes the month before the day in figures. */
const monthFirst = (locale: string): boolean => {
  const parts = new Intl.DateTimeFormat(locale, { timeZone: 'UTC' }).formatToParts(0).map(part => part.type)
  return parts.indexOf('month') < parts.indexOf('day') && parts.indexOf('year') > 0
}

/**
 * A day as people type it: `2026-11-15`, `15.11.2026`, `15/11/2026`, `15 Nov 2026`, `Nov 15, 2026`. Of figures
 * alone the day stands before the month, unless the language writes it otherwise or the figures say so.
 *
 * @param locale BCP 47, by whose habit what could be either is read
 * @returns `YYYY-MM-DD`; null for what is no day of the calendar
 * @example
 * readTypedDay('29.11.2026', 'en-US') // '2026-11-29'
 */
export function readTypedDay(text: string, locale: string): string | null {
  const words = text.trim().match(/\p{L}[\p{L}\p{M}]*\.?|\d+/gu) ?? []
  const figures = words.filter(word => /^\d/.test(word))
  const named = words.find(word => /^\p{L}/u.test(word) && monthOf(word, locale) !== null)
  const day = named
    ? byName(figures, monthOf(named, locale)!)
    : words.length === 3 && figures.length === 3
      ? byFigures(figures as [string, string, string], text.includes('.') ? false : monthFirst(locale))
      : null
  return day !== null && parseDay(day) !== null ? day : null
}

const known = new Map<string, Map<string, number>>()
function monthOf(word: string, locale: string): number | null {
  for (const language of [locale, 'en']) {
    const names = known.get(language) ?? monthNames(language)
    known.set(language, names)
    const month = names.get(plain(word))
    if (month !== undefined) return month
  }
  return null
}

function byName(figures: readonly string[], month: number): string | null {
  if (figures.length !== 2) return null
  const [first, second] = figures as [string, string]
  return first.length > 2 ? written(first, month, second) : written(second, month, first)
}

function byFigures([a, b, c]: [string, string, string], usMonthFirst: boolean): string | null {
  if (a.length === 4) return written(a, Number(b), c)
  const isMonthFirst = Number(b) > 12 || (usMonthFirst && Number(a) <= 12)
  return isMonthFirst ? written(c, Number(a), b) : written(c, Number(b), a)
}

/** Of a year in two figures this century's is meant. */
const written = (year: string, month: number, day: string): string | null =>
  (year.length === 4 || year.length === 2) && day.length <= 2
    ? `${year.padStart(4, '20')}-${String(month).padStart(2, '0')}-${day.padStart(2, '0')}`
    : null
