import { and, desc, eq, getTableColumns, gt, gte, sql } from 'drizzle-orm'
import type { Try } from '@/core/signals/outgoing'
import type { Executor } from './connect'
import { events, liveTests, orders, relayPositions, relays, secrets, testRecords, workspaces } from './schema'
import { insertRows, oneOf } from './store'

export type Relay = typeof relays.$inferSelect

export const queueRelays = (
  database: Executor,
  rows: readonly (Omit<Relay, 'at' | 'next_at' | 'tries'> & { at: number })[],
  now: number,
) =>
  insertRows(database, relays, rows, row => ({
    ...row,
    at: new Date(row.at).toISOString(),
    next_at: new Date(now).toISOString(),
  }))

/** Of some event IDs those that are queued or sent already. */
export async function relayedIds(database: Executor, workspace: string, ids: readonly string[]) {
  if (ids.length === 0) return new Set<string>()
  const rows = await database
    .select({ network: relays.network, event_id: relays.event_id })
    .from(relays)
    .where(and(eq(relays.workspace, workspace), oneOf(relays.event_id, ids)))
  return new Set(rows.map(row => `${row.network} ${row.event_id}`))
}

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
  next: Date | null,
  tries: Try[],
) =>
  database
    .update(relays)
    .set({ state, tries, ...(next ? { next_at: next } : {}) })
    .where(own(relay))

/** Sends again what was refused, beginning with a fresh count of tries. */
export const retryRelays = (database: Executor, workspace: string, network: string) =>
  database
    .update(relays)
    .set({ state: 'waiting', next_at: new Date(), tries: [] })
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

/** A place in what arrived: by instant, as the database writes it to the microsecond, and by ID within one. */
export interface Reached {
  at: string
  id: string
}
const PAGE = 2000

/** What rules told that arrived behind a place, a page of it in order of arrival. */
export const eventsArrived = (database: Executor, workspace: string, { at, id }: Reached, oldest: Date) =>
  database
    .select({ ...getTableColumns(events), reached: sql<string>`${events.arrived_at}::text` })
    .from(events)
    .where(
      and(
        eq(events.workspace, workspace),
        gte(events.day, oldest.toISOString().slice(0, 10)),
        sql`(${events.arrived_at}, ${events.event_id}) > (${at}::timestamptz, ${id})`,
        eq(events.bot, false),
        sql`${events.attributes} ? 'rule'`,
      ),
    )
    .orderBy(events.arrived_at, events.event_id)
    .limit(PAGE)

/** Orders that arrived behind a place, a page of them in order of arrival. */
export const ordersArrived = (database: Executor, workspace: string, { at, id }: Reached, oldest: Date) =>
  database
    .select({ ...getTableColumns(orders), reached: sql<string>`${orders.arrived_at}::text` })
    .from(orders)
    .where(
      and(
        eq(orders.workspace, workspace),
        gte(orders.ordered_at, oldest),
        sql`(${orders.arrived_at}, ${orders.order_id}) > (${at}::timestamptz, ${id})`,
      ),
    )
    .orderBy(orders.arrived_at, orders.order_id)
    .limit(PAGE)

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

export async function relayedUntil(database: Executor, workspace: string): Promise<Date | null> {
  const [row] = await database.select().from(relayPositions).where(eq(relayPositions.workspace, workspace))
  return row?.until ?? null
}
export async function rememberRelayed(database: Executor, workspace: string, until: Date): Promise<void> {
  await database
    .insert(relayPositions)
    .values({ workspace, until })
    .onConflictDoUpdate({ target: relayPositions.workspace, set: { until } })
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
