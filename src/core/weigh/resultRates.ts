/** What one row brought: results with their variance for an exposure, and the place of the row above it. */
export interface Rated {
  /** place in the level above; -1 for none */
  parent: number
  count: number
  /** variance of the count beyond chance: of an estimate */
  variance: number
  exposure: number
}

/** Results for each unit of spend, as a logarithm with its variance. */
export interface ResultRate {
  log: number
  variance: number
  /** results that it rests on, and the precision of what was known beforehand */
  results: number
  prior: number
}

/** Variances of the logarithm among rows lie within these. */
const LEAST_SPREAD = 0.02
const MOST_SPREAD = 1.2
const ROUNDS = 30

/**
 * The rate of each row's results: Poisson about a log-normal rate, whose mean is that of the row above and whose
 * spread is how much rows of a level differ beyond chance (by the method of moments; the posterior by Laplace's
 * approximation). Ads differ by factors, so that one far better than its siblings is drawn to them no more than one
 * far worse.
 *
 * @param levels from the top down
 * @returns by level and row; null for those without exposure
 */
export function resultRates(levels: readonly (readonly Rated[])[]): (ResultRate | null)[][] {
  let above: (ResultRate | null)[] = []
  return levels.map(rows => {
    const count = rows.reduce((sum, row) => sum + row.count, 0.5)
    const exposure = rows.reduce((sum, row) => sum + row.exposure, 0)
    const whole: ResultRate = {
      log: Math.log(count / Math.max(1e-9, exposure)),
      variance: 1 / count,
      results: count,
      prior: 0,
    }
    const parentOf = (row: Rated) => above[row.parent] ?? whole
    const spread = spreadOf(rows, parentOf)
    const found = rows.map(row => (row.exposure > 0 ? drawn(row, parentOf(row), spread) : null))
    above = found
    return found
  })
}

/** The rate of a row by its results and what is known beforehand: the most likely, by Newton's method. */
function drawn(row: Rated, parent: ResultRate, spread: number): ResultRate {
  // An estimate says as much as fewer counted results would.
  const worth = row.count > 0 ? row.count / (row.count + row.variance) : 1
  const [results, exposure] = [row.count * worth, row.exposure * worth]
  const prior = 1 / (spread + parent.variance)
  // A mean of rates lies above the rate of the mean logarithm.
  const mean = parent.log - spread / 2
  let log = mean
  for (let round = 0; round < ROUNDS; round++) {
    const expected = exposure * Math.exp(log)
    const step = (results - expected - prior * (log - mean)) / (expected + prior)
    log += Math.max(-1, Math.min(1, step))
    if (Math.abs(step) < 1e-9) break
  }
  const expected = exposure * Math.exp(log)
  return { log, variance: 1 / (expected + prior), results: expected, prior }
}

/** What a row has itself put into the row above is none of its difference. */
function spreadOf(rows: readonly Rated[], parentOf: (row: Rated) => ResultRate): number {
  let [excess, squares] = [0, 0]
  for (const row of rows) {
    const parent = parentOf(row)
    const expected = Math.exp(parent.log) * row.exposure
    const own = Math.min(1, expected * parent.variance)
    excess += (row.count - expected) ** 2 - (row.count + row.variance) * (1 - own)
    squares += expected * expected * (1 - own)
  }
  const spread = squares > 0 ? Math.log1p(Math.max(0, excess / squares)) : LEAST_SPREAD
  return Math.min(MOST_SPREAD, Math.max(LEAST_SPREAD, spread))
}
