import type { Day } from '../../shared/days'
import { currencyExponent } from '../../shared/money'
import { type DateOrder, momentReader } from './moment'

export const decimalMarks = ['.', ','] as const
export type DecimalMark = (typeof decimalMarks)[number]

/** Reads the dates of a column; a time behind the date is left out. Null for what is no date. */
export function dateReader(order: DateOrder): (text: string) => Day | null {
  const readMoment = momentReader(order)
  return text => readMoment(text)?.day ?? null
}

const figures: Record<DecimalMark, RegExp> = {
  '.': /^(-?)(\d+|\d{1,3}(?:,\d{3})+)(?:\.(\d*))?$/,
  ',': /^(-?)(\d+|\d{1,3}(?:\.\d{3})+)(?:,(\d*))?$/,
}

/** Whether a cell hides a small figure: `<10`. */
export const isBelow = (text: string): boolean => /^<\s*\d+([.,]\d+)?$/.test(text.trim())

/**
 * A figure as a plain decimal string, rounded half up to some digits: signs of currency and marks between
 * thousands are left out. Null for what is no number; an empty cell and a dash are nothing, `0`, and so is what is only
 * said to be below a number.
 *
 * @example
 * readFigure('1.234,565 €', ',', 2) // '1234.57'
 */
export function readFigure(text: string, decimal: DecimalMark, digits: number): string | null {
  const bare = text
    .replace(/^([\p{Sc}A-Z]{1,3}|zł|Kč)|([\p{Sc}A-Z]{1,3}|zł|Kč)$/gu, '')
    .replace(/[\s'’]/gu, '')
  if (bare === '' || /^[-–—]+$/.test(bare) || isBelow(bare)) return '0'
  const parts = figures[decimal].exec(bare)
  if (!parts) return null
  const whole = parts[2]!.replaceAll(decimal === '.' ? ',' : '.', '')
  const fraction = (parts[3] ?? '').padEnd(digits + 1, '0')
  const units = BigInt(whole + fraction.slice(0, digits)) + (fraction[digits]! >= '5' ? 1n : 0n)
  const rounded = units.toString().padStart(digits + 1, '0')
  const at = rounded.length - digits
  const sign = parts[1] && units > 0n ? '-' : ''
  return sign + (digits === 0 ? rounded : `${rounded.slice(0, at)}.${rounded.slice(at)}`)
}

/** Signs that are usually of one currency alone; a dollar and a crown are of several. */
const signs: readonly [sign: string, code: string][] = [
  ['R$', 'BRL'],
  ['€', 'EUR'],
  ['£', 'GBP'],
  ['¥', 'JPY'],
  ['zł', 'PLN'],
  ['Kč', 'CZK'],
  ['₹', 'INR'],
  ['₺', 'TRY'],
  ['₴', 'UAH'],
  ['₩', 'KRW'],
  ['₪', 'ILS'],
  ['฿', 'THB'],
]

/** The currency that a heading or an amount names by its code or its sign; null when it names none. */
export function currencyIn(text: string): string | null {
  const code = /(?:^|[\s(])([A-Z]{3})(?:$|[\s)])/.exec(text)?.[1]
  if (code && currencyExponent(code) !== null) return code
  return signs.find(([sign]) => text.includes(sign))?.[1] ?? null
}
