import { openClaims } from '@/core/evidence/candidates'
import { sumGap } from '@/core/evidence/gap'
import { leadingLeaf } from '@/core/evidence/place'
import type { Evidence } from '@/core/weigh/evidence'
import { inScope } from '@/core/weigh/scope'
import { fatesOnce, type Question } from './judged'
import { namedAt } from './order'

/** Claims shown at once; the next ones come when these are settled. */
const MOST_SHOWN = 100

/** Claims of which it is not certain what order they are for, with the orders that they could be for. */
export function benchView(e: Evidence, { period, scope }: Question) {
  const { data, placements, matches } = e
  const within = (leaf: number) => inScope(data.tree.leaves[leaf], scope)
  const open = openClaims(data, placements, matches, period, within)
  const adOf = (leaf: number) => namedAt(data.tree, leaf)
  const { orders, claims, matched } = sumGap(data, fatesOnce(e, period), within)
  return {
    gap: { orders, claims, matched },
    total: open.length,
    claims: open.slice(0, MOST_SHOWN).map(({ claim: c, order, candidates }) => {
      const claim = data.claims[c]!
      return {
        key: claim.key!,
        at: claim.at!,
        value: claim.valued ? claim.value : null,
        transaction: claim.transaction,
        by: claim.kind,
        ...adOf(claim.leaf),
        /** the order that it is taken for now */
        now: order < 0 ? null : data.orders[order]!.order_id,
        candidates: candidates.map(({ order: o, ...own }) => {
          const one = data.orders[o]!
          const leaf = leadingLeaf(placements[o]!)
          return {
            ...own,
            id: one.order_id,
            at: one.ordered_at,
            value: one.gross,
            status: one.status,
            counts: one.counts,
            grade: placements[o]!.grade,
            from: leaf < 0 ? null : adOf(leaf),
          }
        }),
      }
    }),
  }
}
export type BenchView = ReturnType<typeof benchView>
