import { type Day, formatDay, parseDay, weekdayOf } from './days'

/** A period by its first and last day, `YYYY-MM-DD`. */
export interface NamedPeriod {
  name: string
  from: string
  to: string
}

/** As many days as a period has, before it. */
export const daysBefore = ({ from, to }: { from: Day; to: Day }) => ({
  from: 2 * from - to - 1,
  to: from - 1,
})

/**
 * The periods that people ask for. Those of so many days end with the last day of which anything is known: a day
 * that is not reported yet would make every result look cheap.
 *
 * @param today in the workspace's zone
 * @param span the days of which anything is known; null for none
 * @param firstWeekday 1 for Monday to 7 for Sunday
 */
export function usualPeriods(
  today: Day,
  span: { from: string; to: string } | null,
  firstWeekday = 1,
): NamedPeriod[] {
  const named = (name: string, from: Day, to: Day): NamedPeriod => ({
    name,
    from: formatDay(from),
    to: formatDay(to),
  })
  const week = today - ((weekdayOf(today) - firstWeekday + 7) % 7)
  const month = parseDay(`${formatDay(today).slice(0, 7)}-01`)!
  const monthBefore = parseDay(`${formatDay(month - 1).slice(0, 7)}-01`)!
  const last = (span && parseDay(span.to)) ?? today
  return [
    named('today', today, today),
    named('yesterday', today - 1, today - 1),
    named('this week', week, today),
    named('last week', week - 7, week - 1),
    named('this month', month, today),
    named('last month', monthBefore, month - 1),
    ...[7, 28, 90].map(days => named(`the last ${days} days`, last - days + 1, last)),
    ...(span ? [{ name: 'all days', from: span.from, to: span.to }] : []),
  ]
}
