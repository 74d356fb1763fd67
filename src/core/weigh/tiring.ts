import { normalCdf } from '../estimate/range'
import type { Series } from './series'

/** In what an ad can tire: clicks for impressions, results for clicks, results for what is spent. */
export const tiringIn = ['click_rate', 'result_rate', 'cost'] as const
export type TiringIn = (typeof tiringIn)[number]
/** One way in which a group tires. */
export interface Tiring {
  in: TiringIn
  /** what is left of it at the end, as a share of what it was at the beginning, by the trend */
  left: number
  /** that chance alone would give so strong a fall */
  chance: number
}

const tests: Record<TiringIn, { counts: 'clicks' | 'results'; of: 'impressions' | 'clicks' | 'spend' }> = {
  click_rate: { counts: 'clicks', of: 'impressions' },
  result_rate: { counts: 'results', of: 'clicks' },
  cost: { counts: 'results', of: 'spend' },
}
/** Of all that are called tiring, so many at most are so by chance (Benjamini & Hochberg 1995). */
const FALSE_SHARE = 0.05
/** Fewer than these say nothing of a trend, and a smaller fall is nobody's worry. */
const LEAST_COUNT = 15
const LEAST_DAYS = 10
const LEAST_FALL = 0.85

/**
 * Which groups of a series tire: their clicks for impressions, results for clicks, or results for spend fall over its
 * days more than chance would have it, corrected for how many are looked at. A trend of counts over their exposure
 * (Cochran 1954; Armitage 1955), with counts that sway more than Poisson's told by what is left beside the trend.
 *
 * @returns by group
 */
export function findTiring(series: Series): Tiring[][] {
  const found: { group: number; tiring: Tiring }[] = []
  for (let group = 0; group < series.groups; group++)
    for (const one of tiringIn) {
      const tiring = trendOf(series, group, one)
      if (tiring) found.push({ group, tiring })
    }
  found.sort((a, b) => a.tiring.chance - b.tiring.chance)
  const last = found.findLastIndex(({ tiring }, i) => tiring.chance <= (FALSE_SHARE * (i + 1)) / found.length)
  const byGroup = Array.from({ length: series.groups }, (): Tiring[] => [])
  for (const { group, tiring } of found.slice(0, last + 1))
    if (tiring.left <= LEAST_FALL) byGroup[group]!.push(tiring)
  return byGroup
}

/** The trend of one group; null where there is too little to see one in. */
function trendOf(series: Series, group: number, which: TiringIn): Tiring | null {
  const { counts, of } = tests[which]
  const at = (field: 'clicks' | 'results' | 'impressions' | 'spend', day: number) =>
    series[field][group * series.days + day]!
  const days: { t: number; count: number; exposure: number }[] = []
  for (let t = 0; t < series.days; t++)
    if (at(of, t) > 0) days.push({ t, count: at(counts, t), exposure: at(of, t) })
  const count = days.reduce((sum, day) => sum + day.count, 0)
  const exposure = days.reduce((sum, day) => sum + day.exposure, 0)
  if (days.length < LEAST_DAYS || count < LEAST_COUNT) return null
  const rate = count / exposure
  const middle = days.reduce((sum, day) => sum + day.exposure * day.t, 0) / exposure
  const spread = days.reduce((sum, day) => sum + day.exposure * (day.t - middle) ** 2, 0)
  const lean = days.reduce((sum, day) => sum + (day.t - middle) * (day.count - rate * day.exposure), 0)
  const slope = lean / (rate * spread)
  const beside = days.reduce((sum, day) => {
    const expected = rate * day.exposure * Math.exp(slope * (day.t - middle))
    return sum + (day.count - expected) ** 2 / Math.max(1e-9, expected)
  }, 0)
  const sway = Math.max(1, beside / (days.length - 2))
  return {
    in: which,
    left: Math.exp(slope * (days.at(-1)!.t - days[0]!.t)),
    chance: normalCdf(lean / Math.sqrt(sway * rate * spread)),
  }
}
