import type { AdTree } from '../intake/tree'
import { pathKey } from '../shared/path'

/** What is known beforehand of an ad's orders for each click: gamma-distributed about a rate. */
export interface RatePrior {
  rate: number
  /** weight of the rate, in orders */
  shape: number
}

interface Group {
  parent: string
  key: string
  orders: number
  exposure: number
}

/** The square of the coefficient of variation lies within these. */
const LEAST_SPREAD = 0.02
const MOST_SPREAD = 2

/**
 * Rates of orders for each click of a network's ads, each ad's drawn toward its ad set, the ad set's toward its
 * campaign, the campaign's toward the network (gamma–Poisson, spreads by the method of moments).
 *
 * @param leaves of one network
 * @param orders per leaf
 * @param exposure per leaf: clicks, times the share of their orders that is seen
 * @returns for each of the leaves its prior; null for those without clicks
 */
export function ratePriors(
  { leaves: all }: AdTree,
  leaves: readonly number[],
  orders: ArrayLike<number>,
  exposure: ArrayLike<number>,
): (RatePrior | null)[] {
  const own = leaves.filter(leaf => exposure[leaf]! > 0)
  const total = own.reduce((sum, leaf) => sum + orders[leaf]!, 0.5)
  const clicks = own.reduce((sum, leaf) => sum + exposure[leaf]!, 1)
  const whole = total / clicks
  const grouped = (keyOf: (leaf: number) => string, parentOf: (leaf: number) => string) => {
    const groups = new Map<string, Group>()
    for (const leaf of own) {
      const key = keyOf(leaf)
      let group = groups.get(key)
      if (!group) groups.set(key, (group = { parent: parentOf(leaf), key, orders: 0, exposure: 0 }))
      group.orders += orders[leaf]!
      group.exposure += exposure[leaf]!
    }
    return [...groups.values()]
  }
  const campaignOf = (leaf: number) => all[leaf]!.campaign
  const setOf = (leaf: number) => pathKey(all[leaf]!.campaign, all[leaf]!.adSet)
  const drawn = (groups: readonly Group[], base: (group: Group) => number, shape: number) =>
    new Map(
      groups.map(group => {
        const rate = base(group)
        return [group.key, (group.orders + shape) / (group.exposure + shape / rate)]
      }),
    )
  const campaigns = grouped(campaignOf, () => '')
  const ofCampaign = drawn(
    campaigns,
    () => whole,
    shapeOf(campaigns, () => whole),
  )
  const sets = grouped(setOf, campaignOf)
  const toCampaign = (group: Group) => ofCampaign.get(group.parent)!
  const ofSet = drawn(sets, toCampaign, shapeOf(sets, toCampaign))
  const ads = grouped(String, setOf)
  const shape = shapeOf(ads, ad => ofSet.get(ad.parent)!)
  return leaves.map(leaf => (exposure[leaf]! > 0 ? { rate: ofSet.get(setOf(leaf))!, shape } : null))
}

/** Weight of a group's parent by how much groups differ beyond chance. */
function shapeOf(groups: readonly Group[], base: (group: Group) => number): number {
  let [excess, squares] = [0, 0]
  for (const group of groups) {
    const expected = base(group) * group.exposure
    excess += (group.orders - expected) ** 2 - group.orders
    squares += expected * expected
  }
  const spread = squares > 0 ? excess / squares : LEAST_SPREAD
  return 1 / Math.min(MOST_SPREAD, Math.max(LEAST_SPREAD, spread))
}
