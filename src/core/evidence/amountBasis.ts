import type { Dataset, Order } from '../intake/dataset'
import type { Reconciliation } from './gap'

/** What of an order a network may mean by its value. */
export const bases = {
  total: order => order.total,
  without_shipping: order => order.total - order.shipping,
  without_tax: order => order.total - order.tax,
  net: order => order.total - order.tax - order.shipping,
} as const satisfies Record<string, (order: Order) => number>
export type Basis = keyof typeof bases
export const basisNames = Object.keys(bases) as Basis[]

/** How a network's amounts stand to the shop's, over the orders of a period that both have and it lists. */
export interface AmountBasis {
  network: number
  /** orders that stand on both sides, where the network says a value */
  pairs: number
  /** how many of these claims are the order's amount by each basis, before and after refunds */
  fits: Record<Basis, { before: number; after: number }>
  /** the basis that fits most of them, where it fits more than half; null where none does */
  best: { basis: Basis; refunds: 'before' | 'after'; share: number } | null
  /** what claims say, and what the orders come to by the basis that fits best, in minor units */
  claimed: number
  booked: number
}

/**
 * Which amount each network seems to report. Claims count as the same that differ by at most a cent, which
 * converting and rounding may make.
 *
 * @returns networks with pairs, in the order of the tree
 */
export function amountBases(data: Dataset, fates: Reconciliation): AmountBasis[] {
  const pairs = new Map<number, { order: Order; value: number }[]>()
  fates.orders.forEach((fate, o) => {
    const claim = fate === 'matched' ? data.claims[fates.claimOf[o]!]! : null
    // What a daily sum comes to for one order is our own division.
    if (!claim?.valued || claim.at === null) return
    const own = pairs.get(claim.network) ?? []
    own.push({ order: data.orders[o]!, value: claim.value })
    pairs.set(claim.network, own)
  })
  return [...pairs]
    .sort((a, b) => a[0] - b[0])
    .map(([network, own]) => {
      const fits = Object.fromEntries(
        basisNames.map(basis => [
          basis,
          {
            before: own.filter(fitting(basis, 'before')).length,
            after: own.filter(fitting(basis, 'after')).length,
          },
        ]),
      ) as AmountBasis['fits']
      const [first] = basisNames
        .flatMap(basis =>
          (['before', 'after'] as const).map(refunds => ({ basis, refunds, n: fits[basis][refunds] })),
        )
        .sort((a, b) => b.n - a.n)
      const isBest = first !== undefined && first.n * 2 > own.length
      const basis = isBest ? first : { basis: 'total' as const, refunds: 'before' as const }
      return {
        network,
        pairs: own.length,
        fits,
        best: isBest ? { basis: first.basis, refunds: first.refunds, share: first.n / own.length } : null,
        claimed: own.reduce((sum, one) => sum + one.value, 0),
        booked: Math.round(
          own.reduce((sum, { order }) => sum + amountOf(order, basis.basis, basis.refunds), 0),
        ),
      }
    })
}

/** An order's amount by a basis, in the workspace's currency. */
function amountOf(order: Order, basis: Basis, refunds: 'before' | 'after'): number {
  const own = bases[basis](order) - (refunds === 'after' ? order.refunded : 0)
  return order.total > 0 ? (own * order.gross) / order.total : 0
}

const fitting =
  (basis: Basis, refunds: 'before' | 'after') =>
  ({ order, value }: { order: Order; value: number }) =>
    Math.abs(amountOf(order, basis, refunds) - value) <= 1
