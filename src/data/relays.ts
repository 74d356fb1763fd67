import { and, desc, eq, gt, gte, inArray, sql } from 'drizzle-orm'
import type { Try } from '@/core/signals/outgoing'
import type { Executor } from './connect'
import { drainPositions, events, liveTests, orders, relays, secrets, testRecords, workspaces } from './schema'
import { insertRows } from './store'

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
    .where(and(eq(relays.workspace, workspace), inArray(relays.event_id, [...ids])))
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

/** What rules told, live tests included, that arrived since an instant. */
export async function eventsArrived(database: Executor, workspace: string, since: Date, latest: Date) {
  const told = await database
    .select()
    .from(events)
    .where(
      and(
        eq(events.workspace, workspace),
        gte(events.day, latest.toISOString().slice(0, 10)),
        gt(events.arrived_at, since),
        eq(events.bot, false),
        sql`${events.attributes} ? 'rule'`,
      ),
    )
  const tests = await database
    .select({ token: testRecords.token, record: testRecords.record })
    .from(testRecords)
    .innerJoin(
      liveTests,
      and(eq(liveTests.workspace, testRecords.workspace), eq(liveTests.token, testRecords.token)),
    )
    .where(
      and(eq(testRecords.workspace, workspace), eq(testRecords.kind, 'event'), gt(testRecords.at, since)),
    )
  return { told, tests }
}

export const ordersArrived = (database: Executor, workspace: string, since: Date, latest: Date) =>
  database
    .select()
    .from(orders)
    .where(and(eq(orders.workspace, workspace), gte(orders.ordered_at, latest), gt(orders.arrived_at, since)))

const POSITION = 'relay'
export async function relayedUntil(database: Executor): Promise<Date | null> {
  const [row] = await database.select().from(drainPositions).where(eq(drainPositions.journal, POSITION))
  return row ? new Date(row.segment) : null
}
export async function rememberRelayed(database: Executor, until: Date): Promise<void> {
  const next = { journal: POSITION, segment: until.toISOString(), offset: 0 }
  await database
    .insert(drainPositions)
    .values(next)
    .onConflictDoUpdate({ target: drainPositions.journal, set: next })
}

/** A mark that changes whenever there may be something new to relay. */
export async function relayMark(database: Executor): Promise<string> {
  const [row] = await database
    .select({
      versions: sql<string>`sum(${workspaces.version})::text`,
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
