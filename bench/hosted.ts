import { type ChildProcess, fork } from 'node:child_process'
import { mkdtempSync, realpathSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { type Database, openDatabase } from '@/data/connect'
import { migrateDatabase } from '@/data/migrate'
import { createWorkspace } from '@/data/workspace'

/** Does some work on a new database in a process of its own, with the workspace `main`; all of it goes afterwards. */
export async function onNewDatabase<Result>(
  work: (database: Database, folder: string, host: number) => Promise<Result>,
): Promise<Result> {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'aequant-bench-')))
  process.env.AEQUANT_DATA = folder
  const host: ChildProcess = fork(join(process.cwd(), 'dist/database.mjs'), {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  })
  await new Promise(ready => host.once('message', ready))
  const { database, close } = openDatabase()
  try {
    await migrateDatabase(database)
    await createWorkspace(database, 'main', 'Bench', settingsSchema.parse({}), shippedProfiles)
    return await work(database, folder, host.pid!)
  } finally {
    await close()
    host.kill('SIGTERM')
    await new Promise(done => host.once('exit', done))
    rmSync(folder, { recursive: true, force: true })
  }
}
