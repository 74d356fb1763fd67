import { DAY_MS, HOUR_MS, zoneClock } from '../shared/days'

export type Pulse = 'never_heard' | 'live' | 'quiet' | 'too_many'
export interface PulseReading {
  pulse: Pulse
  /** epoch ms of the latest; null for never */
  lastAt: number | null
  /** when the silence or the flood began; null where there is neither */
  since: number | null
  /** how many were expected in the silence, or in the last day */
  expected: number
  seen: number
  /** heard again of the same transaction in the last day */
  repeats: number
}

/** So improbable that it is no chance. */
export const IMPROBABLE = 0.01
/** Hours of history before the day that is looked at. */
const HISTORY_DAYS = 28
const HOURS_OF_WEEK = 168
/** Repeats in a day that are borne anyway: a message is sent again once in a while. */
const USUAL_REPEATS = 0.5

export interface Heard {
  /** epoch ms */
  at: number
  transaction: string | null
}

/** A number that is expected, and the variance of that expectation. */
interface Expected {
  mean: number
  variance: number
}
/** How much more than expected is usual, and the relative variance of saying so. */
interface Factor {
  times: number
  doubt: number
}

/**
 * What groups have beyond what was expected of them, as factors. How far such factors differ is taken from the
 * groups themselves by the method of moments; each is drawn toward 1 as its own number leaves room for chance
 * (gamma–Poisson: Gelman et al., Bayesian Data Analysis, 2.6).
 */
function factorsOf(counts: Float64Array, expected: Float64Array): Factor[] {
  let beyondChance = 0
  let scale = 0
  counts.forEach((count, i) => {
    beyondChance += (count - expected[i]!) ** 2 - expected[i]!
    scale += expected[i]! ** 2
  })
  if (beyondChance <= 0 || scale === 0) return Array.from(counts, () => ({ times: 1, doubt: 0 }))
  const prior = scale / beyondChance
  return Array.from(counts, (count, i) => ({
    times: (count + prior) / (expected[i]! + prior),
    doubt: 1 / (count + prior),
  }))
}

interface UsualHour {
  rate: number
  weekday: number
  /** of this hour of the week alone */
  doubt: number
}
interface UsualWeek {
  at: (at: number) => UsualHour
  /** relative variance of what all hours of a weekday have in common, by weekday */
  ofWeekday: readonly number[]
  /** and of what the whole week has */
  ofAll: number
}

/**
 * The usual rate by hour of the week, in hours of a zone. An hour of the week was seen only a few times: it is
 * drawn toward what its weekday and its hour of the day say, and these toward the mean.
 */
function usualWeek(heard: readonly number[], from: number, to: number, zone: string): UsualWeek {
  const clock = zoneClock(zone)
  const slot = (at: number) => {
    const { weekday, hour } = clock(at)
    return (weekday - 1) * 24 + hour
  }
  const counts = new Float64Array(HOURS_OF_WEEK)
  const hours = new Float64Array(HOURS_OF_WEEK)
  for (let at = from; at < to; at += HOUR_MS) hours[slot(at)]! += 1
  for (const at of heard) if (at >= from && at < to) counts[slot(at)]! += 1
  const total = counts.reduce((a, b) => a + b, 0)
  const mean = total / Math.max(1, (to - from) / HOUR_MS)

  const summed = (values: Float64Array, groups: number, groupOf: (slot: number) => number) => {
    const sums = new Float64Array(groups)
    values.forEach((value, s) => {
      sums[groupOf(s)]! += value
    })
    return sums
  }
  const factorsBy = (groups: number, groupOf: (slot: number) => number) =>
    factorsOf(
      summed(counts, groups, groupOf),
      summed(hours, groups, groupOf).map(n => n * mean),
    )
  const weekdays = factorsBy(7, s => Math.floor(s / 24))
  const hoursOfDay = factorsBy(24, s => s % 24)
  const said = hours.map((_, s) => mean * weekdays[Math.floor(s / 24)]!.times * hoursOfDay[s % 24]!.times)
  const own = factorsOf(
    counts,
    said.map((rate, s) => rate * hours[s]!),
  )
  return {
    at: at => {
      const s = slot(at)
      return {
        rate: said[s]! * own[s]!.times,
        weekday: Math.floor(s / 24),
        doubt: own[s]!.doubt + hoursOfDay[s % 24]!.doubt,
      }
    },
    ofWeekday: weekdays.map(factor => factor.doubt),
    ofAll: 1 / (total + 1),
  }
}

/** What a usual week comes to between two instants. */
function expectedBetween(usual: UsualWeek, from: number, to: number): Expected {
  const ofWeekday = new Float64Array(7)
  let variance = 0
  for (let at = from; at < to; ) {
    const next = Math.min(to, (Math.floor(at / HOUR_MS) + 1) * HOUR_MS)
    const { rate, weekday, doubt } = usual.at(at)
    const part = (rate * (next - at)) / HOUR_MS
    ofWeekday[weekday]! += part
    variance += part ** 2 * doubt
    at = next
  }
  const mean = ofWeekday.reduce((a, b) => a + b, 0)
  ofWeekday.forEach((part, weekday) => {
    variance += part ** 2 * usual.ofWeekday[weekday]!
  })
  return { mean, variance: variance + mean ** 2 * usual.ofAll }
}

/** P(X ≥ n) for a Poisson variable; by summing its terms from below. */
export function poissonAtLeast(n: number, mean: number): number {
  if (n <= 0) return 1
  let below = 0
  let logTerm = -mean
  for (let k = 0; k < n; k++) {
    below += Math.exp(logTerm)
    logTerm += Math.log(mean) - Math.log(k + 1)
  }
  return Math.max(0, 1 - below)
}

/**
 * P(X ≥ n) where the mean of a Poisson variable is known only as a gamma distribution: the negative binomial.
 * A rate that was seen a few weeks long lets more pass for chance than one that is certain.
 */
export function countAtLeast(n: number, { mean, variance }: Expected): number {
  if (variance <= 0 || mean <= 0) return poissonAtLeast(n, mean)
  const shape = mean ** 2 / variance
  const up = mean / (mean + shape)
  let term = (1 - up) ** shape
  let below = 0
  for (let k = 0; k < n; k++) {
    below += term
    term *= (up * (shape + k)) / (k + 1)
  }
  return Math.max(0, 1 - below)
}

/**
 * The state of a signal: quiet when so long a silence would come by chance in less
 * than one of a hundred cases, given the usual rate by hour of the week; too many when so many in the last
 * day would, or when more transactions are told again than is usual.
 *
 * @param heard in any order
 * @param zone the zone in which the site's week is lived
 * @param improbable less likely than this is no chance: smaller where many readings are made
 */
export function pulseOf(
  heard: readonly Heard[],
  now: number,
  zone: string,
  improbable = IMPROBABLE,
): PulseReading {
  const past = heard.filter(h => h.at <= now).sort((a, b) => a.at - b.at)
  const last = past.at(-1)
  const reading = { lastAt: last?.at ?? null, since: null, expected: 0, seen: 0, repeats: 0 }
  if (!last) return { ...reading, pulse: 'never_heard' }
  const times = past.map(h => h.at)
  const first = Math.max(times[0]!, now - HISTORY_DAYS * DAY_MS)

  const untilSilence = usualWeek(times, first, last.at + 1, zone)
  const missed = expectedBetween(untilSilence, last.at, now)
  if (1 - countAtLeast(1, missed) < improbable)
    return { ...reading, pulse: 'quiet', since: last.at, expected: missed.mean }

  const dayAgo = now - DAY_MS
  const lastDay = past.filter(h => h.at > dayAgo)
  const { repeats, firstRepeat, before } = repeatsIn(past, first, dayAgo)
  const days = Math.max(1, (dayAgo - first) / DAY_MS)
  const usual = first < dayAgo ? expectedBetween(usualWeek(times, first, dayAgo, zone), dayAgo, now) : null
  const facts = { ...reading, expected: usual?.mean ?? lastDay.length, seen: lastDay.length, repeats }
  if (poissonAtLeast(repeats, Math.max(before / days, USUAL_REPEATS)) < improbable)
    return { ...facts, pulse: 'too_many', since: firstRepeat }
  const atLeastOne = usual && { ...usual, mean: Math.max(usual.mean, 1) }
  if (atLeastOne && countAtLeast(lastDay.length, atLeastOne) < improbable)
    return { ...facts, pulse: 'too_many', since: dayAgo }
  return { ...facts, pulse: 'live' }
}

/** Transactions told again since an instant, and in the history before it. */
function repeatsIn(past: readonly Heard[], history: number, since: number) {
  const known = new Set<string>()
  let repeats = 0
  let before = 0
  let firstRepeat: number | null = null
  for (const { at, transaction } of past) {
    if (transaction === null) continue
    if (!known.has(transaction)) known.add(transaction)
    else if (at > since) {
      repeats += 1
      firstRepeat ??= at
    } else if (at > history) before += 1
  }
  return { repeats, firstRepeat, before }
}
