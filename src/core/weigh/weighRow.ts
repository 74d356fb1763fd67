import { levels, pathAt } from '../intake/tree'
import type { Day, Period } from '../shared/days'
import { pathKey } from '../shared/path'
import { billedUntil, latestBilled } from './billed'
import { type Doubt, doubtsOf, fallenCaptures } from './doubts'
import type { Evidence } from './evidence'
import type { JudgedRow } from './rows'
import { seriesBy } from './series'
import { findTiring, type Tiring } from './tiring'

/** A row with what its verdict rests on. */
export interface WeighedRow extends JudgedRow {
  /** first and last day on which it spent anything, of all days; null for one that never has */
  firstSpent: Day | null
  lastSpent: Day | null
  /** whether it runs, by its network's last word; null where reports say nothing of it */
  active: boolean | null
  doubts: Doubt[]
  tires: Tiring[]
}

/** A trend is looked for in so many days up to the end of the period, or in the period where it is longer. */
const TREND_DAYS = 56

/** What is known of an account beside its sums. */
export interface WeighFacts {
  /** how many days each network learns an ad for; 0 where nothing is said */
  learningDays: (network: string) => number
  /** whether clicks of an ad are billed that never arrive, as `network/ad` */
  lostClicks: ReadonlySet<string>
}

/** The group of each leaf by the row it stands below; rows of one level alone, below parts of names or not. */
export function groupsOf(e: Evidence, rows: readonly JudgedRow[]): Int32Array {
  const { leaves } = e.data.tree
  const groups = new Int32Array(leaves.length).fill(-1)
  const [first] = rows
  if (!first || first.level === 'total') return groups
  const { level } = first
  const depth = level === 'part' ? 0 : 2 + levels.indexOf(level)
  const part = first.path.length > depth ? first.path[0]! : null
  const numbers = new Map(rows.map((row, i) => [pathKey(...row.path), i]))
  leaves.forEach((leaf, i) => {
    const below = level === 'part' ? [] : pathAt(leaf, level)
    const above = part === null ? [] : [part, leaf.parts?.[part] ?? '']
    groups[i] = numbers.get(pathKey(...above, ...below)) ?? -1
  })
  return groups
}

/** Words by which networks say that something runs. */
const RUNS = /^(active|running|on|live|enabled|delivering)\b/i

interface Spans {
  first: Float64Array
  last: Float64Array
  /** the network's last word on each leaf; null where it said none */
  status: (string | null)[]
}
const spans = new WeakMap<object, Spans>()
function spentSpans({ data }: Evidence): Spans {
  const known = spans.get(data.delivery)
  if (known) return known
  const first = new Float64Array(data.tree.leaves.length).fill(Number.POSITIVE_INFINITY)
  const last = new Float64Array(data.tree.leaves.length).fill(Number.NEGATIVE_INFINITY)
  const status = data.tree.leaves.map((): string | null => null)
  for (const { leaf, day, spend, status: said } of data.delivery) {
    // Rows stand in order of time: the last word holds.
    if (said) status[leaf] = said
    if (spend <= 0) continue
    first[leaf] = Math.min(first[leaf]!, day)
    last[leaf] = Math.max(last[leaf]!, day)
  }
  const made = { first, last, status }
  spans.set(data.delivery, made)
  return made
}

/**
 * Judged campaigns, ad sets and ads with what their verdicts rest on. Whether a row tires is asked of each level by
 * itself, corrected for how many rows that level has.
 */
export function weighRows(
  e: Evidence,
  rows: readonly JudgedRow[],
  period: Period,
  { learningDays, lostClicks }: WeighFacts,
): WeighedRow[] {
  const { first, last, status } = spentSpans(e)
  const fallen = fallenCaptures(e, period)
  const until = billedUntil(e.data)
  const latest = latestBilled(until) ?? Number.NEGATIVE_INFINITY
  const { networks } = e.data.tree
  const trend = { from: Math.min(period.from, period.to - TREND_DAYS + 1), to: period.to }
  const weighed = new Map<JudgedRow, WeighedRow>()
  for (const level of ['part', ...levels] as const) {
    const own = rows.filter(row => row.level === level)
    const groups = groupsOf(e, own)
    const spent = own.map(() => ({
      first: Number.POSITIVE_INFINITY,
      last: Number.NEGATIVE_INFINITY,
      lost: false,
      active: null as boolean | null,
    }))
    groups.forEach((group, leaf) => {
      const at = spent[group]
      if (!at) return
      at.first = Math.min(at.first, first[leaf]!)
      at.last = Math.max(at.last, last[leaf]!)
      const word = status[leaf]
      if (word) at.active = at.active === true || RUNS.test(word)
      const { network, ad } = e.data.tree.leaves[leaf]!
      at.lost ||= lostClicks.has(`${network}/${ad}`)
    })
    const tiring = findTiring(seriesBy(e, trend, groups, own.length))
    own.forEach((row, i) => {
      const network = networks.indexOf(row.network)
      const known = (day: number) => (Number.isFinite(day) ? day : null)
      const firstSpent = known(spent[i]!.first)
      weighed.set(row, {
        ...row,
        firstSpent,
        lastSpent: known(spent[i]!.last),
        active: spent[i]!.active,
        tires: tiring[i]!,
        doubts: doubtsOf(row, {
          fallen: fallen[network] ?? false,
          lostClicks: spent[i]!.lost,
          firstSpent,
          learningDays: learningDays(row.network),
          period,
          late: (until[network] ?? latest) < Math.min(latest, period.to),
        }),
      })
    })
  }
  return rows.map(
    row =>
      weighed.get(row) ?? { ...row, firstSpent: null, lastSpent: null, active: null, doubts: [], tires: [] },
  )
}
