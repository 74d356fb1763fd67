import { and, desc, eq, sql } from 'drizzle-orm'
import type { Executor } from './connect'
import { nextRevision } from './revision'
import { clicks } from './schema'

/** A click that carried a value which named nothing known when it came. */
export interface UnreadClick {
  day: string
  click_id: string
  /** epoch ms */
  at: number
  network: string
  query: string
  /** how many levels were read of it */
  depth: number
}

export async function unreadClicks(
  database: Executor,
  workspace: string,
  most: number,
): Promise<UnreadClick[]> {
  const rows = await database
    .select({
      day: clicks.day,
      click_id: clicks.click_id,
      at: clicks.clicked_at,
      network: clicks.network,
      query: sql<string>`coalesce(${clicks.attributes} ->> 'query', '')`,
      depth: sql<number>`num_nonnulls(${clicks.campaign_id}, ${clicks.ad_set_id}, ${clicks.ad_id})`,
    })
    .from(clicks)
    .where(and(eq(clicks.workspace, workspace), sql`${clicks.attributes} ? 'unknown'`))
    .orderBy(desc(clicks.clicked_at))
    .limit(most)
  return rows.map(row => ({ ...row, at: row.at.getTime() }))
}

/** What is known of a click now; empty where a level is not. */
export interface PlacedClick {
  day: string
  click_id: string
  campaign: string
  ad_set: string
  ad: string
  by: string | null
  /** values that still name nothing, as attributes keep them */
  unknown: string
  /** whether none is left */
  all: boolean
}

/** Writes of which ads some clicks are, under the workspace's next revision; its version is to be raised after it. */
export async function placeClicks(
  database: Executor,
  workspace: string,
  placed: readonly PlacedClick[],
): Promise<void> {
  if (placed.length === 0) return
  const revision = await nextRevision(database, workspace)
  await database.execute(sql`
    update clicks set campaign_id = nullif(r.campaign, ''), ad_set_id = nullif(r.ad_set, ''),
      ad_id = nullif(r.ad, ''), revision = ${revision}::bigint,
      attributes = (case when r."all" then attributes - 'unknown'
        else attributes || jsonb_build_object('unknown', r.unknown) end)
        || jsonb_build_object('read_by', r.by)
    from json_to_recordset(${JSON.stringify(placed)}::json)
      as r(day date, click_id text, campaign text, ad_set text, ad text, by text, unknown text, "all" boolean)
    where clicks.workspace = ${workspace} and clicks.day = r.day and clicks.click_id = r.click_id`)
}

/** Values of clicks that name nothing known, by network and level, the most frequent first. */
export async function countUnknown(database: Executor, workspace: string, most: number) {
  const { rows } = await database.execute<{
    network: string
    level: 'campaign' | 'ad_set' | 'ad'
    value: string
    clicks: number
    last: string
  }>(sql`
    select network, one ->> 0 as level, one ->> 1 as value, count(*)::int as clicks,
      max(clicked_at)::text as last
    from clicks, jsonb_array_elements((attributes ->> 'unknown')::jsonb) as one
    where workspace = ${workspace} and attributes ? 'unknown' and not bot and not repeated
    group by 1, 2, 3 order by 4 desc, 1, 2, 3 limit ${most}`)
  return rows.map(({ last, ...row }) => ({ ...row, last: new Date(last).getTime() }))
}
