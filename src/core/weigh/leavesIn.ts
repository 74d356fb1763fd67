import type { Dataset, Order } from '../intake/dataset'
import { leavesBy } from '../intake/orderWorth'
import type { Settings } from '../intake/settings'
import { currencyExponent } from '../shared/money'
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
  countedBy,
  settings,
  tree,
}: Pick<Dataset, 'settings' | 'tree' | 'countedBy'>): Leaves {
  if (!countedBy) return leavesOfOne({ settings, tree })
  const each = new Map(
    [...countedBy].map(([result, own]) => [result, leavesOrTarget({ settings: own.settings, tree })]),
  )
  return (order, leaf) => each.get(order.result)?.(order, leaf) ?? order.leaves
}

type Leaves = (order: Pick<Order, 'value' | 'leaves' | 'product_group' | 'result'>, leaf: number) => number

/** What somebody aims at, where that is said, stands in place of what an order leaves. */
function leavesOrTarget(data: Pick<Dataset, 'settings' | 'tree'>): Leaves {
  const { settings, tree } = data
  const left = leavesOfOne(data)
  const rules = campaignRules(settings)
  const units = 10 ** (currencyExponent(settings.currency) ?? 2)
  const targets = tree.leaves.map(leaf => {
    const target = rules.get(pathKey(leaf.network, leaf.campaign))?.target_cost ?? settings.target_cost
    return target === undefined ? null : Math.round(target * units)
  })
  return (order, leaf) => targets[leaf] ?? left(order, leaf)
}

function leavesOfOne({ settings, tree }: Pick<Dataset, 'settings' | 'tree'>): Leaves {
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
