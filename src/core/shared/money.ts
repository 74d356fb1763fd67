/** An amount in integer minor units of its currency (cents of EUR, yen of JPY). */
export type Minor = number & { readonly __unit: 'minor' }

export const minor = (units: number): Minor => units as Minor
export const NOTHING = minor(0)

const exponents = new Map<string, number>()

/** The codes that the platform knows, and those that are younger than most platforms. */
const codes: ReadonlySet<string> = new Set([...Intl.supportedValuesOf('currency'), 'SLE', 'XCG', 'ZWG'])

/**
 * Digits after the decimal mark that ISO 4217 gives a currency; null for a code that is not one.
 *
 * @example
 * currencyExponent('EUR') // 2
 * currencyExponent('JPY') // 0
 */
export function currencyExponent(currency: string): number | null {
  const known = exponents.get(currency)
  if (known !== undefined) return known
  if (!codes.has(currency)) return null
  const digits =
    new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2
  exponents.set(currency, digits)
  return digits
}

/**
 * Reads a decimal string as minor units; null when it is not a number, is finer than the currency, or is more than
 * can be counted exactly (2^53 minor units).
 *
 * @example
 * parseAmount('149.9', 'EUR') // 14990
 * parseAmount('1.005', 'EUR') // null
 */
export function parseAmount(text: string, currency: string): Minor | null {
  const digits = currencyExponent(currency)
  const parts = /^(-?)(\d{1,13})(?:\.(\d+))?$/.exec(text.trim())
  if (digits === null || !parts) return null
  const fraction = (parts[3] ?? '').replace(/0+$/, '')
  if (fraction.length > digits) return null
  const units = Number(parts[2] + fraction.padEnd(digits, '0'))
  if (!Number.isSafeInteger(units)) return null
  return minor(parts[1] && units !== 0 ? -units : units)
}

/** Whether a text is an amount of so many figures that it cannot be counted exactly. */
export const isBeyondCounting = (text: string, currency: string): boolean =>
  parseAmount(text, currency) === null && /^-?\d{13,}(\.\d+)?$/.test(text.trim())

/** The decimal string of an amount: `formatAmount(14990, 'EUR')` is `149.90`. */
export function formatAmount(amount: number, currency: string): string {
  const digits = currencyExponent(currency) ?? 2
  const text = String(Math.abs(Math.round(amount))).padStart(digits + 1, '0')
  const sign = amount < 0 ? '-' : ''
  return digits === 0
    ? sign + text
    : `${sign}${text.slice(0, text.length - digits)}.${text.slice(text.length - digits)}`
}

/** Minor units as a JSON number of major units, exact to the last digit. */
export const toMajor = (amount: number, currency: string): number => Number(formatAmount(amount, currency))

/**
 * Converts by a decimal rate, half away from zero, without floats. `rate` is units of `to` for one of
 * `from`, or with `inverse` units of `from` for one of `to`.
 *
 * @example
 * convert(minor(10000), 'JPY', 'EUR', '0.0061') // 6100
 */
export function convert(
  amount: Minor,
  from: string,
  to: string,
  rate: string,
  direction: 'direct' | 'inverse' = 'direct',
): Minor | null {
  const parts = /^(\d{1,12})(?:\.(\d{1,15}))?$/.exec(rate.trim())
  const fromDigits = currencyExponent(from)
  const toDigits = currencyExponent(to)
  if (!parts || fromDigits === null || toDigits === null) return null
  const scaled = BigInt((parts[1] ?? '') + (parts[2] ?? ''))
  const scale = 10n ** BigInt((parts[2] ?? '').length)
  if (scaled === 0n) return null
  const [times, over] = direction === 'direct' ? [scaled, scale] : [scale, scaled]
  const numerator = BigInt(Math.abs(amount)) * times * 10n ** BigInt(toDigits)
  const denominator = over * 10n ** BigInt(fromDigits)
  const rounded = Number((2n * numerator + denominator) / (2n * denominator))
  return minor(amount < 0 ? -rounded : rounded)
}

/**
 * Splits a whole number by weights so that the parts are whole and sum to it (largest remainder).
 *
 * @example
 * split(100, [1, 1, 1]) // [34, 33, 33]
 */
export function split(total: number, weights: readonly number[]): number[] {
  const sum = weights.reduce((a, b) => a + b, 0)
  if (weights.length === 0) return []
  const exact = weights.map(w => (sum > 0 ? (total * w) / sum : total / weights.length))
  const parts = exact.map(Math.floor)
  let left = total - parts.reduce((a, b) => a + b, 0)
  const byRemainder = exact
    .map((x, i) => [x - Math.floor(x), i] as const)
    .sort((a, b) => b[0] - a[0] || a[1] - b[1])
  for (const [, i] of byRemainder) {
    if (left <= 0) break
    parts[i] = (parts[i] ?? 0) + 1
    left -= 1
  }
  return parts
}
