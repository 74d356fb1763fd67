const LANCZOS = [
  76.18009172947146, -86.50532032941678, 24.01409824083091, -1.231739572450155, 0.1208650973866179e-2,
  -0.5395239384953e-5,
]

/** ln Γ(z) for z > 0, error under 2e-10 (Lanczos 1964, five terms). */
export function logGamma(z: number): number {
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
