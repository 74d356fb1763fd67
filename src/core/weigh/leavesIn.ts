import type { Dataset, Order } from '../intake/dataset'
import { leavesBy } from '../intake/orderWorth'
import type { Settings } from '../intake/settings'
import { pathKey } from '../shared/path'

type CampaignRule = Settings['campaign_rules'][number]

/** What is said of a campaign apart from all others, by its path. */
export const campaignRules = ({ campaign_rules }: Settings): ReadonlyMap<string, CampaignRule> =>
  new Map(campaign_rules.map(rule => [pathKey(rule.network, rule.campaign), rule]))

/**
 * What an order leaves for its ad and for profit at a leaf: by the margin and fee of the leaf's campaign where it has
 * its own, which stand before those of the order's group; parts of minor units.
 */
export function leavesIn({
  settings,
  tree,
}: Pick<Dataset, 'settings' | 'tree'>): (
  order: Pick<Order, 'value' | 'leaves' | 'product_group'>,
  leaf: number,
) => number {
  const rules = campaignRules(settings)
  if (rules.size === 0) return order => order.leaves
  const ofCampaign = new Map(
    [...rules]
      .filter(([, { margin, fee }]) => margin !== undefined || fee !== undefined)
      .map(([key, { margin, fee }]) => [
        key,
        leavesBy({
          ...settings,
          margin: margin ?? settings.margin,
          fee: fee ?? settings.fee,
          product_groups: settings.product_groups.map(group => ({
            ...group,
            // A campaign's own margin is of all that it sells, whatever one of a group may cost elsewhere.
            ...(margin !== undefined && { margin: undefined, target_cost: undefined }),
            ...(fee !== undefined && { fee: undefined }),
          })),
        }),
      ]),
  )
  const byLeaf = tree.leaves.map(leaf => ofCampaign.get(pathKey(leaf.network, leaf.campaign)))
  return (order, leaf) => byLeaf[leaf]?.(order.value, order.product_group) ?? order.leaves
}
