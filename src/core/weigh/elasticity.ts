import type { Series } from './series'

/** By how much results rise with spend, as history shows it. */
export interface MeasuredElasticity {
  elasticity: number
  /** standard error */
  error: number
}

const WEEK = 7
/** A standard error above this says that budgets were never changed by enough to tell. */
const MOST_ERROR = 0.15
const ROUNDS = 25

/**
 * How results rise with spend, by the weeks of each ad: counts share out an ad's results among its weeks in proportion
 * to spend ^ elasticity (Poisson regression with an effect of each ad, conditional on its sum: Hausman, Hall &
 * Griliches 1984). Whatever moved spend and demand alike is in it too.
 *
 * @param series of single ads
 * @returns null where budgets differ too little from week to week to tell
 */
export function measureElasticity(series: Series): MeasuredElasticity | null {
  const weeks = Math.floor(series.days / WEEK)
  const ads: { logs: number[]; results: number[]; sum: number }[] = []
  for (let group = 0; group < series.groups; group++) {
    const [logs, results]: [number[], number[]] = [[], []]
    for (let week = 0; week < weeks; week++) {
      let [spend, count] = [0, 0]
      for (let day = week * WEEK; day < (week + 1) * WEEK; day++) {
        spend += series.spend[group * series.days + day]!
        count += series.results[group * series.days + day]!
      }
      if (spend <= 0) continue
      logs.push(Math.log(spend))
      results.push(count)
    }
    const sum = results.reduce((all, count) => all + count, 0)
    if (sum > 0 && logs.length > 1) ads.push({ logs, results, sum })
  }
  let elasticity = 0.8
  let information = 0
  for (let round = 0; round < ROUNDS; round++) {
    let score = 0
    information = 0
    for (const { logs, results, sum } of ads) {
      const weights = logs.map(log => Math.exp(elasticity * (log - logs[0]!)))
      const whole = weights.reduce((all, weight) => all + weight, 0)
      const mean = logs.reduce((all, log, i) => all + (log * weights[i]!) / whole, 0)
      score += logs.reduce((all, log, i) => all + log * results[i]!, 0) - sum * mean
      information += sum * logs.reduce((all, log, i) => all + ((log - mean) ** 2 * weights[i]!) / whole, 0)
    }
    if (information < 1e-9) return null
    const step = score / information
    elasticity += Math.max(-0.5, Math.min(0.5, step))
    if (Math.abs(step) < 1e-9) break
  }
  const error = 1 / Math.sqrt(information)
  return error <= MOST_ERROR ? { elasticity: Math.min(1, Math.max(0.2, elasticity)), error } : null
}
