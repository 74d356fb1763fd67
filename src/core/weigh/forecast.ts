import { orderRange } from '../estimate/range'
import { DAY_MS } from '../shared/days'
import type { Evidence } from './evidence'
import type { PlannedAd } from './whatIf'

/** What is expected of some ads from the day after a move on; money in minor units, results for a day. */
export interface Forecast {
  /** what they spend a day, before and after */
  spend: { before: number; after: number }
  /** results a day at what they spent before, and at what they spend after */
  results: { before: number; after: number }
  /** variance of results a day beyond chance, as things go on in the long run */
  doubt: number
  /** what their results leave a day after */
  leaves: { before: number; after: number }
  /** share of results that came about within so many days of their click, from the day itself on */
  within: number[]
}

/** Rates do not stand still: variance of the logarithm of one from one month to the next. */
const DRIFT = 0.01
/** The season, the site and what competitors do move all ads alike: the same of them together. */
const COMMON_DRIFT = 0.004
/** Days after a click of which the share of results is told. */
const WITHIN_DAYS = 14

/** How soon results come after their click, by those that are tied to one: the share within a day, two, and so on. */
export function soonAfterClick({ data, placements }: Pick<Evidence, 'data' | 'placements'>): number[] {
  const counts = Array.from({ length: WITHIN_DAYS + 1 }, () => 0)
  let whole = 0
  data.orders.forEach((order, o) => {
    const click = order.counts ? (placements[o]!.credits[0]?.click ?? -1) : -1
    if (click < 0) return
    const days = Math.floor((order.ordered_at - data.clicks.at[click]!) / DAY_MS)
    whole += 1
    if (days >= 0) counts[Math.min(WITHIN_DAYS, days)]! += 1
  })
  let sum = 0
  return counts.map(count => (whole > 0 ? (sum += count) / whole : 1))
}

/**
 * What some ads are expected to do with other budgets.
 *
 * @param days how many days of spend are known of each ad: what nobody has billed yet is no day without spend
 * @param within from `soonAfterClick`
 */
export function forecastOf(
  ads: readonly PlannedAd[],
  factors: readonly number[],
  { days, elasticity, within }: { days: (ad: PlannedAd) => number; elasticity: number; within: number[] },
): Forecast {
  const forecast: Forecast = {
    spend: { before: 0, after: 0 },
    results: { before: 0, after: 0 },
    doubt: 0,
    leaves: { before: 0, after: 0 },
    within,
  }
  ads.forEach((ad, i) => {
    const own = days(ad)
    const before = ad.expected / own
    const after = before * factors[i]! ** elasticity
    forecast.spend.before += ad.spend / own
    forecast.spend.after += (factors[i]! * ad.spend) / own
    forecast.results.before += before
    forecast.results.after += after
    forecast.leaves.before += before * (ad.left ?? 0)
    forecast.leaves.after += after * (ad.left ?? 0)
    forecast.doubt += after ** 2 * (Math.exp(ad.variance + DRIFT) - 1)
  })
  forecast.doubt += COMMON_DRIFT * forecast.results.after ** 2
  return forecast
}

/** What a forecast says of the first days after its move. */
export interface ForecastOfDays {
  spend: number
  results: number
  low: number
  high: number
  leaves: number
}

/**
 * A forecast over its first days: what was clicked on before the move goes on to bring results for a while, as soon as
 * such results usually come.
 *
 * @returns spend in minor units, results with an 80 % interval of what is counted then
 */
export function forecastOver(
  { spend, results, leaves, doubt, within }: Forecast,
  days: number,
): ForecastOfDays {
  const soon = (day: number) => (day < 0 ? 0 : within[Math.min(day, within.length - 1)]!)
  // Of what comes on a day after the move, so much is of clicks after the move, which are spread over its days.
  let after = 0
  for (let day = 0; day < days; day++) after += (soon(day) + soon(day - 1)) / 2
  const before = days - after
  const mean = before * results.before + after * results.after
  const { low, high } = orderRange(0, mean, mean + doubt * after ** 2)
  return {
    spend: Math.round(spend.after * days),
    results: mean,
    low,
    high,
    leaves: before * leaves.before + after * leaves.after,
  }
}
