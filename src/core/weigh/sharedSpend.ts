import type { Delivery } from '../intake/dataset'
import { type AdTree, type Leaf, leafNumbers } from '../intake/tree'
import type { Day } from '../shared/days'
import { minor, split } from '../shared/money'
import { asSegment, type SegmentKind } from './segments'

/** How many ad clicks of a day say one thing of themselves; '' for those that say nothing. */
export interface CountedSegment extends Omit<Leaf, 'parts'> {
  day: Day
  segment: string
  clicks: number
}

type Counts = Map<string, number>

/**
 * Shares out what no report splits by a segment, by the ad's clicks of that day, else by all its clicks: an
 * assumption, since not every click costs the same. The parts of a row sum to it, to the unit; what no click says
 * anything of stays whole.
 *
 * @returns of a row of delivery that no report splits, its parts by segment
 */
export function sharedByClicks(
  tree: AdTree,
  kind: SegmentKind,
  counted: readonly CountedSegment[],
): (row: Delivery) => { segment: string; row: Delivery }[] {
  const leafOf = leafNumbers(tree)
  const onDay = new Map<string, Counts>()
  const ever = new Map<number, Counts>()
  const add = <Key>(to: Map<Key, Counts>, key: Key, segment: string, clicks: number) => {
    const counts: Counts = to.get(key) ?? new Map()
    to.set(key, counts.set(segment, (counts.get(segment) ?? 0) + clicks))
  }
  for (const { day, segment: said, clicks, ...ad } of counted) {
    const leaf = leafOf(ad)
    if (leaf < 0) continue
    const segment = asSegment(kind, said)
    add(onDay, `${leaf} ${day}`, segment, clicks)
    add(ever, leaf, segment, clicks)
  }
  return row => {
    const counts = onDay.get(`${row.leaf} ${row.day}`) ?? ever.get(row.leaf)
    if (!counts) return [{ segment: '', row }]
    const segments = [...counts.keys()].sort()
    const weights = segments.map(segment => counts.get(segment)!)
    const [spend, impressions, clicks] = [row.spend, row.impressions, row.clicks].map(whole =>
      split(whole, weights),
    )
    return segments.map((segment, i) => ({
      segment,
      row: {
        ...row,
        spend: minor(spend![i]!),
        impressions: impressions![i]!,
        clicks: clicks![i]!,
        // Who was reached is known of the ad alone.
        reach: null,
        assumed: segment !== '',
      },
    }))
  }
}
