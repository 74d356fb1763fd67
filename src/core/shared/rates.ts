import type { Day } from './days'
import { convert, type Minor } from './money'

export interface Rate {
  day: Day
  base: string
  quote: string
  /** decimal string: units of quote for one of base */
  rate: string
}

const REACH_DAYS = 7

/**
 * A converter by the rate of the record's own day, else the latest earlier one within 7 days.
 * Gives null when there is none; the record is then set aside with `no_rate`.
 */
export function converter(rates: readonly Rate[]) {
  const byPair = new Map<string, Map<Day, string>>()
  for (const r of rates) {
    const key = `${r.base}>${r.quote}`
    const days = byPair.get(key) ?? new Map<Day, string>()
    days.set(r.day, r.rate)
    byPair.set(key, days)
  }
  return (amount: Minor, from: string, to: string, day: Day): Minor | null => {
    if (from === to) return amount
    const direct = byPair.get(`${from}>${to}`)
    const inverse = byPair.get(`${to}>${from}`)
    for (let back = 0; back <= REACH_DAYS; back++) {
      const rate = direct?.get(day - back)
      if (rate !== undefined) return convert(amount, from, to, rate)
      const other = inverse?.get(day - back)
      if (other !== undefined) return convert(amount, from, to, other, 'inverse')
    }
    return null
  }
}

/**
 * Converts the rows of a day so that they sum to their converted sum: each comes to what it adds to the sum of those
 * before it.
 *
 * @returns `of` is whose sums they are; null where there is no rate
 */
export function dayConverter(convertOne: ReturnType<typeof converter>) {
  const sums = new Map<string, { given: number; made: number }>()
  return (of: string, amount: Minor, from: string, to: string, day: Day): Minor | null => {
    if (from === to) return amount
    const key = `${of} ${from} ${day}`
    const sum = sums.get(key) ?? { given: 0, made: 0 }
    const made = convertOne((sum.given + amount) as Minor, from, to, day)
    if (made === null) return null
    const own = made - sum.made
    sums.set(key, { given: sum.given + amount, made })
    return own as Minor
  }
}
