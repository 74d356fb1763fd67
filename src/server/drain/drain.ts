import { open, readdir, stat, unlink } from 'node:fs/promises'
import { join } from 'node:path'
import { eq } from 'drizzle-orm'
import { type Arrival, arrivalSchema } from '@/core/intake/arrival'
import { DAY_MS, HOUR_MS } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { keepAside, type SetAside } from '@/data/intake'
import { drainPositions } from '@/data/schema'
import { readLine } from '@/formats/journalLine'
import { WORKSPACE } from '../workspace'
import { storeArrivals } from './storeArrivals'

const CHUNK_BYTES = 4 * 1024 * 1024
/** The journal of this data folder, in `drain_positions`. */
export const JOURNAL = 'local'

/**
 * Takes what the collector has written into the database, a chunk at a time, and remembers how far in
 * the same transaction: after a crash at any moment every record is there once.
 *
 * @returns how many records were taken in; 0 when the journal is at its end
 */
export async function drainOnce(database: Database, folder: string): Promise<number> {
  const journal = join(folder, 'journal')
  const segments = (await readdir(journal).catch(() => [])).filter(name => name.endsWith('.ndjson')).sort()
  const [position] = await database.select().from(drainPositions).where(eq(drainPositions.journal, JOURNAL))
  const from = position && segments.includes(position.segment) ? segments.indexOf(position.segment) : 0
  for (const segment of segments.slice(from)) {
    const offset = position?.segment === segment ? position.offset : 0
    const chunk = await readChunk(join(journal, segment), offset)
    const end = chunk.lastIndexOf(10) + 1
    if (end === 0) {
      // The collector never writes on in a segment that a newer one follows: this was cut by a crash.
      if (chunk.length > 0 && segment !== segments.at(-1))
        await keepAside(database, WORKSPACE, [tornTail(chunk, `${segment}:${offset}`)])
      continue
    }
    const lines = chunk.subarray(0, end).toString('utf8').split('\n').filter(Boolean)
    const { arrivals, aside } = readLines(lines, `${segment}:${offset}`)
    await database.transaction(async transaction => {
      await storeArrivals(transaction, arrivals)
      // Nobody can say whose it was: the first workspace shows it.
      if (aside.length > 0) await keepAside(transaction, WORKSPACE, aside)
      const next = { journal: JOURNAL, segment, offset: offset + end }
      await transaction
        .insert(drainPositions)
        .values(next)
        .onConflictDoUpdate({ target: drainPositions.journal, set: next })
    })
    return lines.length
  }
  return 0
}

async function readChunk(path: string, offset: number): Promise<Buffer> {
  const file = await open(path, 'r')
  try {
    const { bytesRead, buffer } = await file.read(Buffer.alloc(CHUNK_BYTES), 0, CHUNK_BYTES, offset)
    return buffer.subarray(0, bytesRead)
  } finally {
    await file.close()
  }
}

/** How many records a segment holds behind an offset; between them stand empty lines. */
export async function countLines(path: string, offset: number): Promise<number> {
  let lines = 0
  let before = 10
  for (let at = offset; ; ) {
    const chunk = await readChunk(path, at)
    if (chunk.length === 0) return lines
    for (const byte of chunk) {
      if (byte === 10 && before !== 10) lines += 1
      before = byte
    }
    at += chunk.length
  }
}

const tornTail = (chunk: Buffer, place: string): SetAside => ({
  id: `${place}/end`,
  kind: 'line',
  at: new Date(),
  reason: 'torn_line',
  facts: { place },
  raw: chunk.toString('utf8').slice(0, 4000),
})

/** The records of whole lines; what cannot be read is set aside by the place where it stands. */
function readLines(lines: readonly string[], place: string): { arrivals: Arrival[]; aside: SetAside[] } {
  const arrivals: Arrival[] = []
  const aside: SetAside[] = []
  lines.forEach((line, i) => {
    const read = readLine(line)
    const parsed = 'value' in read ? arrivalSchema.safeParse(read.value) : null
    if (parsed?.success) arrivals.push(parsed.data)
    else
      aside.push({
        id: `${place}/${i}`,
        kind: 'line',
        at: new Date(),
        reason: 'problem' in read ? read.problem : 'not_a_record',
        facts: { place },
        raw: line.slice(0, 4000),
      })
  })
  return { arrivals, aside }
}

const IDLE_MS = 250

/** How long segments that were taken in are kept, for whoever wants to look. */
const KEEP_MS = 7 * DAY_MS
const TIDY_EVERY_MS = HOUR_MS

/** Removes journal segments that were taken in long ago. */
export async function tidyJournal(database: Database, folder: string, now: number): Promise<void> {
  const journal = join(folder, 'journal')
  const [position] = await database.select().from(drainPositions).where(eq(drainPositions.journal, JOURNAL))
  for (const name of await readdir(journal).catch(() => []))
    if (position && name < position.segment && (await stat(join(journal, name))).mtimeMs < now - KEEP_MS)
      await unlink(join(journal, name))
}

/** Drains for as long as the process lives. A failure is said once and tried again. */
export async function drainForever(database: Database, folder: string): Promise<never> {
  let failed = false
  let tidied = 0
  for (;;) {
    try {
      while ((await drainOnce(database, folder)) > 0);
      if (Date.now() - tidied > TIDY_EVERY_MS) {
        tidied = Date.now()
        await tidyJournal(database, folder, tidied)
      }
      failed = false
    } catch (error) {
      if (!failed)
        console.error(
          'Taking in the journal failed; it is tried again.',
          error instanceof Error ? error.message : error,
        )
      failed = true
    }
    await new Promise(next => setTimeout(next, failed ? 2000 : IDLE_MS))
  }
}
