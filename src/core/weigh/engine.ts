import { type Matched, matchUpon } from '../evidence/match'
import { type Placed, placeUpon } from '../evidence/place'
import { type Change, type KeptRecords, withChange } from '../intake/change'
import { type ClickColumns, clickColumns } from '../intake/clicks'
import { type Built, buildUpon } from '../intake/dataset'
import { JUDGED_RESULT } from '../intake/judgedResult'
import type { Settings } from '../intake/settings'
import { type Evidence, evidenceFrom } from './evidence'

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
