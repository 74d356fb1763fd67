import { and, asc, desc, eq, gt, isNull, sql } from 'drizzle-orm'
import type { Executor } from './connect'
import { liveTests, orders, testRecords } from './schema'
import { upsertRows } from './store'

export type LiveTest = typeof liveTests.$inferSelect
/** One that nobody ended is over after so long. */
const LONGEST_HOURS = 3
const running = and(
  isNull(liveTests.ended_at),
  gt(liveTests.started_at, sql`now() - ${sql.raw(String(LONGEST_HOURS))} * interval '1 hour'`),
)

export const startTest = (database: Executor, test: Omit<LiveTest, 'ended_at'>) =>
  database.insert(liveTests).values(test)

export const endTest = (database: Executor, workspace: string, token: string, at: Date) =>
  database
    .update(liveTests)
    .set({ ended_at: at })
    .where(and(eq(liveTests.workspace, workspace), eq(liveTests.token, token), isNull(liveTests.ended_at)))

/** Tests that run, of all workspaces. */
export const runningTests = (database: Executor) => database.select().from(liveTests).where(running)

export async function latestTest(database: Executor, workspace: string) {
  const [test] = await database
    .select({ ...liveTestColumns, running: sql<boolean>`coalesce(${running}, false)` })
    .from(liveTests)
    .where(eq(liveTests.workspace, workspace))
    .orderBy(desc(liveTests.started_at))
    .limit(1)
  return test ?? null
}
const liveTestColumns = {
  token: liveTests.token,
  address: liveTests.address,
  started_at: liveTests.started_at,
  ended_at: liveTests.ended_at,
}

export type TestRecord = typeof testRecords.$inferInsert & { at: Date }
/** Keeps what arrived in tests; a page that was looked at again stands as it was seen last. */
export const keepTestRecords = (database: Executor, rows: readonly TestRecord[]) =>
  upsertRows(
    database,
    testRecords,
    // Of several looks at one page in a batch the latest holds.
    [...new Map(rows.map(row => [`${row.token} ${row.id}`, row])).values()].map(row => ({
      ...row,
      at: row.at.toISOString(),
      transaction_id: row.transaction_id ?? null,
    })),
  )

export const listTestRecords = (database: Executor, workspace: string, token: string) =>
  database
    .select()
    .from(testRecords)
    .where(and(eq(testRecords.workspace, workspace), eq(testRecords.token, token)))
    .orderBy(asc(testRecords.at))

/** Orders that a live test placed are tests, whatever the shop says of them. Gives how many were not known as such. */
export async function markTestOrders(database: Executor, workspace: string): Promise<number> {
  const tested = sql`select transaction_id from test_records where workspace = ${workspace} and transaction_id is not null`
  const { rowCount } = await database
    .update(orders)
    .set({ status: 'test', revision: sql`(select version + 1 from workspaces where id = ${workspace})` })
    .where(
      and(
        eq(orders.workspace, workspace),
        sql`${orders.status} <> 'test'`,
        sql`${orders.order_id} in (${tested})`,
      ),
    )
  return rowCount ?? 0
}
