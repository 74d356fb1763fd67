import { gammaDensity } from './gamma'

/** One value in a spread: its share of all, and of that what counts and what is of orders without a trace. */
export interface ValueShare {
  share: number
  counts: number
  blank: number
}

/** How what claims are worth is spread: shares by value in minor units, with mean and variance. */
export interface ValueSpread {
  of: Map<number, ValueShare>
  mean: number
  variance: number
  /** shares of the whole */
  counts: number
  blank: number
  /** shares of sums of so many values, made when they are asked for; the first is of one value */
  sums: Map<number, number>[]
}

/** Of a spread of no values, what an order is usually worth is not known: nearly anything. */
const UNKNOWN = { mean: 5000, variance: 4e6, counts: 0.95, blank: 1 }
/** Up to so many prices, sums of values are reckoned exactly. */
export const FEW = 12
/** More pairs than this by the spread of values in minor units give any sum, so that it says nothing. */
const CHANCE = 14
const MOST_SUMMED = 40

/** Gathers values with their weights into a spread. */
export function gatherValues() {
  const of = new Map<number, ValueShare>()
  let whole = 0
  const add = (value: number, weight: number, counts: number, blank: number) => {
    if (!(weight > 0)) return
    whole += weight
    const known = of.get(value)
    if (known) {
      known.share += weight
      known.counts += counts
      known.blank += blank
    } else of.set(value, { share: weight, counts, blank })
  }
  const spread = (): ValueSpread => {
    if (whole === 0) return { of, sums: [], ...UNKNOWN }
    let [mean, square, counts, blank] = [0, 0, 0, 0]
    for (const [value, one] of of) {
      one.share /= whole
      one.counts /= whole
      one.blank /= whole
      mean += value * one.share
      square += value * value * one.share
      counts += one.counts
      blank += one.blank
    }
    return { of, sums: [], mean, variance: Math.max(1, square - mean * mean), counts, blank }
  }
  return { add, spread }
}

/** Whether so many pairs of values tell a sum from others. */
export const pairsTell = (pairs: number, { variance }: ValueSpread): boolean =>
  pairs <= CHANCE * Math.sqrt(variance)

/** The shares of the sums of `count` values, where there are few prices. */
export function sumsOf(spread: ValueSpread, count: number): ReadonlyMap<number, number> {
  const { of, sums } = spread
  sums[1] ??= new Map([...of].map(([value, { share }]) => [value, share]))
  for (let k = 2; k <= count; k++) {
    if (sums[k]) continue
    const next = new Map<number, number>()
    for (const [sum, weight] of sums[k - 1]!)
      for (const [value, { share }] of of)
        next.set(sum + value, (next.get(sum + value) ?? 0) + weight * share)
    sums[k] = next
  }
  return sums[count]!
}

/** How likely `count` values are worth `sum` in all; a density by minor unit where pairs tell nothing. */
export function shareOfSum(spread: ValueSpread, count: number, sum: number): number {
  if (count === 0) return sum === 0 ? 1 : 0
  if (sum <= 0) return 0
  if (count === 1) return spread.of.get(sum)?.share ?? 0
  const { of, mean, variance } = spread
  if (of.size <= FEW && count <= MOST_SUMMED) return sumsOf(spread, count).get(sum) ?? 0
  if (count === 2 && pairsTell(of.size * of.size, spread)) return shareOfPair(spread, 1, sum)
  return gammaDensity(sum, count * mean, count * variance)
}

/** How likely one value and `times` another are worth `sum`. */
export function shareOfPair({ of }: ValueSpread, times: number, sum: number): number {
  let likely = 0
  for (const [value, { share }] of of) {
    const rest = sum > times * value ? of.get(sum - times * value) : undefined
    if (rest) likely += share * rest.share
  }
  return likely
}
