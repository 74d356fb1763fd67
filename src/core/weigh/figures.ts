/** A ratio of sums; null when there is nothing to divide by. Sums first, then ratios: never the mean of ratios. */
export const ratio = (over: number, under: number): number | null => (under > 0 ? over / under : null)

/** Whether estimated results are none: less than half of one. */
export const isNone = (results: number): boolean => results < 0.5

/**
 * Spend for each of some results, in minor units. Null where there is no result, and also where no network
 * has told of any delivery: what nobody billed is not free.
 */
export function costOf(
  { spend, impressions, clicks }: Pick<Sums, 'spend' | 'impressions' | 'clicks'>,
  results: number,
): number | null {
  return spend > 0 || impressions > 0 || clicks > 0 ? ratio(spend, results) : null
}

/** Sums of one row or of many; money in minor units, credits in millionths, estimated orders in tenths. */
export interface Sums {
  spend: number
  /** of that, what was shared out by clicks since no report says it */
  assumedSpend: number
  impressions: number
  clicks: number
  /** people reached, each once a day, and the impressions that they saw: of what says whom it reached */
  reach: number
  reachedImpressions: number
  claimed: number
  /** of those, after a view alone */
  claimedByView: number
  provenCredit: number
  taggedCredit: number
  estimatedTenths: number
  claimedValue: number
  trackedValue: number
  estimatedValue: number
}

export const noSums = (): Sums => ({
  spend: 0,
  assumedSpend: 0,
  impressions: 0,
  clicks: 0,
  reach: 0,
  reachedImpressions: 0,
  claimed: 0,
  claimedByView: 0,
  provenCredit: 0,
  taggedCredit: 0,
  estimatedTenths: 0,
  claimedValue: 0,
  trackedValue: 0,
  estimatedValue: 0,
})

export function addSums(to: Sums, from: Sums): Sums {
  for (const key of Object.keys(to) as (keyof Sums)[]) to[key] += from[key]
  return to
}
