import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DAY_MS, HOUR_MS } from '../shared/days'
import { episodesOf, isKnown, lostClicks } from './alarms'

const NOW = Date.UTC(2026, 10, 20)
const day = (n: number) => NOW - n * DAY_MS
const hourly = (from: number, to: number) =>
  Array.from({ length: Math.floor((to - from) / HOUR_MS) }, (_, i) => ({
    at: from + i * HOUR_MS + 1000,
    transaction: `${from + i * HOUR_MS}`,
  }))

describe('episodes of a signal', () => {
  it('tell of days on which transactions were told again, from when to when', () => {
    const again = hourly(day(30), day(26)).map(h => ({ ...h, at: h.at + 20_000 }))
    const [episode, ...others] = episodesOf([...hourly(day(60), NOW), ...again], day(75), NOW, 'UTC')
    expect(others).toEqual([])
    expect(episode!.pulse).toBe('too_many')
    expect(episode!.repeats).toBeGreaterThanOrEqual(23)
    expect(Math.abs(episode!.since - day(30))).toBeLessThan(DAY_MS)
    expect(Math.abs(episode!.until! - day(26))).toBeLessThanOrEqual(DAY_MS)
  })
  it('tell of a silence that ended, and of one that lasts', () => {
    const heard = [...hourly(day(60), day(20)), ...hourly(day(18), day(2))]
    const found = episodesOf(heard, day(75), NOW, 'UTC').filter(e => e.pulse === 'quiet')
    expect(
      found.map(e => [Math.round((e.since - NOW) / DAY_MS), e.until && Math.round((e.until - NOW) / DAY_MS)]),
    ).toEqual([
      [-20, -18],
      [-2, null],
    ])
  })
  it('count what a long one held at its worst, and keep two apart between which it was as usual', () => {
    const flood = (n: number, many: number) =>
      Array.from({ length: many }, (_, i) => ({ at: day(n) - 3 * HOUR_MS + i * 60_000, transaction: null }))
    const heard = [...hourly(day(60), NOW), ...flood(12, 100), ...flood(11, 60), ...flood(5, 80)]
    const found = episodesOf(heard, day(75), NOW, 'UTC')
    expect(found).toMatchObject([
      { pulse: 'too_many', since: day(13), until: day(11), seen: 124, repeats: 0 },
      { pulse: 'too_many', since: day(6), until: day(5), seen: 104, repeats: 0 },
    ])
    expect(found[0]!.expected).toBeGreaterThan(22)
    expect(found[0]!.expected).toBeLessThan(30)
  })
  it('are at their worst where more was told again, however many came', () => {
    const again = (n: number, many: number) =>
      hourly(day(n), day(n - 1))
        .slice(0, many)
        .map(h => ({ ...h, at: h.at + 1000 }))
    const heard = [...hourly(day(60), NOW), ...again(10, 8), ...again(9, 14)]
    expect(episodesOf(heard, day(75), NOW, 'UTC')).toMatchObject([{ pulse: 'too_many', repeats: 14 }])
    const turned = [...hourly(day(60), NOW), ...again(10, 14), ...again(9, 8)]
    expect(episodesOf(turned, day(75), NOW, 'UTC')).toMatchObject([{ pulse: 'too_many', repeats: 14 }])
  })
  it('have no end while they last, and are read from eight days of history on', () => {
    const flood = Array.from({ length: 100 }, (_, i) => ({ at: NOW - i * 60_000, transaction: null }))
    expect(episodesOf([...hourly(day(60), NOW), ...flood], day(75), NOW, 'UTC')).toMatchObject([
      { pulse: 'too_many', until: null, seen: 124 },
    ])
    // Of a silence within the first eight days nothing can be said.
    const young = [...hourly(day(12), day(8)), ...hourly(day(6), NOW)]
    expect(episodesOf(young, day(75), NOW, 'UTC').filter(e => e.pulse === 'quiet')).toEqual([])
  })
  it('are read from the day that is asked for', () => {
    const heard = [...hourly(day(60), day(40)), ...hourly(day(38), day(2))]
    expect(episodesOf(heard, day(20), NOW, 'UTC').map(e => e.until)).toEqual([null])
  })
  it.each([
    [8, true],
    [9, true],
    [7.9, false],
  ])('a signal first heard %d days ago is known: %s', (days, known) => {
    expect(
      isKnown(
        [
          { at: day(1), transaction: null },
          { at: day(days), transaction: null },
        ],
        NOW,
      ),
    ).toBe(known)
    expect(isKnown([], NOW)).toBe(false)
  })
  it('are none where all goes on as usual', () => {
    expect(episodesOf(hourly(day(60), NOW), day(75), NOW, 'UTC')).toEqual([])
    expect(episodesOf([], day(75), NOW, 'UTC')).toEqual([])
  })
})

describe('clicks that are billed and do not arrive', () => {
  const usual = (ad: number) =>
    Array.from({ length: 30 }, (_, i) => ({ ad, network: 0, day: 100 + i, billed: 25, seen: 24 }))
  it('name the ad and the days', () => {
    const days = [...usual(1), ...usual(2)].map(d =>
      d.ad === 2 && (d.day === 110 || d.day === 111) ? { ...d, seen: 0 } : d,
    )
    expect(lostClicks(days)).toEqual([{ ad: 2, from: 110, to: 111, billed: 50, seen: 0 }])
  })
  it('hold each network to its own share, and add up days in a row', () => {
    // Half of this network's clicks never arrive; that is as usual there.
    const half = Array.from({ length: 30 }, (_, i) => ({
      ad: 7,
      network: 1,
      day: 100 + i,
      billed: 40,
      seen: i === 12 || i === 13 ? 2 : 20,
    }))
    expect(lostClicks([...usual(1), ...half])).toEqual([{ ad: 7, from: 112, to: 113, billed: 80, seen: 4 }])
    const parted = half.map(d => ({ ...d, seen: d.day === 103 || d.day === 105 ? 2 : 20 }))
    expect(lostClicks(parted).map(({ from, to }) => [from, to])).toEqual([
      [103, 103],
      [105, 105],
    ])
    // More seen than billed is no reason to expect more than was billed.
    expect(lostClicks(usual(1).map((d, i) => ({ ...d, seen: i === 3 ? 20 : 60 })))).toEqual([])
  })
  it('are none where only chance takes some, nor where nothing of the network is tracked', () => {
    expect(lostClicks(usual(1).map((d, i) => ({ ...d, seen: 20 + (i % 5) })))).toEqual([])
    expect(lostClicks(usual(1).map(d => ({ ...d, seen: 0 })))).toEqual([])
  })
  it('are never more than were billed, and their days never overlap', () => {
    const days = fc.array(
      fc.record({
        ad: fc.nat(3),
        network: fc.constant(0),
        day: fc.nat(40),
        billed: fc.nat(60),
        seen: fc.nat(60),
      }),
      { maxLength: 80 },
    )
    fc.assert(
      fc.property(days, all => {
        const distinct = [...new Map(all.map(d => [`${d.ad} ${d.day}`, d])).values()]
        const found = lostClicks(distinct)
        for (const one of found) expect(one.seen).toBeLessThanOrEqual(one.billed)
        found.forEach((one, i) => {
          const next = found[i + 1]
          if (next?.ad === one.ad) expect(next.from).toBeGreaterThan(one.to + 1)
        })
      }),
    )
  })
})
