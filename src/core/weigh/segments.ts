/** What an order can be put under by the click that brought it, besides its ad. */
export const segmentKinds = [
  'keyword',
  'match_type',
  'placement',
  'source',
  'device',
  'landing_page',
  'offer',
  'saved_link',
  'weekday',
  'hour',
] as const
export type SegmentKind = (typeof segmentKinds)[number]

const PREFIX = 'click.'
/** The part of a leaf under which its segment stands. */
export const segmentPart = (kind: SegmentKind): string => `${PREFIX}${kind}`
/** The kind of segment that a part is; null for a part of names. */
export const segmentOfPart = (part: string | undefined): SegmentKind | null =>
  segmentKinds.find(kind => segmentPart(kind) === part) ?? null

/** Written one way by the shop's tag and another by a network’s report, these mean the same. */
const caseless: readonly SegmentKind[] = ['keyword', 'match_type', 'device']
export const asSegment = (kind: SegmentKind, value: string | null): string => {
  const trimmed = value?.trim() ?? ''
  return caseless.includes(kind) ? trimmed.toLowerCase() : trimmed
}

/** Whether a row's path is that of what no segment is known of, and of the spend that no report splits. */
export const isUnsaid = ([part, value]: readonly string[]): boolean =>
  value === '' && segmentOfPart(part) !== null

/** Whether a row is of what clicks say, as a keyword or a landing page: its network need not say what was spent on it. */
export const isOfClicks = ([part]: readonly string[]): boolean => segmentOfPart(part) !== null

/** Whether the segments of a part have an order of their own: weekdays, hours. */
export const isOfTime = (part: string | undefined): boolean => {
  const kind = segmentOfPart(part)
  return kind === 'weekday' || kind === 'hour'
}
