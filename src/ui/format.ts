import { createContext, use } from 'react'
import { currencyExponent } from '@/core/shared/money'

export const UNKNOWN = '—'
const spans = [
  ['d', 86_400_000],
  ['h', 3_600_000],
  ['min', 60_000],
] as const

/** How one workspace writes: by whose habit, in which zone and currency, and with which day weeks begin. */
export interface Habits {
  /** BCP 47 */
  locale: string
  zone: string
  currency: string
  /** 1 for Monday to 7 for Sunday */
  firstWeekday: number
}

/** Figures as the interface writes them. Units stand in headings, so amounts carry no sign of currency. */
export type Formats = ReturnType<typeof makeFormats>

const made = new Map<string, Formats>()
/**
 * The formats of some habits: always the same object for the same ones, so that a page that is still coming alive
 * never takes them for others.
 *
 * @throws RangeError for a locale that is none
 */
export function formatsOf({ locale, zone, currency, firstWeekday }: Habits): Formats {
  const key = `${locale} ${zone} ${currency} ${firstWeekday}`
  const formats = made.get(key) ?? makeFormats({ locale, zone, currency, firstWeekday })
  made.set(key, formats)
  return formats
}

function makeFormats({ locale, zone, currency, firstWeekday }: Habits) {
  const decimals = (digits: number) =>
    new Intl.NumberFormat(locale, { minimumFractionDigits: digits, maximumFractionDigits: digits })
  const [whole, tenth, hundredth] = [new Intl.NumberFormat(locale), decimals(1), decimals(2)]
  const moment = new Intl.DateTimeFormat(locale, { dateStyle: 'medium', timeStyle: 'medium', timeZone: zone })
  const date = new Intl.DateTimeFormat(locale, { dateStyle: 'medium', timeZone: 'UTC' })
  const shortDate = new Intl.DateTimeFormat(locale, { day: 'numeric', month: 'short', timeZone: 'UTC' })
  const monthOfYear = new Intl.DateTimeFormat(locale, { month: 'long', year: 'numeric', timeZone: 'UTC' })
  const dateHere = new Intl.DateTimeFormat(locale, { dateStyle: 'medium', timeZone: zone })
  const clock = new Intl.DateTimeFormat(locale, { hour: '2-digit', minute: '2-digit', timeZone: zone })
  const amounts = new Map<string, Intl.NumberFormat>()
  const amountsIn = (code: string) => {
    const known = amounts.get(code) ?? decimals(currencyExponent(code) ?? 2)
    amounts.set(code, known)
    return known
  }
  const percent = (share: number | null) =>
    share === null ? UNKNOWN : `${whole.format(Math.round(share * 100))} %`
  return {
    locale,
    zone,
    currency,
    firstWeekday,
    count: (value: number) => whole.format(value),
    /** With one decimal, also of thousands, so that a column adds up to its total. */
    tenths: (value: number) => tenth.format(value),
    /** An amount of minor units in major ones, of the workspace's currency where none is said. */
    money: (minor: number | null, code = currency) =>
      minor === null ? UNKNOWN : amountsIn(code).format(minor / 10 ** (currencyExponent(code) ?? 2)),
    ratioText: (value: number | null) => (value === null ? UNKNOWN : hundredth.format(value)),
    percent,
    /** A share that may be small: `0.5 %`, `46 %`. */
    smallPercent: (share: number | null) =>
      share !== null && share > 0 && share < 0.1 ? `${tenth.format(share * 100)} %` : percent(share),
    /** `5 Oct 2026, 14:30:12` in the workspace's zone. */
    instant: (at: number) => moment.format(at),
    /** `5 Oct` of `2026-10-05`, where the year is plain. */
    shortDay: (day: string) => shortDate.format(Date.parse(day)),
    /** Its day alone. */
    dayAt: (at: number) => dateHere.format(at),
    /** `14:30` in the workspace's zone. */
    minute: (at: number) => clock.format(at),
    /** `5 Oct 2026` of `2026-10-05`. */
    day: (day: string) => date.format(Date.parse(day)),
    /** `October 2026` of `2026-10`. */
    month: (month: string) => monthOfYear.format(Date.parse(`${month}-01`)),
    /** A time between two instants in its largest unit: `3.0 d`, `12.0 min`, `8.4 s`. */
    between: (ms: number) => {
      for (const [unit, length] of spans) if (ms >= length) return `${tenth.format(ms / length)} ${unit}`
      return `${tenth.format(ms / 1000)} s`
    },
  }
}

export const FormatsContext = createContext<Formats>(
  formatsOf({ locale: 'en-GB', zone: 'UTC', currency: 'EUR', firstWeekday: 1 }),
)

/** The formats of the workspace that is looked at. */
export const useFormats = () => use(FormatsContext)
