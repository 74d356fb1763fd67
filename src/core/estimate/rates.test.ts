import { describe, expect, it } from 'vitest'
import type { AdTree } from '../intake/tree'
import { ratePriors } from './rates'

/** Ads as campaign and ad set, in the order of their numbers. */
const tree = (...ads: [campaign: string, adSet: string][]) =>
  ({ leaves: ads.map(([campaign, adSet], i) => ({ network: 'n', campaign, adSet, ad: `a${i}` })) }) as AdTree

/** The same by the method of moments, written as it is defined. */
function byMoments(groups: { orders: number; exposure: number; base: number }[]): number {
  const expected = groups.map(({ exposure, base }) => exposure * base)
  const excess = groups.reduce((sum, { orders }, i) => sum + (orders - expected[i]!) ** 2 - orders, 0)
  const spread = excess / expected.reduce((sum, one) => sum + one ** 2, 0)
  return 1 / Math.min(2, Math.max(0.02, spread))
}

describe('what is known beforehand of an ad’s rate', () => {
  const ads = tree(['c', 's'], ['c', 's'], ['c', 't'], ['d', 'u'])
  const orders = [30, 4, 12, 90]
  const exposure = [1000, 400, 300, 2000]
  it('is its ad set’s, drawn to its campaign’s, drawn to the network’s, each by how much such differ', () => {
    const whole = (30 + 4 + 12 + 90 + 0.5) / (3700 + 1)
    const drawn = (own: number, of: number, shape: number, base: number) =>
      (own + shape) / (of + shape / base)
    const atCampaigns = byMoments([
      { orders: 46, exposure: 1700, base: whole },
      { orders: 90, exposure: 2000, base: whole },
    ])
    const [c, d] = [drawn(46, 1700, atCampaigns, whole), drawn(90, 2000, atCampaigns, whole)]
    const atSets = byMoments([
      { orders: 34, exposure: 1400, base: c },
      { orders: 12, exposure: 300, base: c },
      { orders: 90, exposure: 2000, base: d },
    ])
    const [s, t, u] = [drawn(34, 1400, atSets, c), drawn(12, 300, atSets, c), drawn(90, 2000, atSets, d)]
    const shape = byMoments([
      { orders: 30, exposure: 1000, base: s },
      { orders: 4, exposure: 400, base: s },
      { orders: 12, exposure: 300, base: t },
      { orders: 90, exposure: 2000, base: u },
    ])
    const found = ratePriors(ads, [0, 1, 2, 3], orders, exposure)
    expect(found.map(prior => prior!.rate)).toEqual([s, s, t, u].map(rate => expect.closeTo(rate, 12)))
    expect(found.map(prior => prior!.shape)).toEqual([0, 1, 2, 3].map(() => expect.closeTo(shape, 9)))
  })
  it('is of one network alone, and of none without clicks', () => {
    const alone = ratePriors(ads, [0, 1], orders, exposure)
    expect(alone).toHaveLength(2)
    expect(alone).not.toEqual(ratePriors(ads, [0, 1, 2, 3], orders, exposure).slice(0, 2))
    const some = ratePriors(ads, [0, 1], orders, [1000, 0, 300, 2000])
    expect(some[1]).toBeNull()
    expect(some[0]!.rate).toBeCloseTo(30.5 / 1001, 3)
    expect(ratePriors(ads, [0], [0, 0, 0, 0], [0, 0, 0, 0])).toEqual([null])
  })
  it('weighs much where ads are alike, and little where they differ', () => {
    const alike = ratePriors(
      tree(['c', 's'], ['c', 's'], ['c', 's']),
      [0, 1, 2],
      [50, 50, 50],
      [1000, 1000, 1000],
    )
    expect(alike[0]!.shape).toBe(50)
    const unlike = ratePriors(
      tree(['c', 's'], ['c', 's'], ['c', 's']),
      [0, 1, 2],
      [1, 900, 2],
      [1000, 1000, 1000],
    )
    expect(unlike[0]!.shape).toBeLessThan(1.2)
    expect(unlike[0]!.shape).toBeGreaterThanOrEqual(0.5)
  })
  it('parts ad sets of one name in two campaigns', () => {
    const [one, two] = ratePriors(tree(['c', 's'], ['d', 's']), [0, 1], [10, 200], [1000, 1000])
    expect(one!.rate).toBeLessThan(two!.rate / 3)
  })
})
