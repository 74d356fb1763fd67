import { randomExponential, randomLcg, randomNormal, randomPoisson, randomUniform } from 'd3-random'

/** Draws of one seeded stream; the same seed gives the same market on every machine. */
export function randomStream(seed: number) {
  // Linear congruential streams of near seeds start alike: mix the bits first (MurmurHash3's finaliser).
  let h = Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  const next = randomLcg(((h ^ (h >>> 16)) >>> 0) / 2 ** 32)
  const poisson = randomPoisson.source(next)
  const normal = randomNormal.source(next)(0, 1)
  const exponential = randomExponential.source(next)
  const uniform = randomUniform.source(next)
  return {
    chance: (share: number) => next() < share,
    poisson: (mean: number) => (mean > 0 ? poisson(mean)() : 0),
    exponential: (mean: number) => exponential(1 / mean)(),
    /** around 1, `spread` being the standard deviation of its logarithm */
    factor: (spread: number) => Math.exp(spread * normal()),
    between: (from: number, to: number) => uniform(from, to)(),
    pick: <T>(items: readonly T[]): T => items[Math.floor(next() * items.length)]!,
    weighted: <T extends { weight: number }>(items: readonly T[]): T => {
      let left = next() * items.reduce((sum, item) => sum + item.weight, 0)
      return items.find(item => (left -= item.weight) < 0) ?? items.at(-1)!
    },
    /** letters and digits, unguessable enough for a simulation */
    code: (length: number) =>
      Array.from({ length }, () => 'abcdefghijkmnpqrstuvwxyz23456789'[Math.floor(next() * 32)]).join(''),
  }
}
export type RandomStream = ReturnType<typeof randomStream>
