import { logGamma } from './gamma'

/** The odds, before anything is seen, that a share is another one from one stretch of time to the next. */
const CHANGES = 0.01
/** How much is known of a share before anything is seen: as much as so many trials tell. */
const KNOWN = 4

/**
 * A share that holds for a while and then may become another: the posterior mean and variance of each
 * stretch of time over every way in which the stretches may be divided (product partition model of Barry &
 * Hartigan 1992, with beta-binomial parts). Where nothing changes, all is drawn together; after a sudden
 * change, what was before is forgotten. `trials` may be fractional; time is quadratic in stretches.
 *
 * @param common the share about which all are expected
 */
export function sharesInTime(
  hits: ArrayLike<number>,
  trials: ArrayLike<number>,
  common: number,
): { share: Float64Array; variance: Float64Array } {
  const count = trials.length
  const mean = Math.min(0.999, Math.max(0.001, common))
  const [a, b] = [KNOWN * mean, KNOWN * (1 - mean)]
  const none = logGamma(a + b) - logGamma(a) - logGamma(b)
  const upTo = (list: ArrayLike<number>) => {
    const sums = new Float64Array(count + 1)
    for (let i = 0; i < count; i++) sums[i + 1] = sums[i]! + list[i]!
    return sums
  }
  const [h, t] = [upTo(hits), upTo(trials)]
  const [stays, changes] = [Math.log(1 - CHANGES), Math.log(CHANGES)]
  /** ln likelihood of one share from stretch i to before stretch j, with that it began and lasts so long */
  const part = (i: number, j: number) => {
    const [own, of] = [h[j]! - h[i]!, t[j]! - t[i]!]
    const seen = none + logGamma(a + own) + logGamma(b + Math.max(0, of - own)) - logGamma(a + b + of)
    return seen + (j - i - 1) * stays + (i > 0 ? changes : 0)
  }
  // parts[i * (count + 1) + j], of i before j
  const wide = count + 1
  const parts = new Float64Array(wide * wide)
  for (let i = 0; i < count; i++) for (let j = i + 1; j <= count; j++) parts[i * wide + j] = part(i, j)
  const logs = new Float64Array(count)
  const before = new Float64Array(count + 1)
  for (let j = 1; j <= count; j++) {
    for (let i = 0; i < j; i++) logs[i] = before[i]! + parts[i * wide + j]!
    before[j] = logSum(logs, j)
  }
  const after = new Float64Array(count + 1)
  for (let i = count - 1; i >= 0; i--) {
    for (let j = i + 1; j <= count; j++) logs[j - i - 1] = after[j]! + parts[i * wide + j]!
    after[i] = logSum(logs, count - i)
  }

  const first = new Float64Array(count + 1)
  const second = new Float64Array(count + 1)
  for (let i = 0; i < count; i++)
    for (let j = i + 1; j <= count; j++) {
      const weight = Math.exp(before[i]! + parts[i * wide + j]! + after[j]! - before[count]!)
      const n = a + b + t[j]! - t[i]!
      const own = (a + h[j]! - h[i]!) / n
      const square = own * own + (own * (1 - own)) / (n + 1)
      first[i]! += weight * own
      first[j]! -= weight * own
      second[i]! += weight * square
      second[j]! -= weight * square
    }
  const share = new Float64Array(count)
  const variance = new Float64Array(count)
  let [one, two] = [0, 0]
  for (let i = 0; i < count; i++) {
    one += first[i]!
    two += second[i]!
    share[i] = Math.min(1, Math.max(0, one))
    variance[i] = Math.max(0, two - one * one)
  }
  return { share, variance }
}

/** The logarithm of the sum of the first of some numbers that are given as logarithms. */
function logSum(logs: Float64Array, count: number): number {
  let top = Number.NEGATIVE_INFINITY
  for (let i = 0; i < count; i++) if (logs[i]! > top) top = logs[i]!
  let sum = 0
  for (let i = 0; i < count; i++) sum += Math.exp(logs[i]! - top)
  return top + Math.log(sum)
}
