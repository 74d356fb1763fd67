import { type Gap, type Reconciliation, reconcile, sumGap } from '../evidence/gap'
import { append } from '../shared/append'
import type { Period } from '../shared/days'
import { currencyExponent } from '../shared/money'
import type { Evidence } from './evidence'
import { ratio } from './figures'
import { activeLeaves, sumLeaves } from './leafSums'
import { type JudgedRow, type LineRule, leftOf, rollUp, totalRow, withVerdicts } from './rows'
import { isOfTime, isUnsaid } from './segments'

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

/**
 * Judges a period: sums by campaign, ad set and ad, each with its estimate and range, the line and a
 * verdict, and the gap of the whole (docs/computation.md).
 */
export function judge(evidence: Evidence, period: Period): Judgement {
  const { data, placements, matches } = evidence
  const fates = reconcile(data, placements, matches, period)
  const leafSums = sumLeaves(evidence, period)
  const active = activeLeaves(leafSums.sums)
  const ofNetwork = (network: string) => active.filter(leaf => data.tree.leaves[leaf]!.network === network)
  const levels = [
    [totalRow(evidence, active, leafSums)],
    data.tree.networks.map(network => totalRow(evidence, ofNetwork(network), leafSums, network)),
    ...(['campaign', 'ad_set', 'ad'] as const).map(level => rollUp(evidence, active, leafSums, level)),
  ]
  const [totals, networks, ...rows] = withVerdicts(levels, lineRule(evidence))
  return {
    totals: totals![0]!,
    rows: rows.flat(),
    networks: networks!,
    gap: sumGap(data, fates),
    fates,
    ...breakEven(evidence, fates),
  }
}

function lineRule({ data: { settings } }: Evidence): LineRule {
  const { target_cost, currency, margin } = settings
  const units = (amount: number) => Math.round(amount * 10 ** (currencyExponent(currency) ?? 2))
  return { margin, fee: units(settings.fee), target: target_cost === undefined ? null : units(target_cost) }
}

/**
 * The line of the whole: the target where there is one, else what an order of the period leaves; null without
 * orders. And the value over spend at which an order leaves nothing, whatever is aimed at.
 */
function breakEven(evidence: Evidence, fates: Reconciliation): Pick<Judgement, 'line' | 'breakEvenRoas'> {
  const rule = lineRule(evidence)
  const own = evidence.data.orders.filter((_, o) => fates.orders[o] !== null)
  const average = ratio(
    own.reduce((sum, o) => sum + o.value, 0),
    own.length,
  )
  const left = average === null ? null : leftOf(rule, average)
  return {
    line: rule.target ?? left,
    breakEvenRoas: rule.fee === 0 || !average || !left ? 1 / rule.margin : average / left,
  }
}

/**
 * The same sums by what a part of names says, or by a segment, with the campaigns that each value has below it.
 * The rows of the part sum to the totals; names that have no such part are one row, and what is of no segment too,
 * which is not judged.
 *
 * @param part `level.part`; the leaves' names are read before (`readNames`), or they are parted (`bySegment`)
 * @param network of one network alone; '' for all
 */
export function judgeByPart(evidence: Evidence, period: Period, part: string, network: string): JudgedRow[] {
  const { leaves } = evidence.data.tree
  const leafSums = sumLeaves(evidence, period)
  const groups = new Map<string, number[]>()
  for (const leaf of activeLeaves(leafSums.sums))
    if (!network || leaves[leaf]!.network === network) append(groups, leaves[leaf]!.parts?.[part] ?? '', leaf)
  const heads: JudgedRow[] = []
  const below: JudgedRow[] = []
  for (const [value, own] of groups) {
    const path = [part, value]
    heads.push({ ...totalRow(evidence, own, leafSums, network), level: 'part', path, id: value, name: value })
    for (const row of rollUp(evidence, own, leafSums, 'campaign'))
      below.push({ ...row, path: [...path, ...row.path] })
  }
  // Spend that no report splits stands beside orders that are known: it says nothing of what these cost.
  const isJudged = (row: JudgedRow) => !isUnsaid(row.path)
  const judged = [...groups].flatMap(([value, own]) => (isUnsaid([part, value]) ? [] : own))
  const [, judgedHeads, judgedBelow] = withVerdicts(
    [[totalRow(evidence, judged, leafSums)], heads.filter(isJudged), below.filter(isJudged)],
    lineRule(evidence),
  )
  const [allHeads, allBelow] = [
    [...judgedHeads!, ...heads.filter(row => !isJudged(row))],
    [...judgedBelow!, ...below.filter(row => !isJudged(row))],
  ]
  if (isOfTime(part)) allHeads.sort((a, b) => timeOf(a.id) - timeOf(b.id))
  return allHeads.flatMap(head => [head, ...allBelow.filter(row => row.path[1] === head.path[1])])
}

/** Where a weekday or an hour stands; what has none comes last. */
const timeOf = (segment: string): number => (segment === '' ? Number.POSITIVE_INFINITY : Number(segment))
