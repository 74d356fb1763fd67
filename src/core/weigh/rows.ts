import { varianceOf } from '../estimate/estimate'
import { orderRange } from '../estimate/range'
import { type AdTree, type Leaf, type Level, levels, nameKey, nameOf, pathAt } from '../intake/tree'
import { append } from '../shared/append'
import { pathKey } from '../shared/path'
import { resultOfLeaf } from './allResults'
import type { Evidence } from './evidence'
import { addSums, isNone, noSums, ratio, type Sums } from './figures'
import type { LeafSums } from './leafSums'
import { type PlainRule, withRules } from './plainRules'
import { type ResultRate, resultRates } from './resultRates'
import type { Scope } from './scope'
import { type Thresholds, usualThresholds, type Verdict, verdictOf } from './verdict'
import { type Worth, worthOfRows } from './worth'

export interface JudgedRow {
  /** `part` for what a part of names says */
  level: Level | 'part' | 'total'
  /**
   * where it stands: network, campaign, ad set and ad down to its level; below a part of names that part
   * and what it says before them
   */
  path: string[]
  /** the network's own ID; empty for what the network or the order did not break down further */
  id: string
  name: string
  /** names it had before, oldest first */
  formerNames: string[]
  /** empty for all */
  network: string
  parentId: string | null
  sums: Sums
  /** 80 % interval of estimated orders */
  low: number
  high: number
  /** variance of estimated orders, and the sum of the squares of what they are worth */
  variance: number
  squares: number
  /** what estimated orders leave for ads and profit, in parts of minor units, and the sum of its squares */
  leaves: number
  leavesSquares: number
  /** what one of its results is worth, in minor units, with an 80 % interval; null where nothing is known of it */
  worth: { mean: number; low: number; high: number } | null
  /** its own break-even cost per result in minor units; null where nothing is known of it */
  line: number | null
  /** results for each minor unit of spend, as a logarithm with its variance, drawn to the row above; null without spend */
  rate: Pick<ResultRate, 'log' | 'variance'> | null
  /** what one more of its results leaves for ads and profit, in minor units; null where nothing is known of it */
  left: number | null
  verdict: Verdict
  /** of all results, what each brought, most value first; null where one alone is judged */
  byResult: ResultSum[] | null
  /** the row of all results on which the verdict rests, since its ads bring several; null where it rests on this one alone */
  restsOn: { results: ResultSum[]; sums: Pick<Sums, 'spend' | 'estimatedTenths' | 'estimatedValue'> } | null
}

/** What one of several results brought: estimated results in tenths, and what they are worth in minor units. */
export interface ResultSum {
  result: string
  tenths: number
  value: number
}

/** The path of the row that a row stands below; null for one that stands below none. */
export function pathAbove({ level, path }: Pick<JudgedRow, 'level' | 'path'>): string[] | null {
  if (level === 'part' || level === 'total') return null
  // A campaign stands below a part of names, if below anything.
  return level === 'campaign' ? (path.length > 2 ? path.slice(0, 2) : null) : path.slice(0, -1)
}

/** Value over spend at which all results of a row's ads pay back; null where nothing is known of it. */
export const breakEvenRoasOf = ({
  leaves,
  worth,
  line,
  restsOn,
}: Pick<JudgedRow, 'leaves' | 'worth' | 'line' | 'restsOn'>): number | null =>
  restsOn ? ratio(restsOn.sums.estimatedValue, leaves) : worth && line ? worth.mean / line : null

/** The part of the account that a row stands for. */
export function scopeOf({ level, path, network }: Pick<JudgedRow, 'level' | 'path' | 'network'>): Scope {
  const within = network ? { network } : {}
  if (level === 'total') return within
  const depth = level === 'part' ? 0 : 2 + levels.indexOf(level)
  const [part, value] = path.slice(0, path.length - depth)
  const [, campaign, ad_set, ad] = path.slice(path.length - depth)
  return {
    ...within,
    ...(part !== undefined && { part, value: value ?? '' }),
    ...(depth > 0 && campaign !== undefined && { campaign }),
    ...(depth > 0 && ad_set !== undefined && { ad_set }),
    ...(depth > 0 && ad !== undefined && { ad }),
  }
}

const idAt = (leaf: Leaf, level: Level) => pathAt(leaf, level).at(-1)!
const levelAbove = { ad: 'ad_set', ad_set: 'campaign', campaign: null } as const

/** The rows of a level for some leaves: their sums are those of the leaves. */
export function rollUp(
  evidence: Evidence,
  leaves: readonly number[],
  leafSums: LeafSums,
  level: Level,
): JudgedRow[] {
  const groups = new Map<string, number[]>()
  for (const leaf of leaves) append(groups, pathKey(...pathAt(evidence.data.tree.leaves[leaf]!, level)), leaf)
  return [...groups.values()].map(own => levelRow(evidence, own, leafSums, level))
}

/** The row of a campaign, ad set or ad: of leaves that share its path. */
function levelRow(
  evidence: Evidence,
  leaves: readonly number[],
  leafSums: LeafSums,
  level: Level,
): JudgedRow {
  const { tree } = evidence.data
  const leaf = tree.leaves[leaves[0]!]!
  const id = idAt(leaf, level)
  const above = levelAbove[level]
  return {
    ...summed(evidence, leaves, leafSums),
    level,
    path: pathAt(leaf, level),
    id,
    name: id ? nameOf(tree, leaf.network, level, id) : '',
    formerNames: (tree.names.get(nameKey(leaf.network, level, id)) ?? []).slice(0, -1),
    network: leaf.network,
    parentId: above ? idAt(leaf, above) : null,
  }
}

/** The row of all that some leaves hold, of one network or of all (''). */
export const totalRow = (
  evidence: Evidence,
  leaves: readonly number[],
  leafSums: LeafSums,
  network = '',
): JudgedRow => ({
  ...summed(evidence, leaves, leafSums),
  level: 'total',
  path: network ? [network] : [],
  id: 'total',
  name: 'All ads',
  formerNames: [],
  network,
  parentId: null,
})

/** Sums that are not of whole units. */
type Exact = 'squares' | 'leaves' | 'leavesSquares'
const sumOver = (leaves: readonly number[], of: Float64Array): number =>
  leaves.reduce((sum, leaf) => sum + of[leaf]!, 0)

const NO_VERDICT: Verdict = { kind: 'wait', because: 'no_line', probability: null, needed: null }

/** Sums of some leaves, with the range of their estimate: errors that leaves share are added before they are squared. */
function summed(
  { data, estimate }: Evidence,
  leaves: readonly number[],
  { sums, spreads, ...exact }: LeafSums,
): Pick<
  JudgedRow,
  | 'sums'
  | 'low'
  | 'high'
  | 'variance'
  | Exact
  | 'worth'
  | 'line'
  | 'rate'
  | 'left'
  | 'verdict'
  | 'byResult'
  | 'restsOn'
> {
  const total = leaves.reduce((sum, leaf) => addSums(sum, sums[leaf]!), noSums())
  const certain = leaves.reduce((sum, leaf) => sum + spreads[leaf]!.certain, 0)
  const orders = total.estimatedTenths / 10
  const variance = varianceOf(estimate, data.tree.networkOf, leaves, spreads)
  const { low, high } = orderRange(certain, Math.max(0, orders - certain), variance)
  return {
    sums: total,
    low: Math.min(low, orders),
    high: Math.max(high, orders),
    variance,
    squares: sumOver(leaves, exact.squares),
    leaves: sumOver(leaves, exact.leaves),
    leavesSquares: sumOver(leaves, exact.leavesSquares),
    worth: null,
    line: null,
    rate: null,
    left: null,
    verdict: NO_VERDICT,
    byResult: data.countedBy ? resultSums(data.tree, leaves, sums) : null,
    restsOn: null,
  }
}

/** What each result brought to some leaves, most value first. */
function resultSums(tree: AdTree, leaves: readonly number[], sums: readonly Sums[]): ResultSum[] {
  const found = new Map<string, ResultSum>()
  for (const leaf of leaves) {
    const result = resultOfLeaf(tree.leaves[leaf]!)
    if (result === null) continue
    const own = found.get(result) ?? { result, tenths: 0, value: 0 }
    own.tenths += sums[leaf]!.estimatedTenths
    own.value += sums[leaf]!.estimatedValue
    found.set(result, own)
  }
  return [...found.values()]
    .filter(({ tenths }) => tenths > 0)
    .sort((a, b) => b.value - a.value || b.tenths - a.tenths)
}

const TENTH = 1.2816
/** How somebody wants rows judged. */
export interface JudgingRules {
  thresholds?: Thresholds
  rules?: readonly PlainRule[]
  /** how many minor units one major unit has */
  minorUnits?: number
  /** how far what all results of a row are worth may be off together: variance of its logarithm */
  worthDoubt?: (row: JudgedRow) => number
  /** whether somebody has said what is left of a row's results; a target says it too */
  marginSaid?: (row: JudgedRow) => boolean
}

/** What a result leaves at least, in minor units: less than nothing has no logarithm. */
const LEAST_LEFT = 1

/**
 * The same rows, each with what its results are worth, its line and its verdict, all drawn toward the row above.
 *
 * @param levels from the top down; each row's parent stands in the level before
 * @param targetOf what a row's result may cost in place of what it leaves, in minor units; null for none
 */
export function withVerdicts(
  levels: readonly (readonly JudgedRow[])[],
  targetOf: (row: JudgedRow) => number | null,
  {
    thresholds = usualThresholds,
    rules = [],
    minorUnits = 100,
    worthDoubt = () => 0,
    marginSaid = () => true,
  }: JudgingRules = {},
): JudgedRow[][] {
  const places = levels.map(rows => new Map(rows.map((row, i) => [pathKey(...row.path), i])))
  const parentOf = (row: JudgedRow, level: number) =>
    level === 0 ? -1 : (places[level - 1]!.get(pathKey(...above(row))) ?? -1)
  const placed = levels.map((rows, level) =>
    rows.map(row => ({ row, parent: parentOf(row, level), count: row.sums.estimatedTenths / 10 })),
  )
  const rates = resultRates(
    placed.map(rows =>
      rows.map(({ row, parent, count }) => ({
        parent,
        count,
        variance: row.variance,
        exposure: row.sums.spend,
      })),
    ),
  )
  const worths = worthOfRows(
    placed.map(rows =>
      rows.map(({ row, parent, count }) => ({
        parent,
        count,
        worth: row.sums.estimatedValue,
        squares: row.squares,
      })),
    ),
  )
  const leaving = worthOfRows(
    placed.map(rows =>
      rows.map(({ row, parent, count }) => ({
        parent,
        count,
        ...(row.leaves > LEAST_LEFT * count
          ? { worth: row.leaves, squares: row.leavesSquares }
          : // What was worth something and leaves less than nothing leaves surely next to nothing.
            {
              worth: row.sums.estimatedValue > 0 ? LEAST_LEFT * count : 0,
              squares: LEAST_LEFT ** 2 * count,
            }),
      })),
    ),
  )
  return levels.map((rows, level) =>
    rows.map((row, i) => {
      const worth = doubted(worths[level]![i]!, worthDoubt(row))
      const own = doubted(leaving[level]![i]!, worthDoubt(row))
      const target = targetOf(row)
      const left = own && Math.exp(own.log)
      const line = target ?? left
      const rate = rates[level]![i]!
      return {
        ...row,
        worth: worth && {
          mean: Math.exp(worth.log),
          low: Math.exp(worth.log - TENTH * Math.sqrt(worth.variance)),
          high: Math.exp(worth.log + TENTH * Math.sqrt(worth.variance)),
        },
        line,
        left,
        rate: rate && { log: rate.log, variance: rate.variance },
        verdict: withRules(
          verdictOf(
            {
              spend: row.sums.spend,
              rate,
              line,
              worth: target === null && own ? own : { variance: 0, ofOne: 1 },
              hasResult: !isNone(row.sums.estimatedTenths / 10),
              marginSaid: marginSaid(row) || target !== null,
            },
            thresholds,
          ),
          {
            spend: row.sums.spend,
            impressions: row.sums.impressions,
            results: row.sums.estimatedTenths / 10,
            line,
          },
          rules,
          minorUnits,
        ),
      }
    }),
  )
}

/** What a result is worth, with what nobody knows of it besides. */
const doubted = (worth: Worth | null, variance: number): Worth | null =>
  worth && variance > 0 ? { ...worth, variance: worth.variance + variance } : worth

/** The path of what a row is judged beside: the row above it, the network, or the whole. */
const above = (row: JudgedRow): string[] =>
  pathAbove(row) ?? (row.level === 'campaign' ? row.path.slice(0, 1) : [])
