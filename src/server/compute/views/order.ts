import { WHOLE } from '@/core/evidence/place'
import { touchesOfOrder } from '@/core/evidence/touches'
import { type AdTree, nameOf } from '@/core/intake/tree'
import { formatDay } from '@/core/shared/days'
import { claimedOrders, type Evidence, gradeOf } from '@/core/weigh/evidence'

/** The network, campaign and ad of a leaf, by their names; empty where nobody broke it down. */
export function namedAt(tree: AdTree, leaf: number): { network: string; campaign: string; ad: string } {
  const { network, campaign, ad } = tree.leaves[leaf]!
  return {
    network,
    campaign: campaign ? nameOf(tree, network, 'campaign', campaign) : '',
    ad: ad ? nameOf(tree, network, 'ad', ad) : '',
  }
}

export function orderLine(e: Evidence, o: number, grade: ReturnType<typeof gradeOf>) {
  const { data, placements } = e
  const order = data.orders[o]!
  const placement = placements[o]!
  return {
    id: order.order_id,
    at: order.ordered_at,
    status: order.status,
    counts: order.counts,
    /** whether a rule of the tag alone tells of it */
    told: order.told,
    value: order.value,
    grade,
    by: placement.by,
    touches: placement.touches.length,
    credits: placement.credits.map(c => {
      const leaf = data.tree.leaves[c.leaf]!
      return {
        network: leaf.network,
        campaignId: leaf.campaign,
        campaign: leaf.campaign ? nameOf(data.tree, leaf.network, 'campaign', leaf.campaign) : '',
        ad: leaf.ad ? nameOf(data.tree, leaf.network, 'ad', leaf.ad) : '',
        share: c.share / WHOLE,
        clickId: c.click >= 0 ? data.clicks.ids[c.click]! : null,
        clickedAt: c.click >= 0 ? data.clicks.at[c.click]! : null,
      }
    }),
  }
}
export type OrderLine = ReturnType<typeof orderLine>

/** How the named orders are known; those that are not among the judged ones are left out. */
export function orderEvidenceView(e: Evidence, ids: readonly string[]): OrderLine[] {
  const wanted = new Set(ids)
  const claimed = claimedOrders(e)
  return e.data.orders.flatMap((order, o) =>
    wanted.has(order.order_id) ? [orderLine(e, o, gradeOf(e, o, claimed))] : [],
  )
}

/** One order with all touches of whoever placed it and the claims on it; null for one that is not judged. */
export function orderView(e: Evidence, id: string) {
  const { data, placements, matches } = e
  const o = data.orders.findIndex(order => order.order_id === id)
  if (o < 0) return null
  const named = (leaf: number) => namedAt(data.tree, leaf)
  return {
    line: orderLine(e, o, gradeOf(e, o, claimedOrders(e))),
    touches: touchesOfOrder(data, o, placements[o]!).map(({ click, ...touch }) => ({
      ...touch,
      clickId: data.clicks.ids[click]!,
      at: data.clicks.at[click]!,
      ...named(data.clicks.leaf[click]!),
    })),
    claims: matches.flatMap((match, c) => {
      const claim = data.claims[c]!
      return match.order === o
        ? [
            {
              ...named(claim.leaf),
              kind: claim.kind,
              at: claim.at,
              day: formatDay(claim.day),
              value: claim.value,
              by: match.by,
            },
          ]
        : []
    }),
  }
}
