import { currencyExponent, type Minor, parseAmount } from './money'

/** What somebody typed as an amount, or what is wrong with it in words. */
export type TypedAmount = { amount: Minor } | { problem: string }

const GROUPED = /^\d{1,3}(?:[.,' ]\d{3})+$/

/**
 * Reads an amount as people type it, with marks between thousands or without, and with either decimal mark.
 * What may be read in two ways is refused.
 *
 * @example
 * readTyped('1.250,00', 'EUR') // { amount: 125000 }
 * readTyped('1.250', 'EUR') // { problem: '“1.250” may be 1250 or 1.25 EUR: …' }
 */
export function readTyped(text: string, currency: string): TypedAmount {
  const bare = text.trim().replace(/[\s’]/g, mark => (mark === '’' ? "'" : ' '))
  const digits = currencyExponent(currency)
  const refused = {
    problem: `“${text.trim()}” is no amount of ${currency}: write it as ${exampleOf(digits)}.`,
  }
  const parts = /^([\d.,' ]*?)(?:([.,])(\d*))?$/.exec(bare)
  if (digits === null || !/^\d/.test(bare) || !parts) return refused
  const [, before = '', mark, after = ''] = parts
  const plain = (whole: string, fraction = '') => {
    const amount = parseAmount(fraction ? `${whole}.${fraction}` : whole, currency)
    return amount === null ? refused : { amount }
  }
  const withoutMarks = bare.replace(/[.,' ]/g, '')
  if (mark === undefined) {
    if (/^\d+$/.test(before)) return plain(before)
    return GROUPED.test(before) && oneMark(before) ? plain(withoutMarks) : refused
  }
  const isWhole = /^\d+$/.test(before)
  const isGrouped = GROUPED.test(before) && oneMark(before)
  if (!isWhole && !isGrouped) return refused
  // The same mark before and after stands between thousands alone.
  if (isGrouped && before.includes(mark)) return GROUPED.test(bare) ? plain(withoutMarks) : refused
  if (isWhole && GROUPED.test(bare)) {
    if (digits === 0) return plain(withoutMarks)
    return {
      problem: `“${bare}” may be ${withoutMarks} or ${Number(`${before}.${after}`)} ${currency}: write one of these.`,
    }
  }
  return plain(before.replace(/[.,' ]/g, ''), after)
}

const oneMark = (text: string) => new Set(text.replace(/\d/g, '')).size === 1
const exampleOf = (digits: number | null) => (digits === 0 ? '1250' : `1250.${'0'.repeat(digits ?? 2)}`)
