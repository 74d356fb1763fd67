import { describe, expect, it } from 'vitest'
import type { Series } from './series'
import { splitStand } from './splitWinner'
import { findTiring } from './tiring'

it('of two pages with as many orders the one whose orders are worth more is the better', () => {
  const side = (each: number) => ({ arrivals: 1000, results: 60, worth: 60 * each, squares: 60 * each ** 2 })
  const { best } = splitStand([side(4000), side(9000)])
  expect(best[1]).toBeGreaterThan(0.95)
  expect(splitStand([side(4000), side(4000)]).best[0]).toBeCloseTo(0.5, 6)
})

describe('a trend', () => {
  /** Groups over twenty days, each with as many clicks a day as its list says, for a thousand impressions. */
  function clicksOf(groups: readonly number[][]): Series {
    const days = 20
    const of = (pick: (group: number, day: number) => number) =>
      Float64Array.from({ length: groups.length * days }, (_, i) => pick(Math.floor(i / days), i % days))
    const none = of(() => 0)
    return {
      from: 0,
      days,
      groups: groups.length,
      spend: none,
      impressions: of(() => 1000),
      clicks: of((group, day) => groups[group]![day]!),
      reach: none,
      reachedImpressions: none,
      claimed: none,
      results: none,
      value: none,
      leaves: none,
      variance: none,
    }
  }
  // About as strong as chance gives once in forty.
  const falling = Array.from({ length: 20 }, (_, day) => (day < 10 ? 10 : 7) + (day % 2))
  const level = Array.from({ length: 20 }, (_, day) => 10 + (day % 2))
  it('that is looked for once is seen', () => {
    const [[alone] = []] = findTiring(clicksOf([falling]))
    expect(alone).toMatchObject({ in: 'click_rate' })
    expect(alone!.chance).toBeLessThan(0.05)
    expect(alone!.chance).toBeGreaterThan(0.05 / 40)
  })
  it('that chance would give somewhere among many that are looked at is none', () => {
    expect(findTiring(clicksOf([falling, ...Array<number[]>(39).fill(level)])).flat()).toEqual([])
  })
})
