import * as z from 'zod'
import { isNone } from './figures'
import type { Verdict } from './verdict'

/** Rules that somebody sets on top of the verdict by worth, written with pickers. */
export const plainRuleSchema = z.discriminatedUnion('when', [
  /** cut what has no result after so many times its line */
  z.object({ when: z.literal('no_result'), lines: z.number().min(0.5).max(20) }),
  /** cut what costs so many times its line, once it has so many results */
  z.object({
    when: z.literal('over_line'),
    times: z.number().min(1).max(20),
    results: z.int().min(1).max(1000),
  }),
  /** wait until it was seen so often; what has brought results need not wait */
  z.object({ when: z.literal('few_impressions'), impressions: z.int().min(1).max(1e9) }),
  /** wait until so much was spent, in major units; what has brought results need not wait */
  z.object({ when: z.literal('little_spend'), spend: z.number().positive().max(1e9) }),
])
export type PlainRule = z.infer<typeof plainRuleSchema>

/** What a plain rule looks at; money in minor units. */
export interface RuleFacts {
  spend: number
  impressions: number
  /** estimated results, tenths among them */
  results: number
  line: number | null
}

/**
 * What plain rules say of a row; null where none says anything. What waits is not cut.
 *
 * @param minorUnits how many minor units one major unit has
 */
export function ruledBy(
  facts: RuleFacts,
  rules: readonly PlainRule[],
  minorUnits: number,
): { kind: 'cut' | 'wait'; rule: number } | null {
  const holding = rules.findIndex(
    rule =>
      isNone(facts.results) &&
      ((rule.when === 'few_impressions' && facts.impressions < rule.impressions) ||
        (rule.when === 'little_spend' && facts.spend < rule.spend * minorUnits)),
  )
  if (holding >= 0) return { kind: 'wait', rule: holding }
  const { line, spend, results } = facts
  if (line === null || line <= 0) return null
  const cutting = rules.findIndex(
    rule =>
      (rule.when === 'no_result' && isNone(results) && spend >= rule.lines * line) ||
      (rule.when === 'over_line' && results >= rule.results && spend >= rule.times * line * results),
  )
  return cutting >= 0 ? { kind: 'cut', rule: cutting } : null
}

/** A verdict with plain rules on top. */
export function withRules(
  verdict: Verdict,
  facts: RuleFacts,
  rules: readonly PlainRule[],
  minorUnits: number,
): Verdict {
  const ruled = rules.length > 0 ? ruledBy(facts, rules, minorUnits) : null
  if (!ruled || (facts.spend <= 0 && facts.impressions <= 0)) return verdict
  return {
    ...verdict,
    kind: ruled.kind,
    because: ruled.kind === 'cut' ? 'cut_by_rule' : 'held_by_rule',
    needed: null,
  }
}
