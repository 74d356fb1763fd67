import { isNone } from './figures'
import type { JudgedRow } from './rows'

/** Segments of which networks take lists. */
export const listedKinds = ['source', 'placement', 'keyword'] as const

/** One source, placement or keyword with what is to be done about it. */
export interface ListedSegment {
  network: string
  value: string
  action: 'exclude' | 'include'
  /** what to bid in place of one; 0 for what is left out */
  factor: number
  spend: number
  results: number
}

/** Bids move within these, in steps. */
const BIDS = { least: 0.5, most: 1.5, step: 0.05 }

/**
 * Lists of segments to leave out and to keep, by their verdicts: what is to be cut is left out; what is to be raised is
 * kept, with a bid as many times what it is as it stands below its line, drawn toward one, never beyond half as much
 * more. What waits or holds, and what had no result, is on no list.
 *
 * @param rows of segments, judged within one network
 */
export function listedSegments(rows: readonly JudgedRow[], network: string): ListedSegment[] {
  return rows.flatMap((row): ListedSegment[] => {
    if (row.level !== 'part' || row.id === '') return []
    const { verdict, rate, line, sums } = row
    const known = { network, value: row.id, spend: sums.spend, results: sums.estimatedTenths / 10 }
    if (verdict.kind === 'cut') return [{ ...known, action: 'exclude', factor: 0 }]
    if (verdict.kind !== 'raise' || !rate || line === null || isNone(known.results)) return []
    const back = Math.exp(rate.log) * line
    const factor = Math.min(BIDS.most, Math.max(BIDS.least, Math.sqrt(back)))
    return [
      {
        ...known,
        action: 'include',
        factor: Number((Math.round(factor / BIDS.step) * BIDS.step).toFixed(2)),
      },
    ]
  })
}
