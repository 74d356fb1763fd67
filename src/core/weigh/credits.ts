import { type Credit, WHOLE } from '../evidence/place'
import { inPeriod, type Period } from '../shared/days'
import type { Evidence } from './evidence'

/** What each credit of an order is worth: whole minor units that sum to the order's value. */
export function valueParts(value: number, credits: readonly Credit[]): number[] {
  let left = value
  return credits.map((credit, i) => {
    const part = i === credits.length - 1 ? left : Math.floor((value * credit.share) / WHOLE)
    left -= part
    return part
  })
}

/** One ad click's part of an order that it is proven to have brought. */
export interface ProvenCredit {
  network: string
  clickId: string
  /** epoch ms */
  clickedAt: number
  orderId: string
  /** millionths of the order */
  share: number
  /** its part of what the order is worth, in minor units of the workspace's currency */
  value: number
}

/**
 * The clicks that are proven to have brought the orders of a period, by the credit rule of the settings.
 * All parts of one order sum to the order.
 *
 * @param network of one network alone
 */
export function provenCredits(
  { data, placements }: Evidence,
  period: Period,
  network?: string,
): ProvenCredit[] {
  return data.orders.flatMap((order, o) => {
    const { grade, credits } = placements[o]!
    if (grade !== 'proven' || !order.counts || !inPeriod(order.day, period)) return []
    const values = valueParts(order.value, credits)
    return credits.flatMap((credit, i) => {
      const of = data.tree.leaves[credit.leaf]!.network
      if (credit.click < 0 || (network !== undefined && of !== network)) return []
      return [
        {
          network: of,
          clickId: data.clicks.ids[credit.click]!,
          clickedAt: data.clicks.at[credit.click]!,
          orderId: order.order_id,
          share: credit.share,
          value: values[i]!,
        },
      ]
    })
  })
}
