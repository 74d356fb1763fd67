import { type Matched, matchUpon } from '../evidence/match'
import { type Placed, placeUpon } from '../evidence/place'
import { type Change, type KeptRecords, withChange } from '../intake/change'
import { type ClickColumns, clickColumns } from '../intake/clicks'
import type { Records } from '../intake/dataset'
import { type Built, buildUpon } from '../intake/dataset'
import { ALL_RESULTS, JUDGED_RESULT } from '../intake/judgedResult'
import type { Settings } from '../intake/settings'
import { minor } from '../shared/money'
import { type ResultDefinition, worthOf } from '../signals/result'
import { allResults } from './allResults'
import { amongResults, type Evidence, evidenceFrom } from './evidence'

/** The evidence of one result, with what the next may take over from it. */
export interface Gathered {
  records: KeptRecords
  settings: Settings
  result: string
  evidence: Evidence
  columns: ClickColumns
  built: Built
  placed: Placed
  matched: Matched
}

/**
 * Works out the evidence of a result. What rests on the very same records as before (the same objects) is taken
 * over, so that it comes out the same and at once.
 *
 * @param records with rows in order (`inOrder`)
 */
export function gather(
  records: KeptRecords,
  settings: Settings,
  result = JUDGED_RESULT,
  before: Gathered | null = null,
): Gathered {
  const { clicks, clickAds } = records
  const columns =
    before?.records.clicks === clicks && before.records.clickAds === clickAds
      ? before.columns
      : clickColumns(clicks, clickAds)
  const built = buildUpon(before?.built ?? null, { ...records, clicks: columns }, settings, result)
  const placed = placeUpon(before?.placed ?? null, built.data)
  const matched = matchUpon(before?.matched ?? null, built.data, placed.placements)
  const evidence = evidenceFrom(built.data, placed.placements, matched.matches)
  return { records, settings, result, evidence, columns, built, placed, matched }
}

/**
 * The evidence after a change of rows.
 * Law: `advance(gather(a), b)` is `gather` of `a` with `b`, whatever came in which order.
 */
export const advance = (before: Gathered, change: Change): Gathered =>
  gather(withChange(before.records, change), before.settings, before.result, before)

/**
 * The results that bring money, the shop's orders first, then as they are defined, then those that only orders name.
 * A step on the way, which is worth nothing, is none; nor is one that was archived.
 */
export function valuedResults({
  orders,
  told = [],
  definitions = [],
}: Pick<Records, 'orders' | 'told' | 'definitions'>): string[] {
  const came = new Set(orders.map(order => order.result))
  for (const { name } of told) came.add(name)
  const defined = definitions.filter(one => one.id !== JUDGED_RESULT)
  const known = new Set(definitions.map(one => one.id))
  return [
    JUDGED_RESULT,
    ...defined.flatMap(one => (came.has(one.id) && !one.archived && isWorthMoney(one) ? [one.id] : [])),
    ...[...new Set(orders.map(order => order.result))]
      .filter(id => id !== JUDGED_RESULT && !known.has(id))
      .sort(),
  ]
}

/** Whether it can be worth anything: nothing was said of what an event will say. */
const isWorthMoney = ({ value }: ResultDefinition): boolean => worthOf(value, minor(1)) !== 0

/**
 * The evidence of a result, which knows of all results that bring money where there are several; for `ALL_RESULTS`
 * that of all.
 *
 * @param gathered the evidence of one result of these records
 */
export function evidenceAmong(
  records: Pick<Records, 'orders' | 'told' | 'definitions'>,
  result: string,
  gathered: (result: string) => Evidence,
): Evidence {
  const all = () => {
    const results = valuedResults(records)
    return results.length > 1 ? allResults(results.map(gathered)) : null
  }
  return result === ALL_RESULTS ? (all() ?? gathered(JUDGED_RESULT)) : amongResults(gathered(result), all)
}
