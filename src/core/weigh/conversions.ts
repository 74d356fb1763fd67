import { WHOLE } from '../evidence/place'
import { type AdTree, type Leaf, nameOf } from '../intake/tree'
import { inPeriod, type Period } from '../shared/days'
import { valueParts } from './credits'
import type { Evidence, Grade } from './evidence'
import { claimedOrders, gradeOf } from './evidence'

/** One ad's part of a result that counts, or one that no ad is known to have brought. */
export interface Conversion {
  order_id: string
  /** epoch ms */
  at: number
  evidence: Grade
  /** by what the ad is known */
  by: string
  network: string
  campaign_id: string
  campaign_name: string
  ad_set_id: string
  ad_set_name: string
  ad_id: string
  ad_name: string
  /** millionths of the result */
  share: number
  /** its part of what the result is worth, in minor units */
  value: number
  /** networks that claim it */
  claimedBy: string[]
}

/**
 * The results of a period that count, each once for every ad that has a part of it: parts sum to one, and values to
 * what the result is worth. One that no ad is known of is a line without one.
 *
 * @param network of one network alone
 */
export function conversionsOf(e: Evidence, period: Period, network?: string): Conversion[] {
  const { data, placements, matches } = e
  const claimed = claimedOrders(e)
  const claimants = new Map<number, Set<string>>()
  for (const [c, { order }] of matches.entries()) {
    if (order < 0) continue
    const known = claimants.get(order) ?? new Set()
    claimants.set(order, known.add(data.tree.networks[data.claims[c]!.network]!))
  }
  return data.orders.flatMap((order, o): Conversion[] => {
    if (!order.counts || !inPeriod(order.day, period)) return []
    const { by, credits } = placements[o]!
    const own = {
      order_id: order.order_id,
      at: order.ordered_at,
      evidence: gradeOf(e, o, claimed),
      by: by ?? '',
      claimedBy: [...(claimants.get(o) ?? [])].sort(),
    }
    if (credits.length === 0)
      return network === undefined
        ? [{ ...own, ...adOf(data.tree, null), share: WHOLE, value: order.value }]
        : []
    const values = valueParts(order.value, credits)
    return credits.flatMap(({ leaf, share }, i) => {
      const ad = data.tree.leaves[leaf]!
      return network !== undefined && ad.network !== network
        ? []
        : [{ ...own, ...adOf(data.tree, ad), share, value: values[i]! }]
    })
  })
}

function adOf(tree: AdTree, leaf: Leaf | null) {
  const { network = '', campaign = '', adSet = '', ad = '' } = leaf ?? {}
  const name = (level: 'campaign' | 'ad_set' | 'ad', id: string) => id && nameOf(tree, network, level, id)
  return {
    network,
    campaign_id: campaign,
    campaign_name: name('campaign', campaign),
    ad_set_id: adSet,
    ad_set_name: name('ad_set', adSet),
    ad_id: ad,
    ad_name: name('ad', ad),
  }
}
