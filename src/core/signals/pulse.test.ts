import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DAY_MS, HOUR_MS } from '../shared/days'
import { type Heard, poissonAtLeast, pulseOf } from './pulse'

const NOW = Date.UTC(2026, 10, 20, 12)
/** One an hour for some days, half past each, up to some hours ago. */
const steady = (days: number, hoursAgo = 0): Heard[] =>
  Array.from({ length: days * 24 - hoursAgo }, (_, i) => ({
    at: NOW - (hoursAgo + i + 0.5) * HOUR_MS,
    transaction: null,
  }))
const read = (heard: Heard[], improbable?: number) => pulseOf(heard, NOW, 'UTC', improbable)

describe('the reading of a signal', () => {
  it('says what was usual and what came in the last day', () => {
    expect(read(steady(22))).toEqual({
      pulse: 'live',
      lastAt: NOW - HOUR_MS / 2,
      since: null,
      expected: expect.closeTo(24, 0),
      seen: 24,
      repeats: 0,
    })
  })
  it('knows of a single one no more than that it came', () => {
    expect(read([{ at: NOW - HOUR_MS, transaction: null }])).toMatchObject({
      pulse: 'live',
      expected: 1,
      seen: 1,
    })
    expect(read([])).toEqual({
      pulse: 'never_heard',
      lastAt: null,
      since: null,
      expected: 0,
      seen: 0,
      repeats: 0,
    })
  })
  it('passes over what is said to come later', () => {
    const later = { at: NOW + HOUR_MS, transaction: null }
    expect(read([...steady(22), later])).toEqual(read(steady(22)))
    expect(read([...steady(22), { at: NOW, transaction: null }]).seen).toBe(25)
    expect(read([later]).pulse).toBe('never_heard')
  })
  it('does not depend on the order', () => {
    expect(read(steady(22).reverse())).toEqual(read(steady(22)))
  })
  it('says since when it is silent, and how many should have come', () => {
    const quiet = read(steady(22, 10))
    expect(quiet).toMatchObject({ pulse: 'quiet', since: NOW - 10.5 * HOUR_MS, seen: 0, repeats: 0 })
    expect(quiet.expected).toBeGreaterThan(9)
    expect(quiet.expected).toBeLessThan(11.5)
  })
  it('is quiet sooner where more is usual, and later where it must be more improbable', () => {
    const silent = (hours: number, improbable?: number) => read(steady(22, hours), improbable).pulse
    // e⁻⁵ is 0.7 %, and the rate itself is not certain; e⁻³ is 5 %.
    expect([silent(3), silent(7)]).toEqual(['live', 'quiet'])
    expect(silent(7, 1e-6)).toBe('live')
    expect(silent(3, 0.2)).toBe('quiet')
  })
  it('knows the hours of the week: noon on a Sunday is not noon on a Friday', () => {
    const fridays = Array.from({ length: 12 }, (_, week) =>
      Array.from({ length: 30 }, (_, i) => ({
        at: NOW - (week * 7 * 24 + 0.5) * HOUR_MS + i * 60_000,
        transaction: null,
      })),
    ).flat()
    const friday = pulseOf(fridays, NOW, 'UTC')
    // Thirty within an hour, all of them on Fridays at that hour: as many as ever.
    expect(friday).toMatchObject({ pulse: 'live', seen: 30 })
    const moved = fridays.map(h => (h.at > NOW - DAY_MS ? { ...h, at: h.at - 12 * HOUR_MS } : h))
    expect(pulseOf(moved, NOW - 11 * HOUR_MS, 'UTC').pulse).toBe('too_many')
  })
  it.each([
    ['that come as well on a Sunday', 1],
    ['of whom few come on a weekend', 0.4],
    ['of whom none comes on a weekend', 0],
  ])('is seldom other than usual by chance: shoppers %s', (_, weekend) => {
    // Draws of one stream, always the same.
    const draws = fc.sample(fc.noBias(fc.nat(1e9)), { seed: 7, numRuns: 300_000 })
    let drawn = 0
    const chance = () => draws[drawn++ % draws.length]! / 1e9
    const readings = Array.from({ length: 100 }, (_, i) => {
      const now = NOW + (i % 7) * DAY_MS + Math.floor(chance() * 24) * HOUR_MS
      const heard: Heard[] = []
      for (let at = now - 33 * DAY_MS; at < now; at += HOUR_MS / 4) {
        const day = new Date(at).getUTCDay()
        const hour = new Date(at).getUTCHours()
        const rate = (hour < 7 ? 0.2 : 1.4) * (day === 0 || day === 6 ? weekend : 1)
        // At most one in a quarter of an hour.
        if (chance() < rate / 4) heard.push({ at, transaction: null })
      }
      return pulseOf(heard, now, 'UTC').pulse
    })
    // Each of two alarms has one chance in a hundred.
    expect(readings.filter(pulse => pulse !== 'live').length).toBeLessThanOrEqual(5)
  })
  it('is too many where so many come by no chance, a day long', () => {
    const flood = Array.from({ length: 40 }, (_, i) => ({ at: NOW - i * 60_000, transaction: null }))
    expect(read([...steady(22), ...flood])).toMatchObject({
      pulse: 'too_many',
      seen: 64,
      since: NOW - DAY_MS,
      repeats: 0,
    })
    // Ten more than twenty-four may be chance.
    expect(read([...steady(22), ...flood.slice(0, 8)]).pulse).toBe('live')
  })
  it('calls nothing too many while no more than a day is known', () => {
    const flood = Array.from({ length: 400 }, (_, i) => ({ at: NOW - i * 60_000, transaction: null }))
    expect(read(flood)).toMatchObject({ pulse: 'live', seen: 400, expected: 400 })
  })
  it('says when a transaction was first told again, and how often', () => {
    const named = steady(22).map((h, i) => ({ ...h, transaction: `T${i}` }))
    const again = [3, 2, 1, 0].map(i => ({ ...named[i]!, at: NOW - (i + 0.25) * HOUR_MS }))
    expect(read([...named, ...again])).toMatchObject({
      pulse: 'too_many',
      repeats: 4,
      since: NOW - 3.25 * HOUR_MS,
    })
    // Without a transaction nothing is known to be the same.
    expect(read([...steady(22), ...again.map(h => ({ ...h, transaction: null }))]).repeats).toBe(0)
    // One alone may happen.
    expect(read([...named, again[0]!])).toMatchObject({ pulse: 'live', repeats: 1 })
  })
  it('knows how often transactions are told again as a rule', () => {
    const named = steady(22).map((h, i) => ({ ...h, transaction: `T${i}` }))
    const usual = named.filter((_, i) => i % 6 === 0).map(h => ({ ...h, at: h.at + 60_000 }))
    expect(read([...named, ...usual])).toMatchObject({ pulse: 'live', repeats: 4 })
  })
})

describe('the Poisson law', () => {
  it('is sure of none or more, and sums to what is left', () => {
    expect([poissonAtLeast(0, 5), poissonAtLeast(-1, 5)]).toEqual([1, 1])
    expect(poissonAtLeast(2, 1)).toBeCloseTo(1 - 2 * Math.exp(-1), 12)
    expect(poissonAtLeast(40, 1)).toBeGreaterThanOrEqual(0)
  })
})
