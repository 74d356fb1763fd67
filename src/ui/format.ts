import { currencyExponent } from '@/core/shared/money'

/** Figures as the interface writes them. Units stand in headers, so amounts carry no sign of currency. */
const LOCALE = 'en-GB'
export const UNKNOWN = '—'
const whole = new Intl.NumberFormat(LOCALE)
const tenth = new Intl.NumberFormat(LOCALE, { minimumFractionDigits: 1, maximumFractionDigits: 1 })

export const count = (value: number): string => whole.format(value)
/** With one decimal, also of thousands, so that a column adds up to its total. */
export const tenths = (value: number): string => tenth.format(value)

/** An amount of minor units in major ones; a figure not known is a dash. */
export function money(minor: number | null, currency: string): string {
  if (minor === null) return UNKNOWN
  const digits = currencyExponent(currency) ?? 2
  return new Intl.NumberFormat(LOCALE, {
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  }).format(minor / 10 ** digits)
}

export const ratioText = (value: number | null): string => (value === null ? UNKNOWN : value.toFixed(2))
export const percent = (share: number | null): string =>
  share === null ? UNKNOWN : `${Math.round(share * 100)} %`

/** `5 Oct 2026, 14:30:12` in a zone. */
export const instant = (at: number, zone: string): string =>
  new Intl.DateTimeFormat(LOCALE, { dateStyle: 'medium', timeStyle: 'medium', timeZone: zone }).format(at)

/** A share that may be small: `0.5 %`, `46 %`. */
export const smallPercent = (share: number | null): string =>
  share === null ? UNKNOWN : share > 0 && share < 0.1 ? `${tenth.format(share * 100)} %` : percent(share)

const spans = [
  ['d', 86_400_000],
  ['h', 3_600_000],
  ['min', 60_000],
] as const
/** A time between two instants in its largest unit: `3 d`, `12 min`, `8.4 s`. */
export function between(ms: number): string {
  for (const [unit, length] of spans) if (ms >= length) return `${tenth.format(ms / length)} ${unit}`
  return `${tenth.format(ms / 1000)} s`
}
