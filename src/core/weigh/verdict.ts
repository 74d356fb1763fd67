import { gammaCdf } from '../estimate/range'

export type VerdictKind = 'cut' | 'hold' | 'raise' | 'wait'
export interface Verdict {
  kind: VerdictKind
  because: VerdictReason
  /** that the cost per result is at or under the line; null where there is nothing to judge by */
  probability: number | null
}
export type VerdictReason =
  | 'under_the_line'
  | 'over_the_line'
  | 'near_the_line'
  | 'too_little_spend'
  | 'no_spend'
  | 'no_line'

/** Spend that would bring this many orders at the line is enough to tell a good ad from a bad one. */
const TELLING_ORDERS = 5
const CUT = 0.1
const RAISE = 0.9

export interface Spent {
  /** minor units */
  spend: number
  orders: number
}

/**
 * Judges the ads under one parent as a family: orders per unit of spend are Gamma–Poisson, the prior taken
 * from the spread among them by the method of moments (docs/computation.md, Verdict).
 *
 * @param line break-even cost per result in minor units
 * @returns one verdict per ad
 */
export function judgeFamily(family: readonly Spent[], line: number | null): Verdict[] {
  const prior = line !== null && line > 0 ? priorOf(family, line) : null
  return family.map(own => judgeAd(own, prior, line))
}

function judgeAd(own: Spent, prior: Prior | null, line: number | null): Verdict {
  if (line === null || prior === null) return { kind: 'wait', because: 'no_line', probability: null }
  if (own.spend <= 0) return { kind: 'wait', because: 'no_spend', probability: null }
  const expected = own.spend / line
  const shape = prior.shape + own.orders
  const rate = prior.shape / prior.mean + expected
  const mean = shape / rate
  const probability = 1 - gammaCdf(1, mean, mean / rate)
  const kind =
    probability < CUT ? 'cut' : probability > RAISE ? 'raise' : expected >= TELLING_ORDERS ? 'hold' : 'wait'
  const because = {
    cut: 'over_the_line',
    raise: 'under_the_line',
    hold: 'near_the_line',
    wait: 'too_little_spend',
  } as const
  return { kind, because: because[kind], probability }
}

/** Orders for each order at the line, over a family, as a gamma distribution. */
interface Prior {
  mean: number
  shape: number
}

function priorOf(siblings: readonly Spent[], line: number): Prior {
  const used = siblings.filter(s => s.spend > 0)
  const exposure = used.reduce((sum, s) => sum + s.spend / line, 0)
  const orders = used.reduce((sum, s) => sum + s.orders, 0)
  const mean = (orders + 0.5) / (exposure + 0.5)
  if (used.length < 2) return { mean, shape: 1 }
  const spread = used.reduce(
    (sum, s) => sum + (s.spend / line) * (s.orders / (s.spend / line) - mean) ** 2,
    0,
  )
  const scale = exposure - used.reduce((sum, s) => sum + (s.spend / line) ** 2, 0) / exposure
  const between = (spread - (used.length - 1) * mean) / Math.max(scale, 1e-9)
  return { mean, shape: between > 0 ? Math.min(20, Math.max(1, mean ** 2 / between)) : 20 }
}
