import { isOfTime, type SegmentKind, segmentOfPart } from '@/core/weigh/segments'

/** What a segment is called where rows are chosen by it. */
export const segmentWords: Record<SegmentKind, string> = {
  keyword: 'keyword',
  match_type: 'match type',
  placement: 'placement',
  source: 'source',
  device: 'device',
  landing_page: 'landing page',
  offer: 'offer',
  saved_link: 'saved link',
  weekday: 'weekday of the click',
  hour: 'hour of the click',
}

// 5 January 1970 was a Monday.
const weekday = new Intl.DateTimeFormat('en-GB', { weekday: 'long', timeZone: 'UTC' })
const weekdayName = (number: number) => weekday.format(new Date(Date.UTC(1970, 0, 4 + number)))

/** What a row by a part of names or by a segment is called; null where nothing is said. */
export function partTitle(part: string | undefined, value: string): string | null {
  const kind = segmentOfPart(part)
  if (value === '' && isOfTime(part)) return 'without a click'
  if (value === '') return kind === null ? null : `not split, or no ${segmentWords[kind]}`
  if (kind === 'weekday') return weekdayName(Number(value))
  if (kind === 'hour') return `${value.padStart(2, '0')}:00–${value.padStart(2, '0')}:59`
  return value
}
