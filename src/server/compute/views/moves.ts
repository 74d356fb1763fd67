import type { Level } from '@/core/intake/tree'
import { formatDay, parseDay } from '@/core/shared/days'
import { readPath } from '@/core/shared/path'
import type { Evidence } from '@/core/weigh/evidence'
import { type MoveList, movesOf, outcomesOf, toldUntil } from '@/core/weigh/moves'
import { type PlanRules, planKey } from '@/core/weigh/whatIf'
import { judgeOnce, type Question } from './judged'

/** Moves with what is expected of them, from the day after on. */
export function forecastMovesView(
  e: Evidence,
  {
    period,
    scope,
    factors,
    rules,
  }: Question & { factors: readonly { path: string[]; factor: number }[]; rules: PlanRules },
) {
  const rows = judgeOnce(e, period).rows.filter(
    row => row.level === 'ad' && (!scope.network || row.network === scope.network),
  )
  const known = factors.filter(({ path }) => rows.some(row => path.every((part, i) => row.path[i] === part)))
  return movesOf(e, rows, period, new Map(known.map(({ path, factor }) => [planKey(path), factor])), rules)
}

/** What became of lists of moves, each with the last day of which its networks have told. */
export const outcomesView = (e: Evidence, { lists }: { lists: readonly MoveList[] }) =>
  lists.map(list => {
    const until = toldUntil(e, list)
    return {
      until: until === null ? null : formatDay(until),
      ...outcomesOf(e, list, parseDay(list.day) ?? 0, period => judgeOnce(e, period)),
    }
  })
export type OutcomesView = ReturnType<typeof outcomesView>

/** What a network's campaigns, ad sets and ads are called, by their keys. */
export const entityNamesView = (
  e: Evidence,
  { network }: { network: string },
): [key: string, name: string][] =>
  [...e.data.tree.names].flatMap(([key, names]): [string, string][] => {
    const [of, _level] = readPath(key) as [string, Level]
    return of === network ? [[key, names.at(-1) ?? '']] : []
  })
