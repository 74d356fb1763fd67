import type { Day } from '../shared/days'
import { type PlainRule, ruledBy } from './plainRules'
import { type Series, sumOfDays } from './series'

/** One ad that rules would have cut. */
export interface WouldHaveCut {
  group: number
  rule: number
  /** the last day that was known when they would have */
  day: Day
  /** what it had spent and brought by then, and what it spent, brought and left afterwards; minor units */
  before: { spend: number; results: number }
  after: { spend: number; results: number; leaves: number }
  /** whether it paid for itself afterwards */
  earned: boolean
}

/**
 * What plain rules would have done in the past: each evening they look at what an ad had done in the days before, and
 * cut it once. What it did afterwards is known by now. By the estimates as they stand today, not as they stood then.
 *
 * @param series of single ads
 * @param lines what a result of each may cost, in minor units
 * @param window how many days they look back
 * @param first the first evening, counted from the series' first day
 */
export function tryRules(
  series: Series,
  lines: readonly (number | null)[],
  rules: readonly PlainRule[],
  { window, first, minorUnits }: { window: number; first: number; minorUnits: number },
): WouldHaveCut[] {
  const found: WouldHaveCut[] = []
  for (let group = 0; group < series.groups; group++) {
    const sum = (field: 'spend' | 'impressions' | 'results' | 'leaves', from: number, to: number) =>
      sumOfDays(series, field, group, from, to)
    for (let evening = first; evening < series.days; evening++) {
      const from = evening - window + 1
      const facts = {
        spend: sum('spend', from, evening),
        impressions: sum('impressions', from, evening),
        results: sum('results', from, evening),
        line: lines[group] ?? null,
      }
      if (facts.spend <= 0) continue
      const ruled = ruledBy(facts, rules, minorUnits)
      if (ruled?.kind !== 'cut') continue
      const after = {
        spend: sum('spend', evening + 1, series.days - 1),
        results: sum('results', evening + 1, series.days - 1),
        leaves: sum('leaves', evening + 1, series.days - 1),
      }
      found.push({
        group,
        rule: ruled.rule,
        day: series.from + evening,
        before: { spend: facts.spend, results: facts.results },
        after,
        earned: after.results >= 0.5 && after.leaves >= after.spend,
      })
      break
    }
  }
  return found
}
