import { type GapCause, type Reconciliation, reconcile } from '../evidence/gap'
import type { Leaf } from '../intake/tree'
import { inPeriod, type Period } from '../shared/days'
import type { Evidence } from './judge'

/** A part of the account: empty means all, lower IDs narrow it. */
export interface Scope {
  network?: string
  campaign?: string
  ad_set?: string
  ad?: string
  /** a part of names, as `level.part`, and what it says; empty where no name has it */
  part?: string
  value?: string
  /** only what stands under no ad at all */
  nowhere?: 'yes'
}

export function inScope(leaf: Leaf | undefined, scope: Scope): boolean {
  if (scope.nowhere) return leaf === undefined
  if (scope.part !== undefined && (!leaf || (leaf.parts?.[scope.part] ?? '') !== (scope.value ?? '')))
    return false
  if (!scope.network) return true
  if (!leaf || leaf.network !== scope.network) return false
  return (
    (scope.campaign === undefined || leaf.campaign === scope.campaign) &&
    (scope.ad_set === undefined || leaf.adSet === scope.ad_set) &&
    (scope.ad === undefined || leaf.ad === scope.ad)
  )
}

/** Figures that can be opened. */
export const figures = [
  'orders',
  'claims',
  'matched',
  'proven',
  'tagged',
  'estimated',
  'clicks',
  'spend',
  'not_seen',
  'past_window',
  'no_ad_evidence',
  'repeat',
  'shared',
  'view_only',
  'does_not_count',
  'other_day',
  'no_such_order',
  'value_differs',
] as const
export type Figure = (typeof figures)[number]

/** The grade under which one order stands in a scope. */
export type Grade = 'proven' | 'tagged' | 'claimed' | 'unplaced'

export interface OpenedFigure {
  /** numbers of orders and claims of the dataset, in order of time */
  orders: number[]
  claims: number[]
  /** for estimated orders: seen by anyone, and added for what nobody saw */
  seen: number
  unseen: number
}

/** The orders and claims behind one figure of a scope and period. */
export function openFigure(evidence: Evidence, figure: Figure, scope: Scope, period: Period): OpenedFigure {
  const { data, placements, estimate } = evidence
  const fates = reconcile(data, placements, evidence.matches, period)
  const leaf = (index: number) => data.tree.leaves[index]
  const within = (index: number) => inScope(leaf(index), scope)
  const opened: OpenedFigure = { orders: [], claims: [], seen: 0, unseen: 0 }
  const orderFate = (match: (fate: Reconciliation['orders'][number], order: number) => boolean) =>
    data.orders.flatMap((_, o) =>
      fates.orders[o] !== null && within(fates.leafOf[o]!) && match(fates.orders[o]!, o) ? [o] : [],
    )
  const claimFate = (match: (fate: Reconciliation['claims'][number]) => boolean) =>
    data.claims.flatMap((claim, c) =>
      fates.claims[c] !== null && within(claim.leaf) && match(fates.claims[c]!) ? [c] : [],
    )
  const differs = (o: number) => data.orders[o]!.value !== data.claims[fates.claimOf[o]!]?.value

  switch (figure) {
    case 'orders':
      opened.orders = orderFate(() => true)
      break
    case 'claims':
      opened.claims = claimFate(() => true)
      break
    case 'matched':
    case 'value_differs':
      opened.orders = orderFate((fate, o) => fate === 'matched' && (figure === 'matched' || differs(o)))
      opened.claims = opened.orders.map(o => fates.claimOf[o]!)
      break
    case 'proven':
    case 'tagged':
      opened.orders = placements.flatMap((p, o) =>
        p.grade === figure &&
        data.orders[o]!.counts &&
        inPeriod(data.orders[o]!.day, period) &&
        p.credits.some(c => within(c.leaf))
          ? [o]
          : [],
      )
      break
    case 'estimated': {
      const orders = new Set<number>()
      for (const share of estimate.shares) {
        if (!inPeriod(data.orders[share.order]!.day, period) || !within(share.leaf)) continue
        orders.add(share.order)
        opened.seen += share.seen
        opened.unseen += share.unseen
      }
      opened.orders = [...orders].sort((a, b) => a - b)
      break
    }
    case 'clicks':
    case 'spend':
      break
    default:
      if (isOrderCause(figure)) opened.orders = orderFate(fate => fate === figure)
      else opened.claims = claimFate(fate => fate === figure)
  }
  return opened
}

const isOrderCause = (cause: GapCause | Figure) =>
  cause === 'not_seen' || cause === 'past_window' || cause === 'no_ad_evidence'

/** How one order is known, with the networks' word where ours is silent. */
export function gradeOf(evidence: Evidence, order: number, claimed: ReadonlySet<number>): Grade {
  const { grade } = evidence.placements[order]!
  return grade === 'unplaced' && claimed.has(order) ? 'claimed' : grade
}

/** Orders that some network claims by click. */
export function claimedOrders({ data, matches }: Evidence): Set<number> {
  return new Set(
    matches.flatMap((m, c) => (m.order >= 0 && data.claims[c]!.kind === 'click' ? [m.order] : [])),
  )
}
