import { normalCdf } from '../estimate/range'
import type { ResultRate } from './resultRates'
import type { Worth } from './worth'

export type VerdictKind = 'cut' | 'hold' | 'raise' | 'wait'
export interface Verdict {
  kind: VerdictKind
  because: VerdictReason
  /** that the next spend at today's rate pays for itself; null where there is nothing to judge by */
  probability: number | null
  /** further spend, in minor units, that would settle it as things stand; null where it is settled or never is */
  needed: number | null
}
export type VerdictReason =
  | 'under_the_line'
  | 'over_the_line'
  | 'near_the_line'
  | 'too_little_spend'
  | 'no_spend'
  | 'no_line'
  /** nobody has said what share of an order is left: every break-even would be a guess */
  | 'no_margin'
  /** by a plain rule that somebody has set */
  | 'cut_by_rule'
  | 'held_by_rule'

/** Spend that would bring this many results at the line is enough to tell a good ad from a bad one. */
const TELLING_RESULTS = 5
/** How likely it has to be that the next spend pays for itself. */
export interface Thresholds {
  /** less is cut */
  cut: number
  /** more is raised */
  raise: number
}
export const usualThresholds: Thresholds = { cut: 0.1, raise: 0.9 }
/** Further spend beyond so many times the present is no plan. */
const FARTHEST = 1000

/** What a row is judged by; money in minor units. */
export interface Standing {
  spend: number
  rate: ResultRate | null
  /** null for what nothing is known of; the target's where one is set, which is certain */
  line: number | null
  worth: Pick<Worth, 'variance' | 'ofOne'>
  /** whether it has any result of its own; what its like bring is no reason to raise it */
  hasResult: boolean
  /** whether somebody has said what is left of a result */
  marginSaid: boolean
}

const nothing = (because: VerdictReason): Verdict => ({
  kind: 'wait',
  because,
  probability: null,
  needed: null,
})

/**
 * The verdict of a row: its results for its spend, and what a result is worth, each by a log-normal law, say how
 * likely the next spend, at today's rate, brings in what it costs (docs/computation.md, Verdict).
 */
export function verdictOf(
  { spend, rate, line, worth, hasResult, marginSaid }: Standing,
  { cut, raise }: Thresholds = usualThresholds,
): Verdict {
  if (line === null || line <= 0) return nothing('no_line')
  if (spend <= 0 || !rate) return nothing('no_spend')
  if (!marginSaid) return nothing('no_margin')
  const chance = chanceOf(spend, rate, line, worth)
  const probability = chance(0)
  const kind =
    probability < cut
      ? 'cut'
      : probability > raise && hasResult
        ? 'raise'
        : spend / line >= TELLING_RESULTS
          ? 'hold'
          : 'wait'
  const because = {
    cut: 'over_the_line',
    raise: 'under_the_line',
    hold: 'near_the_line',
    wait: 'too_little_spend',
  } as const
  const open = kind === 'hold' || kind === 'wait'
  return {
    kind,
    because: because[kind],
    probability,
    needed: open && (hasResult || probability <= raise) ? neededOf(spend, chance, { cut, raise }) : null,
  }
}

/** P(worth × rate ≥ 1) after further spend that brings results at the present rate. */
function chanceOf(
  spend: number,
  rate: ResultRate,
  line: number,
  worth: Standing['worth'],
): (more: number) => number {
  return more => {
    const results = (rate.results * (spend + more)) / spend
    const ofWorth = worth.variance > 0 ? 1 / (1 / worth.variance + (results - rate.results) / worth.ofOne) : 0
    return normalCdf((rate.log + Math.log(line)) / Math.sqrt(1 / (results + rate.prior) + ofWorth))
  }
}

/** The least further spend after which the verdict would be expected to be settled, by halving. */
function neededOf(
  spend: number,
  chance: (more: number) => number,
  { cut, raise }: Thresholds,
): number | null {
  const settled = (more: number) => chance(more) < cut || chance(more) > raise
  let high = spend
  while (!settled(high)) {
    high *= 2
    if (high > FARTHEST * spend) return null
  }
  let low = 0
  while (high - low > Math.max(1, high / 200)) {
    const middle = (low + high) / 2
    if (settled(middle)) high = middle
    else low = middle
  }
  return Math.round(high)
}
