import { connect as connectSocket } from 'node:net'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { PgPreparedQuery } from 'drizzle-orm/pg-core'
import pg from 'pg'
import { dataFolder } from '@/formats/dataFolder'
import { DatabaseAway, DiskFull, plainError, QueryFailed } from './errors'
import * as schema from './schema'
import { socketFile, socketFolder } from './socket'

export type Database = NodePgDatabase<typeof schema>
/** A database, or one of its transactions. */
export type Executor = Pick<
  Database,
  'select' | 'insert' | 'update' | 'delete' | 'execute' | 'transaction' | '$count' | 'selectDistinct'
>

// Drizzle writes a failed statement's parameters into its error: the one way out for all of them is here.
Object.assign(PgPreparedQuery.prototype, {
  async queryWithCache(_text: string, _params: unknown[], query: () => Promise<unknown>) {
    try {
      return await query()
    } catch (error) {
      throw plainError(error)
    }
  },
})

/** How long may pass until a connection stands, a statement is answered, and an idle connection is closed. */
const limits = { connectionTimeoutMillis: 10_000, query_timeout: 120_000, idleTimeoutMillis: 30_000 }
/** A server ends what a client left open when it went away without a word. */
const serverLimits = { idle_in_transaction_session_timeout: 120_000, keepAlive: true }

/** Lends a client and takes it back on every path; one whose server went away or kept silent is closed. */
async function withClient<T>(pool: pg.Pool, work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await pool.connect().catch(error => {
    throw plainError(error)
  })
  let broken = false
  const fail = () => {
    broken = true
  }
  // Lost while it is lent: what waits for it fails by itself, and nobody else may get it.
  client.on('error', fail)
  try {
    return await work(client)
  } catch (error) {
    broken ||= !isRefusal(error)
    throw error
  } finally {
    client.off('error', fail)
    client.release(broken)
  }
}

/** Whether a failure leaves its connection sound: the statement was refused, or our own code gave up on it. */
const isRefusal = (error: unknown): boolean =>
  error instanceof QueryFailed ||
  error instanceof DiskFull ||
  error instanceof pg.DatabaseError ||
  !isOfDriver(error)
/** Errors of the driver are plain ones, with what the system says of a socket. */
const isOfDriver = (error: unknown): boolean =>
  error instanceof DatabaseAway ||
  !(error instanceof Error) ||
  'syscall' in error ||
  /^(?:Connection terminated|Query read timeout|Client )/.test(error.message)

/** The address of a PostgreSQL server; undefined where the database is the embedded one. */
export const serverUrl = (): string | undefined => process.env.DATABASE_URL || undefined

/**
 * The one place that chooses the database: a PostgreSQL server by `DATABASE_URL`, else the embedded
 * PGlite, which a process of its own serves on a socket in PostgreSQL's protocol.
 */
function openPool(): pg.Pool {
  const url = serverUrl()
  return url
    ? new pg.Pool({ connectionString: url, max: 8, ...limits, ...serverLimits })
    : new pg.Pool({
        host: socketFolder(dataFolder()),
        user: 'postgres',
        database: 'postgres',
        max: 4,
        ...limits,
      })
}

export function openDatabase(): { database: Database; close: () => Promise<void> } {
  const pool = openPool()
  // A connection lost while idle is replaced at the next query.
  pool.on('error', () => {})
  const database = drizzle(pool, { schema })
  // Drizzle's own keeps the client for good when `begin` fails.
  database.transaction = (work, config) =>
    withClient(pool, client => drizzle(client, { schema }).transaction(work, config))
  return { database, close: () => pool.end() }
}

let shared: Database | undefined
/** The database of this process, opened at first use. */
export function sharedDatabase(): Database {
  shared ??= openDatabase().database
  return shared
}

/** Whether an embedded database already answers for a data folder. */
export function isServed(folder: string): Promise<boolean> {
  return new Promise(done => {
    const socket = connectSocket(socketFile(socketFolder(folder)))
    socket.on('connect', () => {
      socket.destroy()
      done(true)
    })
    socket.on('error', () => done(false))
  })
}
