import type { Day } from '../shared/days'

/** What came about on a day, and of how much: claimed of tracked orders, or orders for spend. */
export interface DayCount {
  day: Day
  came: number
  /** more than 0 */
  of: number
}

/** A day from which on something was different. */
export interface ChangeDay {
  /** the first day of what came after */
  day: Day
  /** days that are nearly as likely */
  from: Day
  to: Day
  /** that chance alone would give so strong a change */
  probability: number
}

/** `share`: each of so many came about or did not; `rate`: so many came about for so much. */
export type ChangeLaw = 'share' | 'rate'

const SHUFFLES = 999
/** Twice the drop of a log likelihood that bounds 95 in 100. */
const DROP = 3.84

/**
 * The day on which a share or a rate changed: the split of the days under which two shares are likeliest
 * against one (likelihood ratio over every split; as Pettitt 1979 it asks for the strongest one), with chance
 * told by shuffling the days, so that days that vary more than such counts do are no change.
 *
 * @param days in order of time
 * @param seed of the shuffles: the same days always give the same answer
 * @returns null where there are too few days to tell
 */
export function changeDay(days: readonly DayCount[], law: ChangeLaw, seed = 1): ChangeDay | null {
  if (days.length < 4) return null
  const { best, at, ratios } = strongestSplit(days, law)
  if (at < 0) return null
  const random = generator(seed)
  const shuffled = [...days]
  let asStrong = 0
  for (let round = 0; round < SHUFFLES; round++) {
    for (let i = shuffled.length - 1; i > 0; i--) {
      const j = Math.floor(random() * (i + 1))
      ;[shuffled[i], shuffled[j]] = [shuffled[j]!, shuffled[i]!]
    }
    if (strongestSplit(shuffled, law).best >= best) asStrong += 1
  }
  const least = best - (DROP / 2) * unrest(days, at)
  const near = [...ratios.keys()].filter(i => ratios[i]! >= least)
  return {
    day: days[at]!.day,
    from: days[near[0] ?? at]!.day,
    to: days[near.at(-1) ?? at]!.day,
    probability: (asStrong + 1) / (SHUFFLES + 1),
  }
}

/** The logarithm of the likelihood ratio of each split (by its first day after), and the strongest. */
function strongestSplit(days: readonly DayCount[], law: ChangeLaw) {
  const whole = sumOf(days)
  const ratios = new Float64Array(days.length).fill(Number.NEGATIVE_INFINITY)
  let [came, of] = [0, 0]
  let [best, at] = [Number.NEGATIVE_INFINITY, -1]
  for (let i = 1; i < days.length; i++) {
    came += days[i - 1]!.came
    of += days[i - 1]!.of
    const ratio =
      likelihood(came, of, law) +
      likelihood(whole.came - came, whole.of - of, law) -
      likelihood(whole.came, whole.of, law)
    ratios[i] = ratio
    // What shuffling gives the same sums for differs by rounding alone.
    if (ratio > best + 1e-9) [best, at] = [ratio, i]
  }
  return { best, at, ratios }
}

const times = (count: number, share: number) => (count > 0 ? count * Math.log(share) : 0)
/** The logarithm of the likelihood at the likeliest share or rate, but for what is the same under all. */
function likelihood(came: number, of: number, law: ChangeLaw): number {
  if (!(of > 0)) return 0
  const share = came / of
  return times(came, share) + (law === 'share' ? times(of - came, 1 - share) : 0)
}

const sumOf = (days: readonly DayCount[]) =>
  days.reduce((sum, { came, of }) => ({ came: sum.came + came, of: sum.of + of }), { came: 0, of: 0 })

/** How much more days vary about their two rates than counts do by chance, at least 1. */
function unrest(days: readonly DayCount[], at: number): number {
  const parts = [days.slice(0, at), days.slice(at)].map(part => ({ part, sum: sumOf(part) }))
  const squares = parts.flatMap(({ part, sum }) =>
    part.map(({ came, of }) => {
      const expected = Math.max(1e-9, (of * sum.came) / sum.of)
      return (came - expected) ** 2 / Math.max(0.5, expected)
    }),
  )
  return Math.max(1, squares.reduce((sum, square) => sum + square, 0) / Math.max(1, days.length - 2))
}

/** Numbers from 0 to 1 that look like chance (mulberry32). */
function generator(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let x = Math.imul(state ^ (state >>> 15), state | 1)
    x ^= x + Math.imul(x ^ (x >>> 7), x | 61)
    return ((x ^ (x >>> 14)) >>> 0) / 4_294_967_296
  }
}
