/**
 * The process that holds the embedded database: PGlite in the data folder, served on a socket. A long
 * report therefore blocks no thread that answers a request, and the command line can join in while the
 * application runs. It ends with the process that started it.
 */

import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { PGLiteSocketServer } from '@electric-sql/pglite-socket'
import { sql } from 'drizzle-orm'
import { dataFolder } from '@/formats/dataFolder'
import { type Database, openDatabase } from './connect'
import { Locked, lockFolder } from './lock'
import { guardRoom, hasRoom, LEAST_ROOM, roomIn } from './room'
import { SessionQueue } from './sessionQueue'
import { newSocketFolder, socketFile } from './socket'
import { findShrunk, TABLE_SIZES, type TableSize, writeSizes } from './tableSizes'

/** What the launcher knows it by: starting again would not help. */
const GIVE_UP = 3
const KEEP_EVERY_MS = 5000
const TELL_EVERY_MS = 1000

process.umask(0o077)
const folder = dataFolder()
const files = join(folder, 'database')

function giveUp(message: string): never {
  console.error(message)
  process.exit(GIVE_UP)
}

function lock(): { path: string; unlock: () => void } {
  try {
    const socket = newSocketFolder(folder)
    return { path: socketFile(socket), unlock: lockFolder(folder, socket) }
  } catch (error) {
    if (error instanceof Locked) giveUp(error.message)
    throw error
  }
}

const remedy = `Stop here and keep the folder: copy ${folder} before anything else. Then restore a copy of ${files} from before the damage; or move ${files} away, start again, and import your exported files. Clicks, events and postbacks of the last seven days stand in ${join(folder, 'journal')} as well.`

/** Waits until the disk takes what a start writes: a database that is opened without is told to be damaged. */
async function untilRoom(): Promise<void> {
  const megabytes = (bytes: number) => Math.floor(bytes / 2 ** 20)
  if (!hasRoom(folder))
    console.error(
      `The disk of ${folder} has ${megabytes(roomIn(folder))} MB left. Free some: the database is opened once there are ${megabytes(LEAST_ROOM)}.`,
    )
  while (!hasRoom(folder)) {
    await new Promise(next => setTimeout(next, TELL_EVERY_MS))
    if (!process.connected) process.exit(0)
  }
}

async function openFiles(): Promise<PGlite> {
  try {
    const database = await PGlite.create(files)
    const { rows } = await database.query<TableSize>(TABLE_SIZES)
    const shrunk = findShrunk(rows, folder)
    const [first] = shrunk
    if (first)
      giveUp(
        `The database in ${files} is damaged: ${shrunk.map(s => `the table ${s.table} holds ${s.bytes} bytes where it held ${s.held} (file ${s.file})`).join('; ')}. ${remedy}`,
      )
    return database
  } catch (error) {
    const why = (error instanceof Error ? error.message : String(error)).split('\n')[0]?.replace(/\.$/, '')
    return giveUp(`The database in ${files} cannot be opened: ${why}. ${remedy}`)
  }
}

/** Bytes of its log that the database reads again after a crash, at most: about a second's work. */
const MOST_LOG = 32 * 1024 * 1024
/** Notes how large tables are, and writes down what only the log holds once that is much: nobody else does in a single session. */
function keeper(database: Database, folder: string): () => Promise<void> {
  let written = '0/0'
  return async () => {
    await writeSizes(database, folder)
    const { rows } = await database.execute<{ at: string; bytes: string }>(
      sql`select pg_current_wal_insert_lsn()::text as at, pg_current_wal_insert_lsn() - ${written}::pg_lsn as bytes`,
    )
    if (Number(rows[0]?.bytes) < MOST_LOG) return
    await database.execute(sql`checkpoint`)
    written = rows[0]?.at ?? written
  }
}

await untilRoom()
const { path, unlock } = lock()
process.on('exit', unlock)
const database = await openFiles()
rmSync(path, { force: true })
const server = new PGLiteSocketServer({ db: database, path, maxConnections: 32 })
const guard = guardRoom(
  statement => database.exec(statement),
  () => hasRoom(folder),
)
Object.assign(server, { queryQueue: new SessionQueue(database, guard) })
await server.start()
process.send?.('ready')
// Who started this hears that it is not stuck.
setInterval(() => process.connected && process.send?.('alive'), TELL_EVERY_MS).unref()

// Tables only grow: one that is found smaller than it was has lost what stood at its end.
// They are asked as by any other client, which has the session to itself.
const own = openDatabase()
const keep = keeper(own.database, folder)
const keeping = setInterval(
  () => void keep().catch(error => console.error('The database could not be looked after.', error)),
  KEEP_EVERY_MS,
)

let stopping = false
async function stop() {
  if (stopping) return
  stopping = true
  clearInterval(keeping)
  await keep().catch(() => {})
  await own.close()
  await server.stop()
  await database.close()
  rmSync(path, { force: true })
  process.exit(0)
}
process.on('SIGTERM', stop)
process.on('SIGINT', () => {})
process.on('disconnect', stop)
