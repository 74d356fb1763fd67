const LANCZOS = [
  76.18009172947146, -86.50532032941678, 24.01409824083091, -1.231739572450155, 0.1208650973866179e-2,
  -0.5395239384953e-5,
]

/** From here on Stirling's series is as good, by one logarithm. */
const LARGE = 16
const HALF_LOG_TWO_PI = 0.9189385332046727

/** ln Γ(z) for z > 0, error under 2e-10 (Lanczos 1964, five terms; for large z Abramowitz & Stegun 6.1.41). */
export function logGamma(z: number): number {
  if (z >= LARGE) {
    const square = 1 / (z * z)
    const series = (1 / 12 - square * (1 / 360 - square * (1 / 1260 - square / 1680))) / z
    return (z - 0.5) * Math.log(z) - z + HALF_LOG_TWO_PI + series
  }
  let y = z
  let sum = 1.000000000190015
  for (const term of LANCZOS) sum += term / ++y
  const t = z + 5.5
  return (z + 0.5) * Math.log(t) - t + Math.log((2.5066282746310007 * sum) / z)
}

/** Density of the gamma distribution at x by its mean and variance. */
export function gammaDensity(x: number, mean: number, variance: number): number {
  if (x <= 0) return 0
  const shape = (mean * mean) / variance
  const scale = variance / mean
  return Math.exp((shape - 1) * Math.log(x / scale) - x / scale - logGamma(shape)) / scale
}
