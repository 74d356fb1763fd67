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
  const off = (tail: number) => Math.abs(tail - TAIL)
  const below = (k: number) => (k === 0 ? 0 : upTo(k - 1))
  const above = (k: number) => 1 - upTo(k)
  // Tails grow toward the mean: the counts on both sides of a tenth are found by halving, however wide the law is.
  const lowest = lastWhere(k => below(k) <= TAIL, 0, Math.floor(mean))
  const low = lowest < Math.floor(mean) && off(below(lowest + 1)) <= off(below(lowest)) ? lowest + 1 : lowest
  const first = Math.ceil(mean)
  let beyond = first + 1
  while (above(beyond) > TAIL) beyond = first + 2 * (beyond - first)
  const inside = lastWhere(k => k === first || above(k) > TAIL, first, beyond)
  const high = off(above(inside)) <= off(above(inside + 1)) ? inside : inside + 1
  return { low: Math.min(certain + low, certain + mean), high: Math.max(certain + high, certain + mean) }
}

/** The last whole number of a stretch for which something holds that holds for its first, and from some on no more. */
function lastWhere(holds: (k: number) => boolean, from: number, to: number): number {
  if (holds(to)) return to
  let [yes, no] = [from, to]
  while (no - yes > 1) {
    const middle = Math.floor((yes + no) / 2)
    if (holds(middle)) yes = middle
    else no = middle
  }
  return yes
}
