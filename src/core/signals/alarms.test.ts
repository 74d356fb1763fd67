import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DAY_MS, HOUR_MS } from '../shared/days'
import { episodesOf, lostClicks } from './alarms'

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
