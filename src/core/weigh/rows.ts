import { varianceOf } from '../estimate/estimate'
import { orderRange } from '../estimate/range'
import { type Leaf, type Level, levels, nameKey, nameOf, pathAt } from '../intake/tree'
import { append } from '../shared/append'
import { pathKey } from '../shared/path'
import type { Evidence } from './evidence'
import { addSums, noSums, type Sums } from './figures'
import type { LeafSums } from './leafSums'
import type { Scope } from './scope'
import { judgeFamily, type Verdict } from './verdict'

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
  verdict: Verdict
}

/** The path of the row that a row stands below; null for one that stands below none. */
export function pathAbove({ level, path }: Pick<JudgedRow, 'level' | 'path'>): string[] | null {
  if (level === 'part' || level === 'total') return null
  // A campaign stands below a part of names, if below anything.
  return level === 'campaign' ? (path.length > 2 ? path.slice(0, 2) : null) : path.slice(0, -1)
}

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

const NO_VERDICT: Verdict = { kind: 'wait', because: 'no_line', probability: null }

/** Sums of some leaves, with the range of their estimate: errors that leaves share are added before they are squared. */
function summed(
  { data, estimate }: Evidence,
  leaves: readonly number[],
  { sums, spreads }: LeafSums,
): Pick<JudgedRow, 'sums' | 'low' | 'high' | 'verdict'> {
  const total = leaves.reduce((sum, leaf) => addSums(sum, sums[leaf]!), noSums())
  const certain = leaves.reduce((sum, leaf) => sum + spreads[leaf]!.certain, 0)
  const orders = total.estimatedTenths / 10
  const variance = varianceOf(estimate, data.tree.networkOf, leaves, spreads)
  const { low, high } = orderRange(certain, Math.max(0, orders - certain), variance)
  return { sums: total, low: Math.min(low, orders), high: Math.max(high, orders), verdict: NO_VERDICT }
}

/** The same rows, each judged beside those that stand below the same row. */
export function withVerdicts(rows: readonly JudgedRow[], line: number | null): JudgedRow[] {
  const families = new Map<string, JudgedRow[]>()
  for (const row of rows) append(families, pathKey(row.level, row.network, ...(pathAbove(row) ?? [])), row)
  const verdicts = new Map<JudgedRow, Verdict>()
  for (const family of families.values()) {
    const found = judgeFamily(
      family.map(({ sums }) => ({ spend: sums.spend, orders: sums.estimatedTenths / 10 })),
      line,
    )
    family.forEach((row, i) => void verdicts.set(row, found[i]!))
  }
  return rows.map(row => ({ ...row, verdict: verdicts.get(row)! }))
}
