import * as z from 'zod'
import { ratio } from '../weigh/figures'
import { addressConditionsSchema } from './address'

/** One step of a journey: a result, or a page that is opened. */
export const stepSchema = z.object({
  id: z.string().min(1).max(60),
  name: z.string().min(1).max(60),
  by: z.discriminatedUnion('on', [
    z.object({ on: z.literal('result'), result: z.string().min(1) }),
    z.object({ on: z.literal('page'), where: addressConditionsSchema }),
  ]),
  /** whether shoppers may go on without it */
  optional: z.boolean().default(false),
})
export type Step = z.infer<typeof stepSchema>

/** The ordered steps from an arrival to a result. */
export const journeySchema = z.object({
  id: z.string().regex(/^[a-z0-9][a-z0-9_-]{0,39}$/, 'lower case letters, digits, - and _'),
  name: z.string().min(1).max(80),
  steps: z.array(stepSchema).min(2, 'a journey has two steps at least').max(12),
})
export type Journey = z.infer<typeof journeySchema>

/** Something a shopper did that is one step of the journey, or several. */
export interface Happening {
  /** number of the shopper */
  who: number
  /** epoch ms */
  at: number
  /** steps by their place in the journey */
  steps: readonly number[]
}

/**
 * How far each shopper came: a step is reached when it happened at or after the one before it. A step that
 * may be skipped holds nobody up.
 *
 * @returns for each shopper who did anything, the steps reached
 */
export function walkJourney(
  steps: readonly Pick<Step, 'optional'>[],
  happenings: readonly Happening[],
): Map<number, boolean[]> {
  const times = new Map<number, number[][]>()
  for (const { who, at, steps: which } of happenings) {
    let own = times.get(who)
    if (!own) times.set(who, (own = steps.map(() => [])))
    for (const step of which) own[step]!.push(at)
  }
  const reached = new Map<number, boolean[]>()
  for (const [who, own] of times) {
    let since = Number.NEGATIVE_INFINITY
    let stopped = false
    reached.set(
      who,
      steps.map(({ optional }, i) => {
        if (stopped) return false
        let first = Number.POSITIVE_INFINITY
        for (const at of own[i]!) if (at >= since && at < first) first = at
        if (first === Number.POSITIVE_INFINITY) {
          stopped = !optional
          return false
        }
        if (!optional) since = first
        return true
      }),
    )
  }
  return reached
}

/** How many reached each step. */
export const countReached = (length: number, reached: Iterable<readonly boolean[]>): number[] => {
  const counts = new Array<number>(length).fill(0)
  for (const own of reached) own.forEach((yes, i) => yes && (counts[i]! += 1))
  return counts
}

/** The step from which a step's rate is reckoned: the one before that nobody may skip; -1 for the first. */
export function stepBefore(steps: readonly Pick<Step, 'optional'>[], step: number): number {
  for (let i = step - 1; i >= 0; i--) if (!steps[i]!.optional) return i
  return -1
}

/** The share of those at the step before who reached each; null for the first, and where nobody was there. */
export const stepRates = (
  steps: readonly Pick<Step, 'optional'>[],
  counts: readonly number[],
): (number | null)[] =>
  counts.map((count, i) => {
    const before = stepBefore(steps, i)
    return before < 0 ? null : ratio(count, counts[before]!)
  })

export interface WeakestStep {
  step: number
  /** below what is usual by more than chance, or merely where the largest share is lost */
  because: 'below_usual' | 'most_lost'
}

/** Fewer than so many tell nothing. */
const ENOUGH = 20
/** One-sided: one of a hundred by chance. */
const FAR_BELOW = 2.33

/**
 * The weakest step of those that nobody may skip: the one furthest below its usual rate, if that is no chance
 * (two-proportion z-test); else the one where the largest share is lost.
 *
 * @param usual counts that are usual for these steps; null where none are known
 */
export function weakestStep(
  steps: readonly Pick<Step, 'optional'>[],
  counts: readonly number[],
  usual: readonly number[] | null,
): WeakestStep | null {
  let worst: { step: number; z: number } | null = null
  let least: { step: number; rate: number } | null = null
  for (let i = 1; i < steps.length; i++) {
    const before = stepBefore(steps, i)
    const [n, k] = [counts[before] ?? 0, counts[i]!]
    if (before < 0 || n < ENOUGH || steps[i]!.optional) continue
    const rate = k / n
    if (!least || rate < least.rate) least = { step: i, rate }
    const [m, j] = [usual?.[before] ?? 0, usual?.[i] ?? 0]
    if (m < ENOUGH) continue
    const pooled = (k + j) / (n + m)
    const error = Math.sqrt(pooled * (1 - pooled) * (1 / n + 1 / m))
    const z = error === 0 ? 0 : (rate - j / m) / error
    if (z < -FAR_BELOW && (!worst || z < worst.z)) worst = { step: i, z }
  }
  if (worst) return { step: worst.step, because: 'below_usual' }
  return least && { step: least.step, because: 'most_lost' }
}
