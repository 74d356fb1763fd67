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
  /**
   * That of all results together, of which this is one; null where no other brings money, and for that of all itself
   */
  readonly all: Evidence | null
  /** of all results together, that of each, by its ID */
  readonly each?: ReadonlyMap<string, Evidence>
}

/** Evidence whose estimate, and that of all results, is worked out once, when it is asked for. */
export function evidenceFrom(
  data: Dataset,
  placements: Placement[],
  matches: Match[],
  estimate: () => Estimate = () => estimateOrders(data, placements, matches),
  all: () => Evidence | null = () => null,
  each?: ReadonlyMap<string, Evidence>,
): Evidence {
  let known: Estimate | undefined
  let knownAll: Evidence | null | undefined
  return {
    data,
    placements,
    matches,
    ...(each && { each }),
    get estimate() {
      return (known ??= estimate())
    },
    get all() {
      if (knownAll === undefined) knownAll = all()
      return knownAll
    },
  }
}

export function gatherEvidence(data: Dataset): Evidence {
  const placements = placeOrders(data)
  return evidenceFrom(data, placements, matchClaims(data, placements))
}

/** The same evidence, and that of all results, with trees of the same leaves that say more of their names. */
export const withTrees = (evidence: Evidence, read: (tree: AdTree) => AdTree): Evidence =>
  evidenceFrom(
    { ...evidence.data, tree: read(evidence.data.tree) },
    evidence.placements,
    evidence.matches,
    () => evidence.estimate,
    () => evidence.all && withTrees(evidence.all, read),
    evidence.each && new Map([...evidence.each].map(([result, one]) => [result, withTrees(one, read)])),
  )

/** One result's evidence as it is, which knows of all results together. */
export const amongResults = (evidence: Evidence, all: () => Evidence | null): Evidence =>
  evidenceFrom(evidence.data, evidence.placements, evidence.matches, () => evidence.estimate, all)

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
