import { CONVERSION, partsOf } from '../intake/claimUnits'
import { type Day, inPeriod, type Period } from '../shared/days'
import type { Evidence } from './evidence'
import { leavesIn } from './leavesIn'

/** Sums of groups of leaves by day; group `g` on day `from + d` stands at `g * days + d`. Money in minor units. */
export interface Series {
  from: Day
  days: number
  groups: number
  spend: Float64Array
  impressions: Float64Array
  clicks: Float64Array
  /** people reached, and the impressions that they saw */
  reach: Float64Array
  reachedImpressions: Float64Array
  claimed: Float64Array
  /** estimated results, what they are worth and what they leave; not whole */
  results: Float64Array
  value: Float64Array
  leaves: Float64Array
  /** variance of the estimate of results, chance aside */
  variance: Float64Array
}
export type SeriesField = Exclude<keyof Series, 'from' | 'days' | 'groups'>

/**
 * What some groups of leaves spent and brought on each day of a period.
 *
 * @param groupOf by leaf; -1 for one that is in none
 */
export function seriesBy(
  { data, estimate }: Evidence,
  period: Period,
  groupOf: Int32Array,
  groups: number,
): Series {
  const days = period.to - period.from + 1
  const empty = () => new Float64Array(groups * days)
  const series: Series = {
    from: period.from,
    days,
    groups,
    spend: empty(),
    impressions: empty(),
    clicks: empty(),
    reach: empty(),
    reachedImpressions: empty(),
    claimed: empty(),
    results: empty(),
    value: empty(),
    leaves: empty(),
    variance: empty(),
  }
  const placeOf = (leaf: number, day: Day) => {
    const group = groupOf[leaf] ?? -1
    return group < 0 || !inPeriod(day, period) ? -1 : group * days + day - period.from
  }
  for (const row of data.delivery) {
    const at = placeOf(row.leaf, row.day)
    if (at < 0) continue
    series.spend[at]! += row.spend
    series.impressions[at]! += row.impressions
    series.clicks[at]! += row.clicks
    if (row.reach === null) continue
    series.reach[at]! += row.reach
    series.reachedImpressions[at]! += row.impressions
  }
  for (const claim of data.claims)
    for (const { leaf, thousandths } of partsOf(claim)) {
      const at = placeOf(leaf, claim.day)
      if (at >= 0) series.claimed[at]! += thousandths / CONVERSION
    }
  const left = leavesIn(data)
  for (const share of estimate.shares) {
    const order = data.orders[share.order]!
    const at = placeOf(share.leaf, order.day)
    if (at < 0) continue
    const part = share.seen + share.unseen
    series.results[at]! += part
    series.value[at]! += part * order.value
    series.leaves[at]! += part * left(order, share.leaf)
    series.variance[at]! += share.variance + share.unseen
  }
  return series
}

/** The sum of one field of a group over some of its days, `from` and `to` counted from the series' first. */
export function sumOfDays(
  series: Series,
  field: SeriesField,
  group: number,
  from: number,
  to: number,
): number {
  let sum = 0
  for (let day = Math.max(0, from); day <= Math.min(series.days - 1, to); day++)
    sum += series[field][group * series.days + day]!
  return sum
}
