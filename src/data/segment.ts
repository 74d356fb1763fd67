import { BY_HAND, PLACEMENTS } from '@/core/links/savedLink'
import { pathKey, readPath } from '@/core/shared/path'

const segmentKeys = ['keyword', 'match_type', 'placement', 'source', 'device'] as const
type Segment = Record<(typeof segmentKeys)[number], string | null>

/** By what a report splits an ad's day, as one key; empty where it does not. */
export const segmentKey = (row: Segment & { network: string }): string =>
  segmentKeys.some(key => row[key])
    ? pathKey(...segmentKeys.map(key => row[key] ?? ''))
    : row.network === PLACEMENTS
      ? BY_HAND
      : ''

export function readSegment(key: string): Segment {
  const parts = key.startsWith('[') ? readPath(key) : []
  const at = (name: (typeof segmentKeys)[number]) => parts[segmentKeys.indexOf(name)] || null
  return {
    keyword: at('keyword'),
    match_type: at('match_type'),
    placement: at('placement'),
    source: at('source'),
    device: at('device'),
  }
}
