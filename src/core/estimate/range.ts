/** Where 80 % of the probability lies: a tenth on either side is left out. */
const TAIL = 0.1

/** Abramowitz & Stegun 26.2.17: the normal distribution function, error under 7.5e-8. */
export function normalCdf(x: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(x))
  const density = Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)
  const upper =
    density * t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return x >= 0 ? 1 - upper : upper
}

/** Wilson & Hilferty (1931): the gamma distribution function by its mean and variance. */
export function gammaCdf(x: number, mean: number, variance: number): number {
  if (x <= 0) return 0
  const shape = (mean * mean) / variance
  const ninth = 1 / (9 * shape)
  return normalCdf(((x / mean) ** (1 / 3) - (1 - ninth)) / Math.sqrt(ninth))
}

/**
 * An 80 % interval of a whole number of orders, of which `certain` are known and the rest has this mean
 * and variance. Counts are whole, so a tail can be a tenth only nearly: the nearest is taken.
 *
 * @returns bounds in orders, `low ≤ certain + mean ≤ high`
 */
export function orderRange(certain: number, mean: number, variance: number): { low: number; high: number } {
  if (mean <= 1e-9 || variance <= 1e-12) return { low: certain + mean, high: certain + mean }
  const upTo = (count: number) => gammaCdf(count + 0.5, mean, variance)
  const nearest = (from: number, tail: (count: number) => number, step: 1 | -1) => {
    let best = from
    for (let k = from; k >= 0 && k <= from + 10 + 6 * Math.sqrt(variance); k += step) {
      if (Math.abs(tail(k) - TAIL) < Math.abs(tail(best) - TAIL)) best = k
    }
    return best
  }
  const low = nearest(Math.floor(mean), k => (k === 0 ? 0 : upTo(k - 1)), -1)
  const high = nearest(Math.ceil(mean), k => 1 - upTo(k), 1)
  return { low: Math.min(certain + low, certain + mean), high: Math.max(certain + high, certain + mean) }
}
