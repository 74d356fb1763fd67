import { and, desc, eq, gt, gte, sql } from 'drizzle-orm'
import type { Try } from '@/core/signals/outgoing'
import type { Executor } from './connect'
import { events, liveTests, orders, relayPositions, relays, secrets, testRecords, workspaces } from './schema'
import { oneOf, upsertRows } from './store'

export type Relay = typeof relays.$inferSelect

/** What may still become something to send: nobody has heard of it. */
const unsent = sql`${relays.state} in ('no_click', 'unconfirmed')`

/** Due at once, by whichever clock. */
const AT_ONCE = new Date(0).toISOString()

/** Queues what networks are to hear; what is queued already stays, but what waited for its click or for the shop. */
export const queueRelays = (
  database: Executor,
  rows: readonly (Omit<Relay, 'at' | 'next_at' | 'tries'> & { at: number })[],
) =>
  upsertRows(
    database,
    relays,
    rows.map(row => ({ ...row, at: new Date(row.at).toISOString(), next_at: AT_ONCE })),
    { unless: sql`not ${unsent}` },
  )

/** What networks heard, or are to hear, under some event IDs: by `NETWORK EVENT_ID`. */
export async function relayedAs(
  database: Executor,
  workspace: string,
  ids: readonly string[],
): Promise<ReadonlyMap<string, Pick<Relay, 'state' | 'facts'>>> {
  if (ids.length === 0) return new Map()
  const rows = await database
    .select({
      network: relays.network,
      event_id: relays.event_id,
      state: relays.state,
      facts: relays.facts,
    })
    .from(relays)
    .where(and(eq(relays.workspace, workspace), oneOf(relays.event_id, ids)))
  return new Map(rows.map(row => [`${row.network} ${row.event_id}`, row]))
}

/** Says on what a network heard first what it is corrected to. */
export const noteCorrected = (
  database: Executor,
  relay: Pick<Relay, 'workspace' | 'network' | 'event_id'>,
  facts: Relay['facts'],
) =>
  database
    .update(relays)
    .set({ facts: sql`${relays.facts} || ${JSON.stringify(facts)}::jsonb` })
    .where(own(relay))

const LEASE_SECONDS = 60
/** Takes what is due, so that nobody else sends it meanwhile; what is not settled comes up again. */
export async function leaseRelays(database: Executor, most: number): Promise<Relay[]> {
  const due = sql`select workspace, network, event_id from relays
    where state = 'waiting' and next_at <= now() order by next_at limit ${most} for update skip locked`
  return database
    .update(relays)
    .set({ next_at: sql`now() + ${LEASE_SECONDS} * interval '1 second'` })
    .where(sql`(workspace, network, event_id) in (${due})`)
    .returning()
}

const own = ({ workspace, network, event_id }: Pick<Relay, 'workspace' | 'network' | 'event_id'>) =>
  and(eq(relays.workspace, workspace), eq(relays.network, network), eq(relays.event_id, event_id))

export const settleRelay = (
  database: Executor,
  relay: Pick<Relay, 'workspace' | 'network' | 'event_id'>,
  state: Relay['state'],
  /** in how many ms it is due again; null where it is not */
  wait: number | null,
  tries: Try[],
) =>
  database
    .update(relays)
    // The clock that says when it is due is the database's.
    .set({ state, tries, ...(wait === null ? {} : { next_at: sql`now() + ${wait} * interval '1 ms'` }) })
    .where(own(relay))

/** Sends again what was refused, beginning with a fresh count of tries. */
export const retryRelays = (database: Executor, workspace: string, network: string) =>
  database
    .update(relays)
    .set({ state: 'waiting', next_at: new Date(0), tries: [] })
    .where(and(eq(relays.workspace, workspace), eq(relays.network, network), eq(relays.state, 'refused')))

export const latestRelays = (database: Executor, workspace: string, most: number, test?: string) =>
  database
    .select()
    .from(relays)
    .where(and(eq(relays.workspace, workspace), test === undefined ? undefined : eq(relays.test, test)))
    .orderBy(desc(relays.at))
    .limit(most)

export async function countRelays(database: Executor, workspace: string) {
  const rows = await database
    .select({ network: relays.network, state: relays.state, count: sql<number>`count(*)::int` })
    .from(relays)
    .where(eq(relays.workspace, workspace))
    .groupBy(relays.network, relays.state)
  return rows
}

/** A place in what was written: by revision, and by ID within one. No clock is asked. */
export interface Reached {
  revision: number
  id: string
}
const PAGE = 2000

const toldByRule = sql`${events.attributes} ? 'rule'`

/** What rules told that was written behind a place, a page of it in the order of writing. */
export const eventsWritten = (
  database: Executor,
  workspace: string,
  { revision, id }: Reached,
  oldest: Date,
) =>
  database
    .select()
    .from(events)
    .where(
      and(
        eq(events.workspace, workspace),
        gte(events.day, oldest.toISOString().slice(0, 10)),
        sql`(${events.revision}, ${events.event_id}) > (${revision}::bigint, ${id})`,
        eq(events.bot, false),
        toldByRule,
      ),
    )
    .orderBy(events.revision, events.event_id)
    .limit(PAGE)

/** Orders that were written behind a place, a page of them in the order of writing. */
export const ordersWritten = (
  database: Executor,
  workspace: string,
  { revision, id }: Reached,
  oldest: Date,
) =>
  database
    .select()
    .from(orders)
    .where(
      and(
        eq(orders.workspace, workspace),
        gte(orders.ordered_at, oldest),
        sql`(${orders.revision}, ${orders.order_id}) > (${revision}::bigint, ${id})`,
      ),
    )
    .orderBy(orders.revision, orders.order_id)
    .limit(PAGE)

/** Some orders. */
export const ordersCalled = (database: Executor, workspace: string, ids: readonly string[]) =>
  ids.length === 0
    ? Promise.resolve([])
    : database
        .select()
        .from(orders)
        .where(and(eq(orders.workspace, workspace), oneOf(orders.order_id, ids)))

/** What rules told of some transactions. */
export const signsOfOrders = (database: Executor, workspace: string, ids: readonly string[], oldest: Date) =>
  ids.length === 0
    ? Promise.resolve([])
    : database
        .select()
        .from(events)
        .where(
          and(
            eq(events.workspace, workspace),
            gte(events.day, oldest.toISOString().slice(0, 10)),
            oneOf(events.transaction_id, ids),
            eq(events.bot, false),
            toldByRule,
          ),
        )

/** What live tests told since an instant. */
export const testsArrived = (database: Executor, workspace: string, since: Date) =>
  database
    .select({ token: testRecords.token, record: testRecords.record })
    .from(testRecords)
    .innerJoin(
      liveTests,
      and(eq(liveTests.workspace, testRecords.workspace), eq(liveTests.token, testRecords.token)),
    )
    .where(
      and(eq(testRecords.workspace, workspace), eq(testRecords.kind, 'event'), gt(testRecords.at, since)),
    )

/** Up to which version of a workspace networks were told; 0 where they never were. */
export async function relayedUpTo(database: Executor, workspace: string): Promise<number> {
  const [row] = await database.select().from(relayPositions).where(eq(relayPositions.workspace, workspace))
  return row?.version ?? 0
}
export async function rememberRelayed(database: Executor, workspace: string, version: number): Promise<void> {
  await database
    .insert(relayPositions)
    .values({ workspace, version })
    .onConflictDoUpdate({ target: relayPositions.workspace, set: { version } })
}

/** A mark that changes whenever there may be something new to relay. */
export async function relayMark(database: Executor): Promise<string> {
  const [row] = await database
    .select({
      versions: sql<string>`sum(${workspaces.version} + ${workspaces.shown})::text`,
      tests: sql<string>`(select count(*)::text from ${testRecords})`,
    })
    .from(workspaces)
  return `${row?.versions} ${row?.tests}`
}

const secretName = (network: string) => `relay:${network}`
export async function relaySecret(database: Executor, workspace: string, network: string) {
  const [row] = await database
    .select()
    .from(secrets)
    .where(and(eq(secrets.workspace, workspace), eq(secrets.name, secretName(network))))
  return row?.value ?? null
}
export const saveRelaySecret = (database: Executor, workspace: string, network: string, value: string) =>
  database
    .insert(secrets)
    .values({ workspace, name: secretName(network), value })
    .onConflictDoUpdate({ target: [secrets.workspace, secrets.name], set: { value } })
