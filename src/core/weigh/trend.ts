import { orderRange } from '../estimate/range'
import { type AdTree, levels, nameOf, pathAt } from '../intake/tree'
import { type Day, formatDay, type Period } from '../shared/days'
import { pathKey } from '../shared/path'
import { capturesIn } from './captures'
import type { Evidence } from './evidence'
import { costOf } from './figures'
import { type Series, type SeriesField, seriesBy } from './series'

/** One stretch of days in the history of a row; money in minor units. */
export interface TrendStretch {
  /** its first day, `YYYY-MM-DD`, and how many days it has */
  from: string
  days: number
  spend: number
  impressions: number
  clicks: number
  claimed: number
  /** the share of its network's orders that the network claims; null for several networks, and where it claims nothing */
  capture: number | null
  /** estimated results with an 80 % interval, and what all results of its ads leave */
  results: number
  low: number
  high: number
  leaves: number
  cost: number | null
  /** spend for a thousand impressions; impressions for each person reached in a day */
  priceOfAttention: number | null
  frequency: number | null
}

/** The history of one row. */
export interface Trend {
  path: string[]
  name: string
  stretches: TrendStretch[]
}

/** One group of a series in stretches of some days, the last of which ends with the series. */
function stretchesOf(
  series: Series,
  group: number,
  length: number,
  captureOn: (from: Day, to: Day) => number | null,
): TrendStretch[] {
  const found: TrendStretch[] = []
  for (let end = series.days; end > 0; end -= length) {
    const begin = Math.max(0, end - length)
    const sum = (field: SeriesField) => {
      let all = 0
      for (let day = begin; day < end; day++) all += series[field][group * series.days + day]!
      return all
    }
    const [spend, impressions, clicks, results, reach] = [
      sum('spend'),
      sum('impressions'),
      sum('clicks'),
      sum('results'),
      sum('reach'),
    ]
    const { low, high } = orderRange(0, results, results + sum('variance'))
    found.push({
      from: formatDay(series.from + begin),
      days: end - begin,
      spend,
      impressions,
      clicks,
      claimed: sum('claimed'),
      capture: captureOn(series.from + begin, series.from + end - 1),
      results,
      low,
      high,
      leaves: sum('leaves'),
      cost: costOf({ spend, impressions, clicks }, results),
      priceOfAttention: impressions > 0 ? (1000 * spend) / impressions : null,
      frequency: reach > 0 ? sum('reachedImpressions') / reach : null,
    })
  }
  return found.reverse()
}

/**
 * How a row went over a period, and each row directly below it: in equal stretches, whose ranges are of what they hold
 * alone (chance of counts and doubt of the estimate).
 *
 * @param path from the network down; empty for all
 * @param length days of a stretch
 */
export function trendOf(
  e: Evidence,
  path: readonly string[],
  period: Period,
  length: number,
): { whole: Trend; below: Trend[] } {
  const { tree } = e.data
  const below = new Map<string, { path: string[]; number: number }>()
  const own = groupsWithin(tree, path, below)
  // Profit is of all results that were bought by the same spend.
  const every = e.all && { e: e.all, ...groupsWithin(e.all.data.tree, path, below) }
  const series = (of: 'whole' | 'below', count: number): Series => {
    const one = seriesBy(e, period, own[of], count)
    return every ? { ...one, leaves: seriesBy(every.e, period, every[of], count).leaves } : one
  }
  const network = tree.networks.indexOf(path[0] ?? '')
  const captureOn = (from: Day, to: Day) => capturesIn(e, { from, to })[network]?.networkCapture ?? null
  const whole = stretchesOf(series('whole', 1), 0, length, captureOn)
  const parts = series('below', below.size)
  const nameAt = (at: readonly string[]): string => {
    if (at.length < 2) return at[0] ?? ''
    const level = levels[at.length - 2]!
    return at.at(-1) ? nameOf(tree, at[0]!, level, at.at(-1)!) : ''
  }
  return {
    whole: { path: [...path], name: nameAt(path), stretches: whole },
    below: [...below.values()]
      .map(one => ({
        path: one.path,
        name: nameAt(one.path),
        stretches: stretchesOf(parts, one.number, length, () => null),
      }))
      .filter(({ stretches }) => stretches.some(one => one.spend > 0 || one.results > 0.05))
      .sort((a, b) => spendOf(b) - spendOf(a)),
  }
}

/** The leaves of a row, and those of each row directly below it, which `below` numbers. */
function groupsWithin(
  tree: AdTree,
  path: readonly string[],
  below: Map<string, { path: string[]; number: number }>,
): { whole: Int32Array; below: Int32Array } {
  const groups = { whole: new Int32Array(tree.leaves.length), below: new Int32Array(tree.leaves.length) }
  groups.whole.fill(-1)
  groups.below.fill(-1)
  tree.leaves.forEach((leaf, i) => {
    const full = pathAt(leaf, 'ad')
    if (!path.every((part, at) => full[at] === part)) return
    groups.whole[i] = 0
    if (path.length >= full.length) return
    const next = full.slice(0, path.length + 1)
    const key = pathKey(...next)
    const known = below.get(key) ?? { path: next, number: below.size }
    below.set(key, known)
    groups.below[i] = known.number
  })
  return groups
}
const spendOf = ({ stretches }: Trend) => stretches.reduce((sum, one) => sum + one.spend, 0)

/** So far back a history goes at least. */
const LEAST_DAYS = 56
/** The days that the history of a period shows: the period, and days before it where it is short. */
export const trendDays = ({ from, to }: Period, first: Day): Period => ({
  from: Math.max(Math.min(first, from), Math.min(from, to - LEAST_DAYS + 1)),
  to,
})
