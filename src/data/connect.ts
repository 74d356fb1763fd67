import { connect as connectSocket } from 'node:net'
import { join } from 'node:path'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import { dataFolder } from '@/formats/dataFolder'
import * as schema from './schema'
import { socketFile, socketFolder } from './socket'

export type Database = NodePgDatabase<typeof schema>
/** A database, or one of its transactions. */
export type Executor = Pick<
  Database,
  'select' | 'insert' | 'update' | 'delete' | 'execute' | 'transaction' | '$count' | 'selectDistinct'
>

/**
 * A pool for the embedded database, which has one session for all connections. Its socket server lets one
 * connection's messages through at a time only inside a transaction, so every query runs in one:
 * otherwise the parts of two prepared queries could mix.
 */
class EmbeddedPool extends pg.Pool {
  override query = (async (...query: Parameters<pg.PoolClient['query']>) => {
    const client = await this.connect()
    try {
      await client.query('begin')
      const result = await client.query(...query)
      await client.query('commit')
      return result
    } catch (error) {
      await client.query('rollback').catch(() => {})
      throw error
    } finally {
      client.release()
    }
  }) as pg.Pool['query']
}

/**
 * The one place that chooses the database: a PostgreSQL server by `DATABASE_URL`, else the embedded
 * PGlite, which a process of its own serves on a socket in PostgreSQL's protocol.
 */
function openPool(): pg.Pool {
  const url = process.env.DATABASE_URL
  return url
    ? new pg.Pool({ connectionString: url, max: 8 })
    : new EmbeddedPool({ host: socketFolder(dataFolder()), user: 'postgres', database: 'postgres', max: 4 })
}

export function openDatabase(): { database: Database; close: () => Promise<void> } {
  const pool = openPool()
  // A connection lost while idle is replaced at the next query.
  pool.on('error', () => {})
  return { database: drizzle(pool, { schema }), close: () => pool.end() }
}

let shared: Database | undefined
/** The database of this process, opened at first use. */
export function sharedDatabase(): Database {
  shared ??= openDatabase().database
  return shared
}

export async function migrateDatabase(database: Database): Promise<void> {
  await migrate(database, {
    migrationsFolder: join(/* turbopackIgnore: true */ process.cwd(), 'src/data/migrations'),
  })
}

/** Whether an embedded database already answers for a data folder. */
export function isServed(folder: string): Promise<boolean> {
  return new Promise(done => {
    const socket = connectSocket(socketFile(folder))
    socket.on('connect', () => {
      socket.destroy()
      done(true)
    })
    socket.on('error', () => done(false))
  })
}
