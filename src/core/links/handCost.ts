import * as z from 'zod'
import { type Day, formatDay, parseDay } from '../shared/days'
import { currencyExponent, type Minor, minor } from '../shared/money'

const dayText = z.string().refine(text => parseDay(text) !== null, 'write a day as YYYY-MM-DD')

const MOST_DAYS = 3 * 366

/** What a placement cost that reports nothing itself: one price for a span of days. */
export const handCostSchema = z
  .object({
    /** minor units of the currency */
    amount: z.int().positive(),
    currency: z.string().refine(c => currencyExponent(c) !== null, 'no such currency'),
    from: dayText,
    to: dayText,
  })
  .refine(cost => (parseDay(cost.to) ?? 0) - (parseDay(cost.from) ?? 0) < MOST_DAYS, {
    path: ['to'],
    message: 'a price is for three years at most',
  })
  .refine(cost => cost.from <= cost.to, { path: ['to'], message: 'the last day is before the first' })
export type HandCost = z.infer<typeof handCostSchema>

/** A price shared out evenly over its days, to the unit; what does not divide goes to the first days. */
export function spreadCost({ amount, from, to }: HandCost): { day: string; amount: Minor }[] {
  const first = parseDay(from) as Day
  const days = (parseDay(to) as Day) - first + 1
  const whole = Math.floor(amount / days)
  return Array.from({ length: days }, (_, i) => ({
    day: formatDay((first + i) as Day),
    amount: minor(whole + (i < amount - whole * days ? 1 : 0)),
  }))
}
