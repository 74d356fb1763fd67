import { type Estimate, estimateOrders } from '../estimate/estimate'
import { type Match, matchClaims } from '../evidence/match'
import { type Placement, placeOrders } from '../evidence/place'
import type { Dataset } from '../intake/dataset'

/** A dataset with all that does not depend on the period: worked out once, judged many times. */
export interface Evidence {
  data: Dataset
  placements: Placement[]
  matches: Match[]
  estimate: Estimate
}

export function gatherEvidence(data: Dataset): Evidence {
  const placements = placeOrders(data)
  const matches = matchClaims(data, placements)
  return { data, placements, matches, estimate: estimateOrders(data, placements, matches) }
}

/** The grade under which one order stands. */
export type Grade = 'proven' | 'tagged' | 'claimed' | 'unplaced'

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
