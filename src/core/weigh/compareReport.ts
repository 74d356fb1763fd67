import { formatDay } from '../shared/days'
import { toMajor } from '../shared/money'
import type { ComparedSide, Comparison } from './compare'

const rounded = (value: number | null, digits: number) =>
  value === null ? null : Number(value.toFixed(digits))
/** Fine enough that parts still sum to the whole. */
const EXACT = 12

/** A comparison as `aequant compare --json` and `GET /api/compare` give it, but for its sentence: amounts in major units. */
export function reportComparison(comparison: Comparison, currency: string) {
  const money = (minor: number | null) =>
    minor === null ? null : Number((toMajor(Math.round(minor * 100), currency) / 100).toFixed(4))
  const side = ({ period, ...own }: ComparedSide) => ({
    from: formatDay(period.from),
    to: formatDay(period.to),
    spend: toMajor(own.spend, currency),
    impressions: own.impressions,
    clicks: own.clicks,
    estimated: own.estimated,
    claimed: own.claimed,
    cost_per_claim: money(own.costPerClaim),
    cost_per_result: money(own.costPerResult),
    capture: rounded(own.capture, 4),
  })
  return {
    first: side(comparison.first),
    second: side(comparison.second),
    log_change: rounded(comparison.logChange, EXACT),
    parts: comparison.parts.map(({ part, log, low, high, share }) => ({
      part,
      log: rounded(log, EXACT),
      low: rounded(low, EXACT),
      high: rounded(high, EXACT),
      share: rounded(share, 4),
    })),
    change_days: comparison.changeDays.map(({ of, day, from, to, probability }) => ({
      of,
      day: formatDay(day),
      from: formatDay(from),
      to: formatDay(to),
      probability,
    })),
  }
}
