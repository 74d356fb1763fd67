import type { Estimate, Share } from '../estimate/estimate'
import { type Placement, WHOLE } from '../evidence/place'
import type { Claim } from '../intake/claim'
import type { Delivery } from '../intake/dataset'
import type { AdTree } from '../intake/tree'
import { weekdayOf, zoneClock } from '../shared/days'
import { type Evidence, evidenceFrom } from './evidence'
import { asSegment, type SegmentKind, segmentPart } from './segments'
import { type CountedSegment, sharedByClicks } from './sharedSpend'

/** Segments that hold less than this of what an ad's estimate adds are left out. */
const NEXT_TO_NOTHING = 0.002
/** How many orders the common shares stand for: with ads that differ by chance alone, and at the least. */
const STRENGTH = { most: 1000, least: 1 }

/** The credited clicks and touches of orders that count: those whose segments `bySegment` asks for. */
export function clicksOfOrders({ data, placements }: Evidence): number[] {
  const clicks = new Set<number>()
  data.orders.forEach(({ counts }, o) => {
    if (!counts) return
    for (const { click } of placements[o]!.credits) if (click >= 0) clicks.add(click)
    for (const click of placements[o]!.touches) clicks.add(click)
  })
  return [...clicks].sort((a, b) => a - b)
}

/**
 * The same evidence with each ad parted by a segment of its clicks, as parts of its leaves: whatever sums,
 * judges and opens by a part of names does so by segments. Spend stands where the network's report splits it
 * (by weekday always), an order under its click's segment, a claim under that of the ad's click before its order.
 * What an ad has without a click is spread by the segments' shares of its tracked orders of all time, drawn to those
 * of its network as far as ads differ no more than by chance (Dirichlet–multinomial: Mosimann 1962); the range
 * says so. The parts of each ad sum to the ad.
 *
 * @param said what a click says of itself, by its number; '' where it says nothing. Weekdays and hours are of the
 *   click's time in the workspace's zone, and need no saying
 * @param counted clicks by ad, day and segment, by which spend that no report splits is shared out; it stands
 *   apart where they are not given
 */
export function bySegment(
  evidence: Evidence,
  kind: SegmentKind,
  said: (click: number) => string,
  counted?: readonly CountedSegment[],
): Evidence {
  const { data, placements, matches } = evidence
  const ofClick = segmentOfClick(evidence, kind, said)
  const { tree, at } = partedTree(data.tree, kind)
  const share = counted && sharedByClicks(data.tree, kind, counted)
  const delivery = data.delivery.flatMap((row): Delivery[] => {
    const segment = segmentOfDelivery(kind, row)
    const parts = segment === '' && share ? share(row) : [{ segment, row }]
    return parts.map(part => ({ ...part.row, leaf: at(row.leaf, part.segment) }))
  })
  const adOf = data.tree.leaves.map((_, leaf) => leaf)
  data.tree.partsOf?.forEach((parts, ad) => {
    for (const part of parts) adOf[part] = ad
  })
  const claims = data.claims.map((claim, c): Claim => {
    const touches = placements[matches[c]!.order]?.touches ?? []
    const click = touches.findLast(touch => data.clicks.leaf[touch] === adOf[claim.leaf])
    // Who was credited in parts is of several ads, and of none of their segments.
    return click === undefined || claim.parts ? claim : { ...claim, leaf: at(claim.leaf, ofClick(click)) }
  })
  const parted = placements.map(placement => ({
    ...placement,
    credits: placement.credits.map(credit => ({
      ...credit,
      leaf: credit.click < 0 ? credit.leaf : at(credit.leaf, ofClick(credit.click)),
    })),
  }))
  const estimate = partedEstimate(evidence, parted, ofClick, at, tree)
  return evidenceFrom(
    { ...data, tree, delivery, claims },
    parted,
    matches,
    () => estimate,
    () => evidence.all && bySegment(evidence.all, kind, said, counted),
    evidence.each &&
      new Map([...evidence.each].map(([result, one]) => [result, bySegment(one, kind, said, counted)])),
  )
}

function segmentOfClick({ data }: Evidence, kind: SegmentKind, said: (click: number) => string) {
  const clock = zoneClock(data.settings.time_zone)
  const known = new Map<number, string>()
  const read = (click: number): string => {
    if (kind === 'weekday') return String(clock(data.clicks.at[click]!).weekday)
    if (kind === 'hour') return String(clock(data.clicks.at[click]!).hour)
    return asSegment(kind, said(click))
  }
  return (click: number): string => {
    let segment = known.get(click)
    if (segment === undefined) known.set(click, (segment = read(click)))
    return segment
  }
}

const bySplit: readonly SegmentKind[] = ['keyword', 'match_type', 'placement', 'source', 'device']
function segmentOfDelivery(kind: SegmentKind, { day, split }: Delivery): string {
  if (kind === 'weekday') return String(weekdayOf(day))
  const column = bySplit.find(one => one === kind) as keyof NonNullable<typeof split> | undefined
  return column && split ? asSegment(kind, split[column]) : ''
}

/** A tree that grows by parts of its leaves; a leaf itself is what says nothing of the segment. */
function partedTree(tree: AdTree, kind: SegmentKind) {
  const leaves = [...tree.leaves]
  const networkOf = [...tree.networkOf]
  const partsOf = leaves.map((_, leaf) => [leaf])
  const numbers = leaves.map(() => new Map<string, number>())
  const at = (leaf: number, segment: string): number => {
    if (segment === '' || leaf < 0) return leaf
    let part = numbers[leaf]!.get(segment)
    if (part === undefined) {
      const whole = tree.leaves[leaf]!
      part = leaves.push({ ...whole, parts: { ...whole.parts, [segmentPart(kind)]: segment } }) - 1
      networkOf.push(tree.networkOf[leaf]!)
      partsOf[leaf]!.push(part)
      numbers[leaf]!.set(segment, part)
    }
    return part
  }
  return { tree: { ...tree, leaves, networkOf, partsOf }, at }
}

/** What an ad's tracked orders tell of the segments of its others. */
interface Parted {
  /** number of the leaf's part, with the share of the ad's orders that is its */
  parts: { part: number; share: number }[]
  /** orders that the shares rest on, the common ones among them */
  weight: number
}

function partedEstimate(
  { data, estimate }: Evidence,
  placements: readonly Placement[],
  ofClick: (click: number) => string,
  at: (leaf: number, segment: string) => number,
  tree: AdTree,
): Estimate {
  const partedOf = partedLeaves(data.tree, trackedSegments(data, placements, ofClick, tree), at)
  const shares: Share[] = []
  const nextCredit = new Int32Array(data.orders.length)
  for (const share of estimate.shares) {
    const credit = share.certain ? placements[share.order]!.credits[nextCredit[share.order]!++]! : null
    const ofClickAlone = credit !== null && credit.click >= 0
    if (ofClickAlone) shares.push({ ...share, leaf: credit.leaf, unseen: 0 })
    const open = ofClickAlone ? 0 : share.seen
    const { unseen } = share
    if (unseen === 0 && open === 0) continue
    for (const { part, share: of } of partedOf(share.leaf).parts)
      shares.push({
        order: share.order,
        leaf: part,
        seen: open * of,
        certain: false,
        unseen: unseen * of,
        // Whether the order is the ad's, and if so, whether it is this segment's.
        variance: of ** 2 * share.variance + of * (1 - of) * (share.variance + open ** 2),
      })
  }

  const { doubts } = estimate
  const groupOf = doubts.groupOf && [...doubts.groupOf]
  const weight = new Float64Array(tree.leaves.length)
  const ambiguity = new Float64Array(tree.leaves.length)
  const parting = new Float64Array(tree.leaves.length)
  tree.partsOf!.forEach((parts, leaf) => {
    for (const part of parts) {
      weight[part] = doubts.weight[leaf]!
      ambiguity[part] = doubts.ambiguity[leaf]!
      if (groupOf) groupOf[part] = groupOf[leaf]!
    }
    const own = partedOf(leaf)
    for (const { part, share } of own.parts) parting[part] = (1 - share) / (share * (own.weight + 1))
  })
  return {
    ...estimate,
    shares,
    doubts: { ...doubts, weight, ambiguity, parting, ...(groupOf && { groupOf }) },
  }
}

/** Per leaf, how many of its tracked orders are of which segment; those known by parameters alone say nothing. */
function trackedSegments(
  { orders }: Evidence['data'],
  placements: readonly Placement[],
  ofClick: (click: number) => string,
  { partsOf }: AdTree,
): Map<string, number>[] {
  const wholeOf: number[] = []
  partsOf!.forEach((parts, leaf) => {
    for (const part of parts) wholeOf[part] = leaf
  })
  const counts = partsOf!.map(() => new Map<string, number>())
  orders.forEach(({ counts: itCounts }, o) => {
    if (!itCounts) return
    for (const { click, leaf, share } of placements[o]!.credits) {
      if (click < 0) continue
      const own = counts[wholeOf[leaf]!]!
      const segment = ofClick(click)
      own.set(segment, (own.get(segment) ?? 0) + share / WHOLE)
    }
  })
  return counts
}

/** The shares of each leaf's segments, drawn to those of its network by how much its leaves are alike. */
function partedLeaves(
  tree: AdTree,
  counts: readonly Map<string, number>[],
  at: (leaf: number, segment: string) => number,
): (leaf: number) => Parted {
  const networks = tree.networks.map((_, n) => {
    const own = counts.filter((_, leaf) => tree.networkOf[leaf] === n)
    const pooled = new Map<string, number>()
    for (const leaf of own)
      for (const [segment, count] of leaf) pooled.set(segment, (pooled.get(segment) ?? 0) + count)
    const whole = sumOf(pooled.values())
    const common = [...pooled].map(([segment, count]) => ({ segment, share: count / whole }))
    return { common, strength: strengthOf(own, common) }
  })
  const known = new Map<number, Parted>()
  const work = (leaf: number): Parted => {
    const { common, strength } = networks[tree.networkOf[leaf]!]!
    const own = counts[leaf]!
    const weight = sumOf(own.values()) + strength
    if (common.length === 0) return { parts: [{ part: leaf, share: 1 }], weight }
    const shares = common
      .map(({ segment, share }) => ({
        segment,
        share: ((own.get(segment) ?? 0) + strength * share) / weight,
      }))
      .filter(({ share }) => share >= NEXT_TO_NOTHING)
    const whole = sumOf(shares.map(({ share }) => share))
    return {
      parts: shares.map(({ segment, share }) => ({ part: at(leaf, segment), share: share / whole })),
      weight,
    }
  }
  return leaf => {
    let parted = known.get(leaf)
    if (!parted) known.set(leaf, (parted = work(leaf)))
    return parted
  }
}

const sumOf = (values: Iterable<number>): number => {
  let sum = 0
  for (const value of values) sum += value
  return sum
}

/** How many orders common shares stand for, by the method of moments: the more, the more leaves are alike. */
function strengthOf(
  leaves: readonly Map<string, number>[],
  common: readonly { segment: string; share: number }[],
): number {
  let [beyond, scale] = [0, 0]
  for (const leaf of leaves) {
    const count = sumOf(leaf.values())
    for (const { segment, share } of common) {
      const chance = share * (1 - share)
      beyond += ((leaf.get(segment) ?? 0) - count * share) ** 2 - count * chance
      scale += count * (count - 1) * chance
    }
  }
  const alike = scale > 0 ? beyond / scale : 0
  if (alike <= 0) return STRENGTH.most
  return Math.min(STRENGTH.most, Math.max(STRENGTH.least, 1 / alike - 1))
}
