import { marginalReturn, type PlannedAd, type PlanSums, planKey, whatIf } from './whatIf'

/** One budget that is proposed, with the figures that speak for it; money in minor units. */
export interface ProposedChange {
  path: readonly string[]
  factor: number
  spend: number
  /** what the next unit of spend brings back now */
  marginal: number | null
  /** what the change is expected to bring in more than it costs, or to cost less than it brought in */
  gain: number
}
export type Proposal =
  | {
      kind: 'proposed'
      changes: ProposedChange[]
      /** of a budget, what is left since no ad would bring it back */
      unspent?: number
    }
  /** nothing need be done: it is so already */
  | { kind: 'already' }
  /** cutting whatever loses is not enough */
  | { kind: 'out_of_reach'; changes: ProposedChange[] }

const gainOf = (ad: PlannedAd, factor: number, elasticity: number) =>
  (factor ** elasticity - 1) * ad.expected * (ad.left ?? 0) - (factor - 1) * ad.spend
const changeOf = (ad: PlannedAd, factor: number, elasticity: number): ProposedChange => ({
  path: ad.path,
  factor,
  spend: ad.spend,
  marginal: marginalReturn(ad, 1, elasticity),
  gain: Math.round(gainOf(ad, factor, elasticity)),
})

/**
 * The fewest ads to cut so that what the account's results leave comes up to what it spends: those that lose most, and
 * of the last one the smallest that suffices.
 */
export function reachBreakEven(
  today: PlanSums & { low: number; high: number },
  ads: readonly PlannedAd[],
  elasticity: number,
): Proposal {
  const short = today.spend - today.leaves
  if (short <= 0) return { kind: 'already' }
  const losing = ads
    .filter(ad => ad.spend > 0 && ad.left !== null && gainOf(ad, 0, elasticity) > 0)
    .sort((a, b) => gainOf(b, 0, elasticity) - gainOf(a, 0, elasticity))
  const chosen: PlannedAd[] = []
  let gained = 0
  // To the unit, as the plan adds them up.
  const gain = (ad: PlannedAd) => {
    const only = whatIf(today, [ad], new Map([[planKey(ad.path), 0]]), { elasticity, cut: 'saved' })
      .changes[0]!
    return only.leaves - only.spend
  }
  for (const ad of losing) {
    if (gained >= short) break
    chosen.push(ad)
    gained += gain(ad)
  }
  if (gained < short) return { kind: 'out_of_reach', changes: chosen.map(ad => changeOf(ad, 0, elasticity)) }
  const last = chosen.pop()!
  const missing = short - gained + gain(last)
  const smallest = losing
    .filter(ad => !chosen.includes(ad) && gain(ad) >= missing)
    .sort((a, b) => a.spend - b.spend)[0]
  return {
    kind: 'proposed',
    changes: [...chosen, smallest ?? last].map(ad => changeOf(ad, 0, elasticity)),
  }
}

/** Budgets move in steps of so much, and one that would move less stays. */
const STEP = 0.05
const LEAST_MOVE = 0.1

/**
 * How a budget is shared out so that results leave most: the next unit of spend brings the same everywhere, as far as
 * no budget becomes more than so many times what it is (its return that far out nobody has seen). More than today is
 * spent only as far as the next unit brings back what it costs.
 *
 * @param given in minor units; what is spent today where money is only to be moved
 */
export function mostWorth(
  ads: readonly PlannedAd[],
  { budget: given, elasticity, most }: { budget: number; elasticity: number; most: number },
): Proposal {
  const known = ads.filter(ad => ad.spend > 0 && ad.left !== null)
  const others = ads.reduce((sum, ad) => sum + ad.spend, 0) - known.reduce((sum, ad) => sum + ad.spend, 0)
  const power = 1 / (1 - Math.min(0.98, elasticity))
  const factorsAt = (price: number) =>
    known.map(ad => {
      const back = (elasticity * ad.expected * ad.left!) / ad.spend
      return Math.min(most, (back / price) ** power)
    })
  const spent = (factors: readonly number[]) =>
    known.reduce((sum, ad, i) => sum + factors[i]! * ad.spend, others)
  const today = ads.reduce((sum, ad) => sum + ad.spend, 0)
  const budget = Math.min(given, Math.max(today, Math.floor(spent(factorsAt(1)))))
  let [low, high] = [-12, 12]
  for (let round = 0; round < 80; round++) {
    const middle = (low + high) / 2
    if (spent(factorsAt(Math.exp(middle))) > budget) low = middle
    else high = middle
  }
  const exact = factorsAt(Math.exp(high))
  const rounded = exact.map(factor => {
    const step = Math.floor(factor / STEP + 1e-9) * STEP
    return Math.abs(factor - 1) < LEAST_MOVE ? 1 : Number(step.toFixed(2))
  })
  // What stayed as it was may have cost more than its share: the least of those that grow gives way.
  const order = known
    .map((ad, i) => ({ i, back: marginalReturn(ad, exact[i] || STEP, elasticity) ?? 0 }))
    .sort((a, b) => a.back - b.back)
  for (const { i } of order) {
    const over = spent(rounded) - budget
    if (over <= 0) break
    if (rounded[i]! > 1) {
      const less = rounded[i]! - Math.ceil(over / known[i]!.spend / STEP) * STEP
      rounded[i] = Number(Math.max(1, less).toFixed(2))
    }
  }
  const changes = known.flatMap((ad, i) => (rounded[i] === 1 ? [] : [changeOf(ad, rounded[i]!, elasticity)]))
  return changes.length === 0
    ? { kind: 'already' }
    : {
        kind: 'proposed',
        changes: changes.sort((a, b) => b.gain - a.gain),
        ...(budget < given && { unspent: given - budget }),
      }
}
