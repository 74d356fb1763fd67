import { normalCdf } from '../estimate/range'

/** One side of a split: how many were sent to it, how many results these brought, and what the results are worth. */
export interface SplitSide {
  arrivals: number
  results: number
  /** minor units, and the sum of the squares of single ones */
  worth: number
  squares: number
}

/** How a split stands. */
export interface SplitStand {
  /** per side: that it brings most for each arrival */
  best: number[]
  /** further arrivals at each side that would be expected to settle it, as things stand; null where it is settled or never is */
  needed: number | null
}

const SETTLED = 0.95
/** One result beforehand, shared out by arrivals: no side is at nothing for having brought none yet. */
const BEFOREHAND = 1
const FARTHEST = 1000

/** The mean worth of an arrival and its variance, as a logarithm; by its results (Poisson) and what each is worth. */
function worthOfArrival(
  side: SplitSide,
  more: number,
  common: { rate: number; mean: number; ofOne: number },
) {
  const scale = side.arrivals > 0 ? (side.arrivals + more) / side.arrivals : 1
  const prior = BEFOREHAND
  const results = side.results * scale + prior
  const arrivals = side.arrivals * scale + prior / common.rate
  const mean = (side.worth * scale + prior * common.mean) / results
  return { log: Math.log((results / arrivals) * mean), variance: (1 + common.ofOne) / results }
}

/**
 * Which side of a split brings most for each arrival: results by Poisson's law, their worth by its mean and spread, both
 * as logarithms, each side beside the best of the others. Needs nothing of who sees which side but that it is drawn.
 */
export function splitStand(sides: readonly SplitSide[]): SplitStand {
  const sum = (pick: (side: SplitSide) => number) => sides.reduce((all, side) => all + pick(side), 0)
  const [arrivals, results, worth, squares] = [
    sum(s => s.arrivals),
    sum(s => s.results),
    sum(s => s.worth),
    sum(s => s.squares),
  ]
  if (sides.length < 2 || arrivals <= 0 || results <= 0 || worth <= 0)
    return { best: sides.map(() => 1 / sides.length), needed: null }
  const mean = worth / results
  const common = {
    rate: results / arrivals,
    mean,
    ofOne: Math.max(0, squares / results / mean ** 2 - 1),
  }
  const bestAfter = (more: number): number[] => {
    const values = sides.map(side => worthOfArrival(side, more, common))
    return chancesOfBest(values)
  }
  const best = bestAfter(0)
  if (Math.max(...best) >= SETTLED) return { best, needed: null }
  let high = Math.max(10, arrivals / sides.length)
  const limit = high * FARTHEST
  while (Math.max(...bestAfter(high)) < SETTLED) {
    high *= 2
    if (high > limit) return { best, needed: null }
  }
  let low = 0
  while (high - low > Math.max(1, high / 100)) {
    const middle = (low + high) / 2
    if (Math.max(...bestAfter(middle)) >= SETTLED) high = middle
    else low = middle
  }
  return { best, needed: Math.ceil(high) }
}

/** That each of some normal variables is the greatest: integrated over what it may be, in steps. */
function chancesOfBest(values: readonly { log: number; variance: number }[]): number[] {
  const STEPS = 200
  const chances = values.map((own, i) => {
    const sd = Math.sqrt(own.variance)
    let sum = 0
    for (let step = 0; step < STEPS; step++) {
      const z = -5 + (10 * (step + 0.5)) / STEPS
      const x = own.log + z * sd
      const density = Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)
      let others = 1
      values.forEach((other, j) => {
        if (j !== i) others *= normalCdf((x - other.log) / Math.sqrt(other.variance))
      })
      sum += density * others * (10 / STEPS)
    }
    return sum
  })
  const whole = chances.reduce((all, chance) => all + chance, 0)
  return chances.map(chance => chance / whole)
}
