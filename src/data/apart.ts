import { sql } from 'drizzle-orm'
import type { ApartGroup } from '@/core/signals/apart'
import { APART, NAMED_RULE } from '@/core/signals/mayTell'
import type { Executor } from './connect'
import { nextRevision } from './revision'
import { raiseVersion } from './workspace'

// What browsers told and figures leave out: kept with why (`apart`), until somebody decides (`decided`).

const textOf = (name: string) => sql.raw(`attributes->>'${name}'`)
const list = (values: readonly string[]) =>
  sql`array(select jsonb_array_elements_text(${JSON.stringify(values)}::jsonb))`
/** Told by a browser, counted at the moment. */
const counted = sql.raw(`attributes ? 'rule' and not bot`)

export interface ToldRow extends Record<string, unknown> {
  id: string
  result: string
  /** epoch ms */
  at: number
  sender: string | null
  agent: string | null
  page: string | null
  click: string | null
  value: string | null
  visited: boolean
  decided: boolean
  apart: string | null
}

/** What browsers told since a day, each with whether its browser had opened a page: what is apart for some reasons too. */
export const toldSince = async (
  database: Executor,
  workspace: string,
  day: string,
  reasons: readonly string[],
): Promise<ToldRow[]> =>
  (
    await database.execute<ToldRow>(sql`
      with own as (select * from events where workspace = ${workspace} and day >= ${day} and not bot),
        by_visitor as (select visitor_id, min(at) as at from own where name = 'page' and visitor_id is not null group by 1),
        by_agent as (select day, ${textOf('from')} as sender, ${textOf('agent')} as agent, min(at) as at
          from own where name = 'page' group by 1, 2, 3),
        told as (select * from own where coalesce(${textOf('decided')}, '') <> 'left_out'
          and (attributes ? 'rule' or ${textOf(APART)} = any(${list(reasons)})))
      select told.event_id as id, told.name as result, extract(epoch from told.at)::float8 * 1000 as at,
        told.${textOf('from')} as sender, told.${textOf('agent')} as agent, page, click_id as click, value,
        coalesce(least(by_visitor.at, by_agent.at) <= told.at + interval '1 minute', false) as visited,
        coalesce(told.${textOf('decided')} = 'counts', false) as decided, told.${textOf(APART)} as apart
      from told left join by_visitor using (visitor_id)
        left join by_agent on by_agent.day = told.day and by_agent.sender = told.${textOf('from')}
          and by_agent.agent = told.${textOf('agent')}`)
  ).rows

/** How many pages each class of senders opened, by day (UTC days since 1970), since a day. */
export const pagesByClass = async (database: Executor, workspace: string, day: string) =>
  (
    await database.execute<{ day: number; sender: string; pages: number }>(sql`
      select (day - date '1970-01-01') as day, coalesce(${textOf('from')}, '') as sender, count(*)::int as pages
      from events where workspace = ${workspace} and day >= ${day} and name = 'page' and not bot group by 1, 2`)
  ).rows

/** Of each result, the most of a day that had something in common, between two days; `what` is the bit mask of `grouping`. */
export const mostAlike = async (database: Executor, workspace: string, from: string, to: string) =>
  (
    await database.execute<{ result: string; what: number; most: number }>(sql`
      with told as (select name, day, ${textOf('from')} as sender, click_id, ${textOf('agent')} as agent,
          floor(extract(epoch from at) / 60)::text as minute, split_part(split_part(page, '?', 1), '#', 1) as path
        from events where workspace = ${workspace} and day >= ${from} and day < ${to} and ${counted}),
      alike as (select name, coalesce(click_id, sender, minute, agent, path, '') as key,
          grouping(click_id, sender, minute, agent, path) as what, count(*)::int as n
        from told group by grouping sets ((name, day, click_id), (name, day, sender), (name, day, minute),
          (name, day, agent), (name, day, path)))
      select name as result, what, max(n) as most from alike where key <> '' group by 1, 2`)
  ).rows

/** Of each result, what the days between two were like: how many there were, and its values. */
export const daysAndValues = async (database: Executor, workspace: string, from: string, to: string) =>
  (
    await database.execute<{ result: string; days: number; valued: number; top: number | null }>(sql`
      select name as result, count(distinct day)::int as days, count(value)::int as valued, max(value::numeric)::float8 as top
      from events where workspace = ${workspace} and day >= ${from} and day < ${to} and ${counted} group by 1`)
  ).rows

/** Keeps results apart, each with why, or counts them again. */
export async function moveApart(
  database: Executor,
  workspace: string,
  day: string,
  moved: readonly { id: string; reason: string | null }[],
): Promise<void> {
  if (moved.length === 0) return
  const revision = await nextRevision(database, workspace)
  await database.execute(sql`
    update events set revision = ${revision}, attributes = case when m.reason is null
      then attributes - ${APART}::text - ${NAMED_RULE}::text || jsonb_build_object('rule', coalesce(${textOf(NAMED_RULE)}, ${textOf('rule')}))
      else attributes - 'rule' || jsonb_build_object(${APART}::text, m.reason, ${NAMED_RULE}::text, coalesce(${textOf('rule')}, ${textOf(NAMED_RULE)})) end
    from json_to_recordset(${JSON.stringify(moved)}::json) as m(id text, reason text)
    where workspace = ${workspace} and day >= ${day} and event_id = m.id`)
  // What is apart now bears no later revision among what is read.
  await raiseVersion(database, workspace, 'everything')
}

/** What is kept apart and nobody decided on, by day, the latest first. */
export async function listApart(database: Executor, workspace: string, most: number): Promise<ApartGroup[]> {
  const figures = (at: string, page: string) =>
    sql.raw(`attributes->>'${APART}' as reason, day::text as day, count(*)::int as count,
      extract(epoch from min(${at}))::float8 * 1000 as first, extract(epoch from max(${at}))::float8 * 1000 as last,
      count(distinct attributes->>'from')::int as senders, count(distinct attributes->>'agent')::int as agents,
      min(${page}) as page`)
  const open = sql`workspace = ${workspace} and attributes ? ${APART}::text and not attributes ? 'decided'`
  const { rows } = await database.execute<ApartGroup & Record<string, unknown>>(sql`
    select 'event' as kind, name as of, ${figures('at', 'page')} from events where ${open} and not bot group by 2, 3, 4
    union all
    select 'click' as kind, network as of, ${figures('clicked_at', 'landing_url')} from clicks where ${open} group by 2, 3, 4
    order by day desc, count desc limit ${most}`)
  return rows
}

/** Decides on a group: its results count from now on, or stay left out. Gives how many there were. */
export async function decideApart(
  database: Executor,
  workspace: string,
  { kind, of, reason, day }: Pick<ApartGroup, 'kind' | 'of' | 'reason' | 'day'>,
  counts: boolean,
): Promise<number> {
  const revision = await nextRevision(database, workspace)
  const group = sql`workspace = ${workspace} and day = ${day} and ${textOf(APART)} = ${reason} and not attributes ? 'decided'`
  const { rowCount } =
    kind === 'event'
      ? await database.execute(sql`
          update events set revision = ${revision}, attributes = ${
            counts
              ? sql`attributes - ${APART}::text - ${NAMED_RULE}::text || jsonb_build_object('decided', 'counts', 'rule', ${textOf(NAMED_RULE)})`
              : sql`attributes || '{"decided": "left_out"}'`
          } where ${group} and name = ${of}`)
      : await database.execute(sql`
          update clicks set revision = ${revision}, bot = ${!counts}, attributes = ${
            counts
              ? sql`attributes - ${APART}::text || '{"decided": "counts"}'`
              : sql`attributes || '{"decided": "left_out"}'`
          } where ${group} and network = ${of}`)
  await raiseVersion(database, workspace, 'everything')
  return rowCount ?? 0
}

/** Clicks since a day by the class of their sender: how many there are, and how many of them were followed by an event. */
export const clicksByClass = async (database: Executor, workspace: string, day: string) =>
  (
    await database.execute<{ day: string; sender: string; clicks: number; followed: number }>(sql`
      with followed as (select distinct click_id from events where workspace = ${workspace} and day >= ${day} and click_id is not null)
      select day::text as day, coalesce(${textOf('from')}, '') as sender, count(*)::int as clicks,
        count(followed.click_id)::int as followed
      from clicks left join followed using (click_id)
      where workspace = ${workspace} and day >= ${day} and not bot and not repeated
        and coalesce(${textOf('decided')}, '') <> 'counts' and coalesce(${textOf('told_by')}, '') <> 'page' group by 1, 2`)
  ).rows

/** Keeps the clicks of some classes of senders apart that nobody followed. */
export async function clicksApart(
  database: Executor,
  workspace: string,
  groups: readonly { day: string; sender: string; reason: string }[],
): Promise<void> {
  if (groups.length === 0) return
  const revision = await nextRevision(database, workspace)
  await database.execute(sql`
    update clicks set revision = ${revision}, bot = true, attributes = attributes || jsonb_build_object(${APART}::text, g.reason)
    from json_to_recordset(${JSON.stringify(groups)}::json) as g(day date, sender text, reason text)
    where clicks.workspace = ${workspace} and clicks.day = g.day and ${textOf('from')} = g.sender and not bot
      and coalesce(${textOf('decided')}, '') <> 'counts'
      and not exists (select 1 from events where events.workspace = ${workspace} and events.day >= g.day
        and events.day <= g.day + 1 and events.click_id = clicks.click_id)`)
  await raiseVersion(database, workspace, 'everything')
}
