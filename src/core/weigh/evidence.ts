import { type Estimate, estimateOrders } from '../estimate/estimate'
import { type Match, matchClaims } from '../evidence/match'
import { type Placement, placeOrders } from '../evidence/place'
import type { Dataset } from '../intake/dataset'
import type { AdTree } from '../intake/tree'

/** A dataset with all that does not depend on the period: worked out once, judged many times. */
export interface Evidence {
  data: Dataset
  placements: Placement[]
  matches: Match[]
  /** worked out when it is first asked for: what an order came by, and the gap, stand without it */
  readonly estimate: Estimate
}

/** Evidence whose estimate is worked out once, when it is asked for. */
export function evidenceFrom(
  data: Dataset,
  placements: Placement[],
  matches: Match[],
  estimate: () => Estimate = () => estimateOrders(data, placements, matches),
): Evidence {
  let known: Estimate | undefined
  return {
    data,
    placements,
    matches,
    get estimate() {
      return (known ??= estimate())
    },
  }
}

export function gatherEvidence(data: Dataset): Evidence {
  const placements = placeOrders(data)
  return evidenceFrom(data, placements, matchClaims(data, placements))
}

/** The same evidence with a tree of the same leaves that says more of their names. */
export const withTree = (evidence: Evidence, tree: AdTree): Evidence =>
  evidenceFrom({ ...evidence.data, tree }, evidence.placements, evidence.matches, () => evidence.estimate)

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
