import { type Gap, type Reconciliation, reconcile, sumGap } from '../evidence/gap'
import { ALL_RESULTS, JUDGED_RESULT } from '../intake/judgedResult'
import { isMarginSaid } from '../intake/settings'
import { append } from '../shared/append'
import type { Period } from '../shared/days'
import { currencyExponent } from '../shared/money'
import { pathKey } from '../shared/path'
import type { Evidence } from './evidence'
import { isNone, ratio } from './figures'
import { activeLeaves, type Days, sumLeaves } from './leafSums'
import { campaignRules } from './leavesIn'
import { type JudgedRow, type JudgingRules, rollUp, scopeOf, totalRow, withVerdicts } from './rows'
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
 *
 * @param days whether days of which a network has not told its spend count; the gap is of all days
 */
export function judge(evidence: Evidence, period: Period, days: Days = 'billed'): Judgement {
  const own = judgeAlone(evidence, period, days)
  const whole = evidence.each ? evidence : evidence.all
  if (!whole) return own
  const rowsOf = ({ totals, networks, rows }: Judgement) => [totals, ...networks, ...rows]
  const resting = restingOn(evidence, rowsOf(own), whole, one => rowsOf(judgeAlone(one, period, days)))
  const networks = own.networks.length
  return {
    ...own,
    totals: resting[0]!,
    networks: resting.slice(1, networks + 1),
    rows: resting.slice(networks + 1),
  }
}

/**
 * Rows whose verdicts are the same whichever result is looked at. An ad that brings several is judged by all
 * of them: all that was spent on it is held against all that it brings. One that brings a single result is judged by
 * that, and one that brought nothing yet by the shop's orders.
 *
 * @param rowsOf the same rows of other evidence
 */
function restingOn(
  evidence: Evidence,
  own: readonly JudgedRow[],
  whole: Evidence,
  rowsOf: (evidence: Evidence) => readonly JudgedRow[],
): JudgedRow[] {
  const keyOf = ({ level, path }: JudgedRow) => pathKey(level, ...path)
  const byKey = (rows: readonly JudgedRow[]) => new Map(rows.map(row => [keyOf(row), row]))
  const all = byKey(evidence === whole ? own : rowsOf(whole))
  const ofResult = new Map<string, ReadonlyMap<string, JudgedRow>>()
  const rowOf = (row: JudgedRow, result: string): JudgedRow | undefined => {
    const one = whole.each?.get(result)
    if (!one) return undefined
    if (!ofResult.has(result)) ofResult.set(result, byKey(rowsOf(one)))
    return ofResult.get(result)!.get(keyOf(row))
  }
  return own.map(row => {
    const both = all.get(keyOf(row))
    if (!both) return row
    const brought = both.byResult?.filter(({ tenths }) => !isNone(tenths / 10)) ?? []
    const decides = brought.length > 1 ? ALL_RESULTS : (brought[0]?.result ?? JUDGED_RESULT)
    if (decides === evidence.data.result) return row
    const judged = (decides === ALL_RESULTS ? both : rowOf(row, decides)) ?? both
    const { spend, estimatedTenths, estimatedValue } = both.sums
    return {
      ...row,
      leaves: both.leaves,
      leavesSquares: both.leavesSquares,
      // What all results leave, for each of those that the row counts: plans reckon in these.
      left:
        judged.left !== null && judged.rate && row.rate
          ? Math.exp(judged.rate.log - row.rate.log) * judged.left
          : row.left,
      verdict: judged.verdict,
      restsOn: { results: both.byResult ?? [], sums: { spend, estimatedTenths, estimatedValue } },
    }
  })
}

/** The same, with verdicts that rest on this result alone. */
export function judgeAlone(evidence: Evidence, period: Period, days: Days = 'billed'): Judgement {
  const { data, placements, matches } = evidence
  const fates = reconcile(data, placements, matches, period)
  const leafSums = sumLeaves(evidence, period, days)
  const active = activeLeaves(leafSums.sums)
  const ofNetwork = (network: string) => active.filter(leaf => data.tree.leaves[leaf]!.network === network)
  const levels = [
    [totalRow(evidence, active, leafSums)],
    data.tree.networks.map(network => totalRow(evidence, ofNetwork(network), leafSums, network)),
    ...(['campaign', 'ad_set', 'ad'] as const).map(level => rollUp(evidence, active, leafSums, level)),
  ]
  const [totals, networks, ...rows] = withVerdicts(levels, targetsOf(evidence), judgingRules(evidence))
  const { line, breakEvenRoas } = breakEven(evidence, fates, totals![0]!)
  return {
    totals: { ...totals![0]!, line },
    rows: rows.flat(),
    networks: networks!,
    gap: sumGap(data, fates),
    fates,
    line,
    breakEvenRoas,
  }
}

const minorUnits = ({ data: { settings } }: Evidence) => 10 ** (currencyExponent(settings.currency) ?? 2)

/** How rows are judged by the settings. */
function judgingRules(evidence: Evidence): JudgingRules {
  const { cut_below, raise_above, rules } = evidence.data.settings.verdicts
  return {
    thresholds: { cut: cut_below, raise: raise_above },
    rules,
    minorUnits: minorUnits(evidence),
    worthDoubt: row => worthDoubtOf(evidence, row),
    marginSaid: row => isMarginSaidOf(evidence, row),
  }
}

/** Of several results each may be off apart from the others. */
function worthDoubtOf({ data }: Evidence, { byResult, sums }: JudgedRow): number {
  const { countedBy } = data
  if (!countedBy || !byResult || sums.estimatedValue <= 0) return data.worthDoubt
  return byResult.reduce(
    (sum, { result, value }) =>
      sum + (value / sums.estimatedValue) ** 2 * (countedBy.get(result)?.worthDoubt ?? 0),
    0,
  )
}

/** Of several results all have to be said, or to have a target. */
function isMarginSaidOf({ data }: Evidence, { byResult }: JudgedRow): boolean {
  const { countedBy } = data
  if (!countedBy || !byResult) return isMarginSaid(data.settings)
  return byResult.every(({ result }) => {
    const own = countedBy.get(result)?.settings
    return own === undefined || own.target_cost !== undefined || isMarginSaid(own)
  })
}

/** What an order may cost by what somebody aims at, in minor units; null where nobody said. */
function targetOf(evidence: Evidence): number | null {
  const { target_cost } = evidence.data.settings
  return target_cost === undefined ? null : Math.round(target_cost * minorUnits(evidence))
}

/** The same by row: a campaign's own target stands before that of all. */
function targetsOf(evidence: Evidence): (row: JudgedRow) => number | null {
  // Of several results each one's target stands in what it leaves.
  if (evidence.data.countedBy) return () => null
  const ofAll = targetOf(evidence)
  const rules = campaignRules(evidence.data.settings)
  if (rules.size === 0) return () => ofAll
  return row => {
    const { network, campaign } = scopeOf(row)
    const own =
      network && campaign !== undefined ? rules.get(pathKey(network, campaign))?.target_cost : undefined
    return own === undefined ? ofAll : Math.round(own * minorUnits(evidence))
  }
}

/**
 * The break-even of the account, one figure wherever it stands: that of all ads' orders, as of every row. Where
 * ads have brought none, what an order of the shop leaves; null without orders. And the value over spend at
 * which an order leaves nothing, whatever is aimed at.
 */
function breakEven(
  evidence: Evidence,
  fates: Reconciliation,
  totals: JudgedRow,
): Pick<Judgement, 'line' | 'breakEvenRoas'> {
  const ofAds = totals.sums.estimatedTenths / 10
  if (totals.line !== null && ofAds > 0)
    return {
      line: totals.line,
      breakEvenRoas:
        ratio(totals.sums.estimatedValue, Math.max(totals.leaves, ofAds)) ??
        1 / evidence.data.settings.margin,
    }
  const { orders, settings } = evidence.data
  const own = orders.filter((_, o) => fates.orders[o] !== null)
  const value = own.reduce((sum, order) => sum + order.value, 0)
  const leaves = own.reduce((sum, order) => sum + order.leaves, 0)
  const average = ratio(leaves, own.length)
  return {
    line: targetOf(evidence) ?? (average === null ? null : Math.max(1, average)),
    breakEvenRoas: ratio(value, Math.max(leaves, own.length)) ?? 1 / settings.margin,
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
export function judgeByPart(
  evidence: Evidence,
  period: Period,
  part: string,
  network: string,
  days: Days = 'billed',
): JudgedRow[] {
  const rowsOf = (one: Evidence) => judgePartAlone(one, period, part, network, days)
  const own = rowsOf(evidence)
  const whole = evidence.each ? evidence : evidence.all
  return whole ? restingOn(evidence, own, whole, rowsOf) : own
}

function judgePartAlone(
  evidence: Evidence,
  period: Period,
  part: string,
  network: string,
  days: Days,
): JudgedRow[] {
  const { leaves } = evidence.data.tree
  const leafSums = sumLeaves(evidence, period, days)
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
    targetsOf(evidence),
    judgingRules(evidence),
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
