import { mkdtempSync, realpathSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { PGLiteSocketServer } from '@electric-sql/pglite-socket'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { openDatabase } from './connect'
import { migrateDatabase } from './migrate'
import { SessionQueue } from './sessionQueue'
import { newSocketFolder, socketFile } from './socket'
import { createWorkspace } from './workspace'

/** For tests: the driver and protocol that are used in earnest, on a database in memory with workspace `w`. */
export async function openTestDatabase() {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'aequant-test-')))
  process.env.AEQUANT_DATA = folder
  const memory = await PGlite.create()
  const server = new PGLiteSocketServer({
    db: memory,
    path: socketFile(newSocketFolder(folder)),
    maxConnections: 8,
  })
  Object.assign(server, { queryQueue: new SessionQueue(memory) })
  await server.start()
  const { database, close } = openDatabase()
  await migrateDatabase(database)
  const settings = settingsSchema.parse({ time_zone: 'Europe/Lisbon' })
  await createWorkspace(database, 'w', 'Test', settings, shippedProfiles)
  const stop = async () => {
    await close()
    await server.stop()
    await memory.close()
  }
  return { database, folder, stop }
}
