import { and, desc, eq, gte, lt, lte, ne, notInArray, type SQL, sql } from 'drizzle-orm'
import type { CountedSource, SourceKind } from '@/core/links/sources'
import { parseDay, type Span } from '@/core/shared/days'
import type { SegmentKind } from '@/core/weigh/segments'
import type { CountedSegment } from '@/core/weigh/sharedSpend'
import type { Executor } from './connect'
import { adEntities, clicks, hops, savedLinks } from './schema'
import { oneOf } from './store'

const columns = {
  source: [clicks.source],
  keyword: [clicks.keyword, clicks.match_type],
  placement: [clicks.placement],
  device: [clicks.device],
} as const satisfies Record<SourceKind, unknown>

const valuesOf = (first: string | null, second: string | null) => [first ?? '', ...(second ? [second] : [])]

/** The UTC day of an instant, by which clicks are kept. */
const utcDay = (at: number) => new Date(at).toISOString().slice(0, 10)

/** Ad clicks that count, of a span of time. */
const countedClicks = (workspace: string, { from, until }: Span) =>
  and(
    eq(clicks.workspace, workspace),
    gte(clicks.day, utcDay(from)),
    lte(clicks.day, utcDay(until)),
    gte(clicks.clicked_at, new Date(from)),
    lt(clicks.clicked_at, new Date(until)),
    eq(clicks.bot, false),
    eq(clicks.repeated, false),
  )

export interface Segment {
  kind: SegmentKind
  value: string
}
const pathOfClick = {
  network: clicks.network,
  campaign: sql<string>`coalesce(${clicks.campaign_id}, '')`,
  adSet: sql<string>`coalesce(${clicks.ad_set_id}, '')`,
  ad: sql<string>`coalesce(${clicks.ad_id}, '')`,
}
const dayOfClick = (zone: string) => sql<string>`(${clicks.clicked_at} at time zone ${zone})::date::text`

/** Which clicks are counted. */
export interface ClicksAsked {
  networks?: readonly string[] | undefined
  segment?: Segment | undefined
}

/** What a click says of a segment, as `bySegment` reads it; null or empty where it says nothing. */
const segmentOf = (kind: SegmentKind, zone: string): SQL<string | null> => {
  const local = sql`${clicks.clicked_at} at time zone ${zone}`
  switch (kind) {
    case 'weekday':
      return sql`extract(isodow from ${local})::int::text`
    case 'hour':
      return sql`extract(hour from ${local})::int::text`
    case 'landing_page':
      return sql`regexp_replace(${clicks.landing_url}, '^https?://|[?#].*$', '', 'g')`
    case 'saved_link':
      return sql`(select ${savedLinks.code} from ${savedLinks} where ${savedLinks.workspace} = ${clicks.workspace}
        and (${savedLinks.code} = ${clicks.attributes}->>'code'
          or ${savedLinks.link}::jsonb->'former_codes' ? (${clicks.attributes}->>'code')) limit 1)`
    case 'offer':
      return sql`(select regexp_replace(${hops.offer}, '[?#].*$', '') from ${hops} where ${hops.workspace} = ${clicks.workspace}
        and ${hops.click_id} = ${clicks.click_id} order by ${hops.at} desc limit 1)`
    default:
      return sql`${clicks[kind]}`
  }
}

/** What named clicks say of a segment, by click ID; those that say nothing are left out. */
export async function findSegments(
  database: Executor,
  workspace: string,
  kind: SegmentKind,
  zone: string,
  named: readonly NamedClick[],
): Promise<Map<string, string>> {
  if (named.length === 0) return new Map()
  const keys = named.map(({ id, at }) => ({ id, day: utcDay(at) }))
  const { rows } = await database.execute<{ id: string; said: string | null }>(sql`
    select ${clicks.click_id} as id, ${segmentOf(kind, zone)} as said
    from ${clicks}
    join json_to_recordset(${JSON.stringify(keys)}::json) as r(id text, day date)
      on ${clicks.day} = r.day and ${clicks.click_id} = r.id
    where ${clicks.workspace} = ${workspace}`)
  return new Map(rows.flatMap(({ id, said }) => (said ? [[id, said] as const] : [])))
}

/**
 * Ad clicks that count, by ad and day of a zone.
 *
 * @param networks those of these networks alone; of all where none is given
 * @param segment those of this segment alone, as it is written when case and spaces around it say nothing
 */
export async function countClicksByDay(
  database: Executor,
  workspace: string,
  span: Span,
  zone: string,
  { networks, segment }: ClicksAsked = {},
) {
  const rows = await database
    .select({ ...pathOfClick, day: dayOfClick(zone), count: sql<number>`count(*)::int` })
    .from(clicks)
    .where(
      and(
        countedClicks(workspace, span),
        networks && oneOf(clicks.network, networks),
        segment &&
          sql`trim(lower(coalesce(${segmentOf(segment.kind, zone)}, ''))) = ${segment.value.toLowerCase()}`,
      ),
    )
    .groupBy(clicks.network, clicks.campaign_id, clicks.ad_set_id, clicks.ad_id, sql`5`)
  return rows.map(row => ({ ...row, day: parseDay(row.day)! }))
}

/** Ad clicks that count, by ad, day of a zone and what they say of a segment. */
export async function countSegments(
  database: Executor,
  workspace: string,
  span: Span,
  zone: string,
  kind: SegmentKind,
): Promise<CountedSegment[]> {
  const rows = await database
    .select({
      ...pathOfClick,
      day: dayOfClick(zone),
      segment: sql<string>`coalesce(${segmentOf(kind, zone)}, '')`,
      clicks: sql<number>`count(*)::int`,
    })
    .from(clicks)
    .where(countedClicks(workspace, span))
    .groupBy(clicks.network, clicks.campaign_id, clicks.ad_set_id, clicks.ad_id, sql`5`, sql`6`)
  return rows.map(row => ({ ...row, day: parseDay(row.day)! }))
}

/** Ad clicks that count, by `network/ad`. */
export async function countAdClicks(
  database: Executor,
  workspace: string,
  span: Span,
): Promise<Map<string, number>> {
  const rows = await database
    .select({ network: clicks.network, ad: clicks.ad_id, count: sql<number>`count(*)::int` })
    .from(clicks)
    .where(countedClicks(workspace, span))
    .groupBy(clicks.network, clicks.ad_id)
  return new Map(rows.map(row => [`${row.network}/${row.ad ?? ''}`, row.count]))
}

/** Ad clicks that count by source, keyword, placement or device; those that name none are left out. */
export async function countSources(
  database: Executor,
  workspace: string,
  kind: SourceKind,
  { network, ...span }: Span & { network?: string | undefined },
): Promise<CountedSource[]> {
  const [first, second] = columns[kind]
  const rows = await database
    .select({
      network: clicks.network,
      first,
      second: second ?? sql<null>`null`,
      clicks: sql<number>`count(*)::int`,
      visitors: sql<number>`count(distinct ${clicks.visitor_id})::int`,
    })
    .from(clicks)
    .where(
      and(
        countedClicks(workspace, span),
        network === undefined ? undefined : eq(clicks.network, network),
        ne(sql`coalesce(${first}, '')`, ''),
      ),
    )
    .groupBy(clicks.network, ...columns[kind])
  return rows.map(({ first, second, ...row }) => ({ ...row, values: valuesOf(first, second) }))
}

const adOfClick = and(
  eq(adEntities.workspace, clicks.workspace),
  eq(adEntities.network, clicks.network),
  eq(adEntities.level, 'ad'),
  eq(adEntities.id, clicks.ad_id),
)
const adName = sql<string | null>`coalesce(${adEntities.name}, ${clicks.ad_id})`

export interface NamedClick {
  id: string
  /** epoch ms */
  at: number
}
/** How named clicks came and by which ad, by click ID; those that do not say are left out. */
export async function findClickSources(
  database: Executor,
  workspace: string,
  kind: SourceKind,
  named: readonly NamedClick[],
): Promise<Map<string, { ad: string | null; values: string[] }>> {
  if (named.length === 0) return new Map()
  const [first, second] = columns[kind]
  const keys = named.map(({ id, at }) => ({ id, day: utcDay(at) }))
  const { rows } = await database.execute<{
    id: string
    ad: string | null
    first: string
    second: string | null
  }>(sql`
    select ${clicks.click_id} as id, ${adName} as ad, ${first} as first, ${second ?? sql`null`} as second
    from ${clicks}
    join json_to_recordset(${JSON.stringify(keys)}::json) as r(id text, day date)
      on ${clicks.day} = r.day and ${clicks.click_id} = r.id
    left join ${adEntities} on ${adOfClick}
    where ${clicks.workspace} = ${workspace} and coalesce(${first}, '') <> ''`)
  return new Map(rows.map(row => [row.id, { ad: row.ad, values: valuesOf(row.first, row.second) }]))
}

/**
 * The latest clicks of a line of sources.
 *
 * @param besides IDs of clicks to leave out
 */
export async function listSourceClicks(
  database: Executor,
  workspace: string,
  kind: SourceKind,
  { network, values, ...span }: Span & { network: string; values: readonly string[] },
  besides: readonly string[],
  most: number,
): Promise<(NamedClick & { ad: string | null })[]> {
  const [first, second] = columns[kind]
  const rows = await database
    .select({ id: clicks.click_id, at: clicks.clicked_at, ad: adName })
    .from(clicks)
    .leftJoin(adEntities, adOfClick)
    .where(
      and(
        countedClicks(workspace, span),
        eq(clicks.network, network),
        eq(first, values[0] ?? ''),
        second ? eq(sql`coalesce(${second}, '')`, values[1] ?? '') : undefined,
        notInArray(clicks.click_id, [...besides]),
      ),
    )
    .orderBy(desc(clicks.clicked_at))
    .limit(most)
  return rows.map(row => ({ ...row, at: row.at.getTime() }))
}
