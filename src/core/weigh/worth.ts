/** What the results of a row are worth: the place of the row above, how many, and the sums of worth and its squares. */
export interface Valued {
  parent: number
  count: number
  worth: number
  squares: number
}

/** The mean worth of a result: its logarithm with the variance of that, and what one result more would tell. */
export interface Worth {
  log: number
  variance: number
  /** variance of the logarithm of a mean of one result */
  ofOne: number
}

const LEAST_BETWEEN = 1e-4
/** Where results come to nearly nothing on average, no law says by how much they sway. */
const MOST_OF_ONE = 25

/**
 * The mean worth of each row's results, drawn toward that of the row above it (normal–normal on the logarithm; how
 * far rows of a level differ by the method of moments, how far results do by all rows of the lowest level).
 *
 * @returns by level and row; null where nothing is worth anything
 */
export function worthOfRows(levels: readonly (readonly Valued[])[]): (Worth | null)[][] {
  const ofOne = relativeVariance(levels.at(-1) ?? [])
  let above: (Worth | null)[] = []
  return levels.map(rows => {
    const [count, worth] = rows.reduce(([n, sum], row) => [n + row.count, sum + row.worth], [0, 0])
    const whole: Worth | null =
      count > 0 && worth > 0 ? { log: Math.log(worth / count), variance: ofOne / count, ofOne } : null
    const parentOf = (row: Valued) => above[row.parent] ?? whole
    const between = betweenOf(rows, parentOf, ofOne)
    const drawn = rows.map((row): Worth | null => {
      const parent = parentOf(row)
      if (!parent) return null
      if (row.count <= 0 || row.worth <= 0)
        return { log: parent.log, variance: parent.variance + between, ofOne }
      const own = row.count / ofOne
      const prior = 1 / (parent.variance + between)
      const log = (own * Math.log(row.worth / row.count) + prior * parent.log) / (own + prior)
      return { log, variance: 1 / (own + prior), ofOne }
    })
    above = drawn
    return drawn
  })
}

/** The variance of what one result is worth, of the square of the mean, within rows. */
function relativeVariance(rows: readonly Valued[]): number {
  let [within, freedom] = [0, 0]
  for (const { count, worth, squares } of rows) {
    if (count < 2 || worth <= 0) continue
    const mean = worth / count
    within += Math.min(MOST_OF_ONE * count, Math.max(0, squares - count * mean * mean) / (mean * mean))
    freedom += count - 1
  }
  return freedom > 0 ? Math.max(1e-3, within / freedom) : 0.5
}

function betweenOf(rows: readonly Valued[], parentOf: (row: Valued) => Worth | null, ofOne: number): number {
  let [excess, weight] = [0, 0]
  for (const row of rows) {
    const parent = parentOf(row)
    if (row.count <= 0 || row.worth <= 0 || !parent) continue
    // What a row has itself put into the row above is none of its difference.
    const own = Math.min(1, (row.count * parent.variance) / ofOne)
    excess += row.count * (Math.log(row.worth / row.count) - parent.log) ** 2 - ofOne * (1 - own)
    weight += row.count * (1 - own)
  }
  return weight > 0 ? Math.max(LEAST_BETWEEN, excess / weight) : LEAST_BETWEEN
}
