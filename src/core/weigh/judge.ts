import { type Estimate, estimateOrders } from '../estimate/estimate'
import { orderRange } from '../estimate/range'
import { type Gap, type Reconciliation, reconcile, sumGap } from '../evidence/gap'
import { type Match, matchClaims } from '../evidence/match'
import { type Placement, placeOrders, WHOLE } from '../evidence/place'
import type { Dataset } from '../intake/dataset'
import { type Leaf, type Level, nameKey, nameOf, nodeKey } from '../intake/tree'
import { append } from '../shared/append'
import { inPeriod, type Period } from '../shared/days'
import { currencyExponent } from '../shared/money'
import { valueParts } from './credits'
import { addSums, noSums, ratio, type Sums } from './figures'
import { judgeFamily, type Verdict } from './verdict'

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

export interface JudgedRow {
  /** `part` for what a part of names says */
  level: Level | 'part' | 'total'
  /** unique over all networks and levels */
  key: string
  parentKey: string | null
  /** the network's own ID; empty for what the network or the order did not break down further */
  id: string
  name: string
  /** names it had before, oldest first */
  formerNames: string[]
  network: string
  parentId: string | null
  sums: Sums
  /** 80 % interval of estimated orders */
  low: number
  high: number
  verdict: Verdict
}

export interface Judgement {
  totals: JudgedRow
  /** campaigns, ad sets and ads; the rows of each level sum to the totals */
  rows: JudgedRow[]
  /** totals of each network */
  networks: JudgedRow[]
  gap: Gap
  fates: Reconciliation
  /** break-even cost per result in minor units; null without orders */
  line: number | null
  /** value over spend at which an order pays for its ad */
  breakEvenRoas: number
}

interface Spread {
  certain: number
  variance: number
  slopeNetwork: number
  slopeOwn: number
  leafVariance: number
}

/**
 * Judges a period: sums by campaign, ad set and ad, each with its estimate and range, the line and a
 * verdict, and the gap of the whole (docs/computation.md).
 */
export function judge(evidence: Evidence, period: Period): Judgement {
  const { data, placements, matches } = evidence
  const fates = reconcile(data, placements, matches, period)
  const leafSums = sumLeaves(evidence, period)
  const { sums, spreads } = leafSums

  const ordersValue = data.orders.filter((_, o) => fates.orders[o] !== null)
  const average = ratio(
    ordersValue.reduce((sum, o) => sum + o.value, 0),
    ordersValue.length,
  )
  const target = data.settings.target_cost
  const line =
    target !== undefined
      ? Math.round(target * 10 ** (currencyExponent(data.settings.currency) ?? 2))
      : average === null
        ? null
        : average * data.settings.margin

  const active = activeLeaves(sums)
  const rows = (['campaign', 'ad_set', 'ad'] as const).flatMap(level =>
    rollUp(evidence, active, sums, spreads, level),
  )
  giveVerdicts(rows, line)
  const totals = rowOf(evidence, 'total', 'total', active, sums, spreads)
  const networks = data.tree.networks.map(network => {
    const own = active.filter(leaf => data.tree.leaves[leaf]!.network === network)
    return { ...rowOf(evidence, 'total', network, own, sums, spreads), network }
  })
  giveVerdicts([totals], line)
  return {
    totals,
    rows,
    networks,
    gap: sumGap(data, fates),
    fates,
    line,
    breakEvenRoas: 1 / data.settings.margin,
  }
}

/** Sums and spreads of each leaf in a period. */
function sumLeaves(
  { data, placements, estimate }: Evidence,
  period: Period,
): { sums: Sums[]; spreads: Spread[] } {
  const sums = data.tree.leaves.map(noSums)
  const spreads = data.tree.leaves.map((_, leaf) => ({
    certain: 0,
    variance: 0,
    slopeNetwork: 0,
    slopeOwn: 0,
    leafVariance: estimate.leafVariance[leaf] ?? 0,
  }))
  for (const row of data.delivery) {
    if (!inPeriod(row.day, period)) continue
    const sum = sums[row.leaf]!
    sum.spend += row.spend
    sum.impressions += row.impressions
    sum.clicks += row.clicks
  }
  for (const claim of data.claims) {
    if (!inPeriod(claim.day, period)) continue
    sums[claim.leaf]!.claimed += 1
    sums[claim.leaf]!.claimedValue += claim.value
  }
  const expected = new Float64Array(sums.length)
  const value = new Float64Array(sums.length)
  for (const share of estimate.shares) {
    const order = data.orders[share.order]!
    if (!inPeriod(order.day, period)) continue
    const spread = spreads[share.leaf]!
    expected[share.leaf]! += share.seen + share.unseen
    value[share.leaf]! += (share.seen + share.unseen) * order.value
    spread.variance += share.variance
    spread.slopeNetwork += share.slopeNetwork
    spread.slopeOwn += share.slopeOwn
  }
  data.orders.forEach((order, o) => {
    if (!order.counts || !inPeriod(order.day, period)) return
    const placement = placements[o]!
    const parts = valueParts(order.value, placement.credits)
    placement.credits.forEach((credit, i) => {
      const sum = sums[credit.leaf]!
      sum.trackedValue += parts[i]!
      sum[placement.grade === 'proven' ? 'provenCredit' : 'taggedCredit'] += credit.share
      spreads[credit.leaf]!.certain += credit.share / WHOLE
    })
  })
  sums.forEach((sum, leaf) => {
    sum.estimatedTenths = Math.round(expected[leaf]! * 10)
    sum.estimatedValue = Math.round(value[leaf]!)
  })
  return { sums, spreads }
}

/**
 * The same sums by what a part of names says, with the campaigns that each value has below it. The rows of
 * the part sum to the totals; names that have no such part are one row.
 *
 * @param part `level.part`; the leaves are named before (`nameLeaves`)
 * @param keep which leaves are looked at
 */
export function judgeByPart(
  evidence: Evidence,
  period: Period,
  part: string,
  line: number | null,
  keep: (leaf: Leaf) => boolean,
): JudgedRow[] {
  const { leaves } = evidence.data.tree
  const { sums, spreads } = sumLeaves(evidence, period)
  const groups = new Map<string, number[]>()
  for (const leaf of activeLeaves(sums))
    if (keep(leaves[leaf]!)) append(groups, leaves[leaf]!.parts?.[part] ?? '', leaf)
  const rows = [...groups].flatMap(([value, own]) => {
    const key = `${part}\u001f${value}`
    const head: JudgedRow = {
      ...rowOf(evidence, 'total', key, own, sums, spreads),
      level: 'part',
      id: value,
      name: value,
    }
    const below = rollUp(evidence, own, sums, spreads, 'campaign')
    return [head, ...below.map(row => ({ ...row, key: `${row.key}\u001e${key}`, parentKey: key }))]
  })
  giveVerdicts(rows, line)
  return rows
}

const activeLeaves = (sums: readonly Sums[]): number[] =>
  sums.flatMap((sum, leaf) => (Object.values(sum).some(v => v !== 0) ? [leaf] : []))

const idAt = (leaf: Leaf, level: Level) =>
  level === 'campaign' ? leaf.campaign : level === 'ad_set' ? leaf.adSet : leaf.ad
const levelAbove = { ad: 'ad_set', ad_set: 'campaign', campaign: null } as const

function rollUp(
  evidence: Evidence,
  active: readonly number[],
  sums: Sums[],
  spreads: Spread[],
  level: Level,
): JudgedRow[] {
  const groups = new Map<string, number[]>()
  for (const leaf of active) {
    append(groups, nodeKey(evidence.data.tree.leaves[leaf]!, level), leaf)
  }
  return [...groups].map(([key, leaves]) => rowOf(evidence, level, key, leaves, sums, spreads))
}

function rowOf(
  { data, estimate }: Evidence,
  level: Level | 'total',
  key: string,
  leaves: readonly number[],
  sums: Sums[],
  spreads: Spread[],
): JudgedRow {
  const total = noSums()
  for (const leaf of leaves) addSums(total, sums[leaf]!)
  const certain = leaves.reduce((sum, leaf) => sum + spreads[leaf]!.certain, 0)
  const orders = total.estimatedTenths / 10
  const variance = data.tree.networks.reduce((sum, _, n) => {
    const own = leaves.filter(leaf => data.tree.networkOf[leaf] === n).map(leaf => spreads[leaf]!)
    const slope = (pick: 'slopeNetwork' | 'slopeOwn') => own.reduce((s, spread) => s + spread[pick], 0)
    return (
      sum +
      own.reduce((s, spread) => s + spread.variance + spread.slopeOwn ** 2 * spread.leafVariance, 0) +
      slope('slopeNetwork') ** 2 * estimate.networkVariance[n]! +
      slope('slopeOwn') ** 2 * estimate.ownVariance[n]!
    )
  }, 0)
  const { low, high } = orderRange(certain, Math.max(0, orders - certain), variance)
  const common = {
    key,
    sums: total,
    low: Math.min(low, orders),
    high: Math.max(high, orders),
    verdict: NO_VERDICT,
  }
  const leaf = data.tree.leaves[leaves[0] ?? -1]
  if (level === 'total' || !leaf)
    return {
      ...common,
      level: 'total',
      id: 'total',
      name: 'All ads',
      formerNames: [],
      network: '',
      parentKey: null,
      parentId: null,
    }
  const id = idAt(leaf, level)
  const above = levelAbove[level]
  return {
    ...common,
    level,
    id,
    name: id ? nameOf(data.tree, leaf.network, level, id) : '',
    formerNames: (data.tree.names.get(nameKey(leaf.network, level, id)) ?? []).slice(0, -1),
    network: leaf.network,
    parentKey: above ? nodeKey(leaf, above) : null,
    parentId: above ? idAt(leaf, above) : null,
  }
}

const NO_VERDICT: Verdict = { kind: 'wait', because: 'no_line', probability: null }

function giveVerdicts(rows: JudgedRow[], line: number | null): void {
  const families = new Map<string, JudgedRow[]>()
  for (const row of rows) {
    const family = `${row.level}|${row.network}|${row.parentKey ?? ''}`
    append(families, family, row)
  }
  const spent = (row: JudgedRow) => ({ spend: row.sums.spend, orders: row.sums.estimatedTenths / 10 })
  for (const family of families.values()) {
    const verdicts = judgeFamily(family.map(spent), line)
    family.forEach((row, i) => (row.verdict = verdicts[i]!))
  }
}
