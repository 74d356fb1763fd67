import { and, asc, eq, gt, isNull, sql } from 'drizzle-orm'
import { type Partner, partnerSchema } from '@/core/intake/postback'
import type { Secret } from '@/core/intake/routing'
import type { Executor } from './connect'
import { keepBefore } from './importLog'
import { partners, secrets, setAside, sites } from './schema'
import { insertRows, ROWS_AT_ONCE } from './store'
import { readStored } from './stored'

export interface StoredPartner {
  code: string
  partner: Partner
  secret: Secret | null
}

export async function listPartners(database: Executor, workspace?: string) {
  const rows = await database
    .select()
    .from(partners)
    .where(workspace === undefined ? undefined : eq(partners.workspace, workspace))
    .orderBy(asc(partners.given_at), asc(partners.workspace), asc(partners.id))
  return readStored('partners', partnerSchema, rows, row => ({ id: row.id, value: row.partner })).map(
    ({ row, value }) => ({ ...row, partner: value }),
  )
}

export async function savePartner(
  database: Executor,
  workspace: string,
  { code, partner, secret }: StoredPartner,
): Promise<void> {
  await database
    .insert(partners)
    .values({ workspace, id: partner.id, code, partner, secret })
    .onConflictDoUpdate({ target: [partners.workspace, partners.id], set: { partner, secret } })
}

/** The key of the workspace's sites, which stands in the tag. */
export async function siteKey(database: Executor, workspace: string, mint: () => string): Promise<string> {
  const [known] = await database
    .select()
    .from(sites)
    .where(eq(sites.workspace, workspace))
    .orderBy(asc(sites.key))
    .limit(1)
  if (known) return known.key
  await database.insert(sites).values({ key: mint(), workspace })
  // Two that ask at once may each have minted one: the first holds for both.
  return siteKey(database, workspace, mint)
}
/** The keys of all workspaces, those given out first before others. */
export const listSites = (database: Executor) =>
  database.select().from(sites).orderBy(asc(sites.given_at), asc(sites.workspace))

/** Notes signed messages by their IDs. Gives those that were not known yet; a message is taken once. */
export async function noteMessages(
  database: Executor,
  workspace: string,
  messages: readonly { id: string; at: number }[],
): Promise<string[]> {
  if (messages.length === 0) return []
  const list = JSON.stringify(messages.map(({ id, at }) => ({ id, at: new Date(at).toISOString() })))
  const { rows } = await database.execute<{ id: string }>(sql`
    insert into webhook_messages (workspace, id, at)
    select ${workspace}, id, at from json_to_recordset(${list}::json) as r(id text, at timestamptz)
    on conflict do nothing returning id`)
  return rows.map(row => row.id)
}

/** A secret by its name, minted when it is asked for the first time. */
export async function keepSecret(
  database: Executor,
  workspace: string,
  name: string,
  mint: () => string,
): Promise<string> {
  const own = and(eq(secrets.workspace, workspace), eq(secrets.name, name))
  const find = async () => (await database.select().from(secrets).where(own))[0]?.value
  const known = await find()
  if (known !== undefined) return known
  const fresh = mint()
  await database.insert(secrets).values({ workspace, name, value: fresh }).onConflictDoNothing()
  return (await find()) ?? fresh
}

export interface SetAside {
  id: string
  kind: 'postback' | 'order' | 'line' | 'row'
  at: Date
  reason: string
  facts: Record<string, string>
  raw: string
}

export const keepAside = (database: Executor, workspace: string, items: readonly SetAside[]) =>
  insertRows(database, setAside, items, item => ({ workspace, ...item, at: item.at.toISOString() }))

/** What was set aside for the same reason and facts: mended together or not at all. */
export type Alike = { kind: string; reason: string; facts: Record<string, string> }
/** Lines of the journal differ only in where they stood. */
const alikeFacts = sql`case when kind = 'line' then '{}'::jsonb else facts end`

/** Characters of a journal line that are shown; all of it is kept. */
const LONGEST_SHOWN = 4000
const WHOLE = 2 ** 30
/** Single ones of a group that are named. */
const MOST_SINGLE = 20

/** The groups of what waits, the latest first, each with the latest of it as it came. */
export async function groupAside(database: Executor, workspace: string, most: number) {
  // Of a hundred thousand alike only the few that are shown are read.
  const { rows } = await database.execute<
    Alike & { count: number; latest: string; raw: string; items: { id: string; raw: string }[] }
  >(sql`
    with groups as (select alike, count(*)::int as count, max(at) as latest from set_aside
      where workspace = ${workspace} and settled is null group by 1 order by 3 desc limit ${most})
    select shown.*, count, latest from groups cross join lateral (
      select min(kind) as kind, min(reason) as reason, (array_agg(facts order by at desc))[1] as facts,
        left((array_agg(raw order by at desc))[1], case when min(kind) = 'line' then ${sql.raw(String(LONGEST_SHOWN))} else ${sql.raw(String(WHOLE))} end) as raw,
        json_agg(json_build_object('id', id, 'raw', left(raw, 300)) order by at desc) as items
      from (select id, kind, reason, ${alikeFacts} as facts, at, raw from set_aside
        where workspace = ${workspace} and settled is null and alike = groups.alike
        order by at desc limit ${MOST_SINGLE}) as latest) as shown
    order by latest desc`)
  return rows.map(row => ({ ...row, latest: new Date(row.latest).getTime() }))
}

export const countAside = async (database: Executor, workspace: string): Promise<number> =>
  database.$count(setAside, and(eq(setAside.workspace, workspace), isNull(setAside.settled)))

export const listAlike = (database: Executor, workspace: string, { kind, reason, facts }: Alike) =>
  database
    .select()
    .from(setAside)
    .where(
      and(
        eq(setAside.workspace, workspace),
        isNull(setAside.settled),
        sql`${setAside.alike} = md5(${kind}::text || ' ' || ${reason}::text || ' ' || ${JSON.stringify(kind === 'line' ? {} : facts)}::jsonb::text)`,
      ),
    )

/** What was set aside and still waits, page by page, in the order of its IDs. */
export async function* eachAside(database: Executor, workspace: string) {
  for (let after = ''; ; ) {
    const page = await database
      .select()
      .from(setAside)
      .where(and(eq(setAside.workspace, workspace), isNull(setAside.settled), gt(setAside.id, after)))
      .orderBy(setAside.workspace, setAside.id)
      .limit(ASIDE_AT_ONCE)
    if (page.length === 0) return
    yield page
    after = page.at(-1)!.id
  }
}
const ASIDE_AT_ONCE = 20_000

/** Rejected rows of a kind of file, or of a network's reports, that still wait. */
export const waitingRows = (
  database: Executor,
  workspace: string,
  facts: { file: string; network?: string },
) =>
  database
    .select({ id: setAside.id, raw: setAside.raw })
    .from(setAside)
    .where(
      and(
        eq(setAside.workspace, workspace),
        eq(setAside.kind, 'row'),
        isNull(setAside.settled),
        sql`${setAside.facts} @> ${JSON.stringify(facts)}::jsonb`,
      ),
    )

/** Notes beside rejected rows which row looks like their correction. */
export async function propose(
  database: Executor,
  workspace: string,
  rows: readonly { id: string; file: string; line: number }[],
): Promise<void> {
  if (rows.length === 0) return
  await database.execute(sql`
    update set_aside set raw = (set_aside.raw::jsonb || jsonb_build_object('proposed', jsonb_build_object('file', r.file, 'line', r.line)))::text
    from json_to_recordset(${JSON.stringify(rows)}::json) as r(id text, file text, line int)
    where workspace = ${workspace} and set_aside.id = r.id`)
}

export async function settle(
  database: Executor,
  workspace: string,
  ids: readonly string[],
  /** null: they wait again */
  settled: 'taken' | 'dropped' | null,
): Promise<void> {
  if (ids.length === 0) return
  if (ids.length > ROWS_AT_ONCE) {
    // Others get at the database between two parts.
    for (let at = 0; at < ids.length; at += ROWS_AT_ONCE)
      await settle(database, workspace, ids.slice(at, at + ROWS_AT_ONCE), settled)
    return
  }
  const some = sql`${setAside.id} in (select jsonb_array_elements_text(${JSON.stringify(ids)}::jsonb))`
  await keepBefore(
    database,
    setAside,
    ids.map(id => ({ workspace, id })),
  )
  await database
    .update(setAside)
    .set({ settled })
    .where(and(eq(setAside.workspace, workspace), some))
}
