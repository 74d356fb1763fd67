import { type ChildProcess, fork } from 'node:child_process'
import { createWriteStream, existsSync, readFileSync, type WriteStream } from 'node:fs'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { fileKinds } from '@/core/intake/records'
import { type Database, isServed, openDatabase } from '@/data/connect'
import { migrateDatabase } from '@/data/migrate'
import { FileRefused } from '@/formats/csv'
import { eachLine } from '@/formats/csvLines'
import { dataFolder } from '@/formats/dataFolder'
import { decodeText } from '@/formats/encoding'
import { fileName, readSettings, writeFolder, writeRejects } from '@/formats/folder'
import { adoptSettings, folderSettings } from '@/server/counting'
import { recordFiles } from '@/server/exportRecords'
import { importFile } from '@/server/import/importFile'
import { ensureWorkspace } from '@/server/workspace'
import { BadInput, mayWrite, NotDone } from './badInput'

/** Does some work on the application's database, whether it runs at the moment or not. */
async function withDatabase(work: (database: Database) => Promise<void>): Promise<void> {
  let host: ChildProcess | null = null
  if (!process.env.DATABASE_URL && !(await isServed(dataFolder()))) {
    const started = fork(join(process.cwd(), 'dist/database.mjs'), {
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    })
    host = started
    await new Promise((ready, failed) => {
      started.once('message', ready)
      // It has said why itself.
      started.once('exit', () => failed(new NotDone('The database could not be opened; nothing was done.')))
    })
  }
  const { database, close } = openDatabase()
  try {
    await migrateDatabase(database)
    await work(database)
  } finally {
    await close()
    if (host) {
      const ended = new Promise(done => host?.once('exit', done))
      host.kill('SIGTERM')
      await ended
    }
  }
}

interface Options {
  dir: string
  json?: boolean
}

/** Takes a folder of exchange files into the application's database. */
export async function importFolder(options: Options): Promise<void> {
  const present = fileKinds.filter(kind => existsSync(join(options.dir, fileName(kind))))
  if (present.length === 0) throw new BadInput(`${options.dir} holds none of the exchange files.`)
  const settings = readSettings(options.dir)
  await withDatabase(async database => {
    let workspace = await ensureWorkspace(database)
    if (settings) {
      await adoptSettings(database, workspace, settings)
      workspace = await ensureWorkspace(database)
    }
    const counts: Record<string, { accepted: number; duplicates: number; rejected: number }> = {}
    const rejects = []
    let refused: FileRefused | null = null
    // Rates first: rows in other currencies need them.
    for (const kind of [...present].sort((a, b) => Number(b === 'rates') - Number(a === 'rates'))) {
      try {
        const outcome = await importFile(
          database,
          workspace,
          kind,
          decodeText(readFileSync(join(options.dir, fileName(kind)))),
        )
        counts[kind] = {
          accepted: outcome.accepted,
          duplicates: outcome.duplicates,
          rejected: outcome.rejected.length,
        }
        for (const reject of outcome.rejected) rejects.push({ ...reject, file: fileName(kind) })
        console.error(
          `${fileName(kind)}: ${outcome.accepted} accepted, ${outcome.duplicates} already there, ${outcome.rejected.length} rejected.`,
        )
      } catch (error) {
        if (!(error instanceof FileRefused)) throw error
        refused = error
        console.error(error.message)
      }
    }
    const path = writeRejects(options.dir, rejects)
    if (path) console.error(`The rejected rows are listed in ${path}.`)
    if (options.json) console.log(JSON.stringify(counts))
    if (refused) throw new BadInput('A file was refused; the others went in.')
  })
}

/** Writes the application's database as exchange files. */
export async function exportFolder(options: Options & { force?: boolean }): Promise<void> {
  mayWrite(options.dir, ['settings.json', ...fileKinds.map(fileName)], options.force)
  await withDatabase(async database => {
    const workspace = await ensureWorkspace(database)
    writeFolder(options.dir, {}, { 'settings.json': await folderSettings(database, workspace) })
    const counts: Record<string, number> = {}
    for await (const { name, parts } of recordFiles(database, workspace, fileKinds)) {
      const file = createWriteStream(join(options.dir, name))
      counts[name] = await writeCounting(file, parts)
    }
    console.error(`Wrote ${Object.keys(counts).join(', ') || 'nothing but settings.json'} to ${options.dir}.`)
    if (options.json) console.log(JSON.stringify(counts))
  })
}

/** Writes a CSV file part by part. Gives how many rows it has. */
async function writeCounting(file: WriteStream, parts: AsyncGenerator<string>): Promise<number> {
  let rows = -1
  const counted = async function* () {
    for await (const part of parts) {
      eachLine(part, () => rows++)
      yield part
    }
  }
  await pipeline(Readable.from(counted()), file)
  return rows
}
