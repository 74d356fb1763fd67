import { DAY_MS, type Day, startOfDay, zoneClock } from '../shared/days'
import { type Heard, IMPROBABLE, type PulseReading, poissonAtLeast, pulseOf } from './pulse'

/** A time in which a signal was not as usual. */
export interface Episode {
  pulse: 'quiet' | 'too_many'
  /** epoch ms */
  since: number
  /** epoch ms; null while it lasts */
  until: number | null
  /** at its worst: how many were expected, came, and were told again */
  expected: number
  seen: number
  repeats: number
}

/** So much history is needed before a signal's usual rate is known. */
const KNOWN_AFTER_DAYS = 8
const worse = (a: PulseReading, b: PulseReading) =>
  b.repeats > a.repeats ||
  (b.repeats === a.repeats && Math.abs(b.seen - b.expected) > Math.abs(a.seen - a.expected))
    ? b
    : a

/** Whether a signal was heard long enough before an instant that its usual rate is known. */
export const isKnown = (heard: readonly Heard[], now: number): boolean =>
  heard.some(h => h.at + KNOWN_AFTER_DAYS * DAY_MS <= now)

/**
 * The episodes of a signal: its pulse is read at the end of every day, and days in a row that are alike are
 * one episode. Past days are many, so that each must be the more improbable (Bonferroni); what lasts is read
 * as everywhere.
 *
 * @param heard in any order
 * @param from epoch ms from which on days are read
 * @param now epoch ms; an episode that lasts until then has no end
 */
export function episodesOf(heard: readonly Heard[], from: number, now: number, zone: string): Episode[] {
  const inTime = [...heard].sort((a, b) => a.at - b.at)
  const first = inTime[0]?.at
  if (first === undefined) return []
  const episodes: (Episode & { reading: PulseReading })[] = []
  let lasts = false
  let end = 0
  const readings = [...ends(Math.max(from, first + KNOWN_AFTER_DAYS * DAY_MS), now, zone)]
  for (const at of readings) {
    while (end < inTime.length && inTime[end]!.at <= at) end += 1
    const improbable = at === now ? IMPROBABLE : IMPROBABLE / readings.length
    const reading = pulseOf(inTime.slice(0, end), at, zone, improbable)
    const { pulse } = reading
    if (pulse !== 'quiet' && pulse !== 'too_many') {
      lasts = false
      continue
    }
    const last = episodes.at(-1)
    if (lasts && last?.pulse === pulse) {
      last.reading = worse(last.reading, reading)
      last.until = at
      continue
    }
    lasts = true
    episodes.push({
      pulse,
      since: reading.since ?? at - DAY_MS,
      until: at,
      expected: 0,
      seen: 0,
      repeats: 0,
      reading,
    })
  }
  return episodes.map(({ reading: { expected, seen, repeats }, ...episode }) => {
    // A silence ends with the next that is heard.
    const next = inTime.find(h => h.at > episode.since)?.at ?? null
    const until = episode.pulse === 'quiet' ? next : episode.until === now ? null : episode.until
    return { ...episode, until, expected, seen, repeats }
  })
}

/** The ends of days between two instants, the last instant included. */
function* ends(from: number, now: number, zone: string): Generator<number> {
  for (let day = zoneClock(zone)(from).day + 1; ; day++) {
    const at = startOfDay(day, zone)
    if (at >= now) break
    yield at
  }
  yield now
}

/** Clicks of one ad on one day, as the network bills them and as our tracking domain saw them. */
export interface AdDay {
  ad: number
  network: number
  day: Day
  billed: number
  seen: number
}
/** Days in a row on which an ad's clicks did not arrive: its link is broken, or was. */
export interface LostClicks {
  ad: number
  from: Day
  to: Day
  billed: number
  seen: number
}

/** Of all ad-days together: so many false alarms are borne. */
const FALSE_ALARMS = 0.01

/**
 * Ads whose clicks are billed and do not arrive: fewer than chance explains, given what share of its
 * network's clicks arrives as a rule (Poisson, Bonferroni over all ad-days).
 */
export function lostClicks(days: readonly AdDay[]): LostClicks[] {
  const sums = new Map<number, { billed: number; seen: number }>()
  for (const { network, billed, seen } of days) {
    const sum = sums.get(network) ?? { billed: 0, seen: 0 }
    sums.set(network, { billed: sum.billed + billed, seen: sum.seen + seen })
  }
  const improbable = FALSE_ALARMS / Math.max(1, days.length)
  const lost = days
    .filter(({ network, billed, seen }) => {
      const sum = sums.get(network)!
      // A network of which nothing is ever seen is not tracked at all.
      if (sum.seen === 0) return false
      const expected = billed * Math.min(1, sum.seen / sum.billed)
      return 1 - poissonAtLeast(seen + 1, expected) < improbable
    })
    .sort((a, b) => a.ad - b.ad || a.day - b.day)
  const found: LostClicks[] = []
  for (const { ad, day, billed, seen } of lost) {
    const last = found.at(-1)
    if (last?.ad === ad && last.to + 1 === day) {
      last.to = day
      last.billed += billed
      last.seen += seen
    } else found.push({ ad, from: day, to: day, billed, seen })
  }
  return found
}
