import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import { DAY_MS } from '@/core/shared/days'
import { type Database, type Executor, serverUrl } from './connect'
import { partitionByMonth } from './partitions'

/** Any number: whoever changes this schema holds the lock of that name (pg_advisory_xact_lock). */
const MIGRATING = 4_613_600

/** Works on the schema. Of several that begin at once one does it, and the others wait. */
const alone = (database: Database, work: (transaction: Executor) => Promise<void>): Promise<void> =>
  database.transaction(async transaction => {
    await transaction.execute(sql`select pg_advisory_xact_lock(${MIGRATING})`)
    await work(transaction)
  })

const today = () => Math.floor(Date.now() / DAY_MS)

/** Brings the schema up to date; on a PostgreSQL server its tables of records are parted by month. */
export const migrateDatabase = (database: Database): Promise<void> =>
  alone(database, async transaction => {
    await runMigrations(transaction)
    if (serverUrl()) await partitionByMonth(transaction, today())
  })

/** On a PostgreSQL server, makes room for the months to come. */
export async function addMonths(database: Database): Promise<void> {
  if (serverUrl()) await alone(database, transaction => partitionByMonth(transaction, today()))
}

/** The schema as its migrations say, each table in one piece. */
export async function runMigrations(transaction: Executor): Promise<void> {
  // The migrator would begin a transaction of its own, and the lock be gone with this one.
  const { dialect, session } = transaction as unknown as { dialect: object; session: object }
  const within = Object.create(session, {
    transaction: { value: transaction.transaction.bind(transaction) },
  })
  await migrate({ dialect, session: within } as unknown as Database, {
    migrationsFolder: join(/* turbopackIgnore: true */ process.cwd(), 'src/data/migrations'),
  })
}
