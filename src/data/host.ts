/**
 * The process that holds the embedded database: PGlite in the data folder, served on a socket. A long
 * report therefore blocks no thread that answers a request, and the command line can join in while the
 * application runs. It ends with the process that started it.
 */

import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { PGLiteSocketServer } from '@electric-sql/pglite-socket'
import { dataFolder } from '@/formats/dataFolder'
import { isServed } from './connect'
import { socketFile } from './socket'

const folder = dataFolder()
if (await isServed(folder)) {
  console.error(
    `Another Aequant already runs on ${folder}. Stop it first, or set AEQUANT_DATA to another folder.`,
  )
  process.exit(3)
}
const path = socketFile(folder)
rmSync(path, { force: true })
const database = await PGlite.create(join(folder, 'database'))
const server = new PGLiteSocketServer({ db: database, path, maxConnections: 32 })
await server.start()
process.send?.('ready')

let stopping = false
async function stop() {
  if (stopping) return
  stopping = true
  await server.stop()
  await database.close()
  rmSync(path, { force: true })
  process.exit(0)
}
process.on('SIGTERM', stop)
process.on('SIGINT', () => {})
process.on('disconnect', stop)
