import { stat, unlink } from 'node:fs/promises'
import { join } from 'node:path'
import { DAY_MS, HOUR_MS } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { isOfRecords, QueryFailed } from '@/data/errors'
import { keepAside, type SetAside } from '@/data/intake'
import {
  adoptFormerPosition,
  forgetPosition,
  listPositions,
  type Positions,
  savePosition,
} from '@/data/journalPositions'
import { addMonths } from '@/data/migrate'
import { journalFolder, journalId, listSegments } from '@/formats/journalFolder'
import { tidyRecords } from '../removal'
import { noteFailure, noteJournalFault, noteSuccess } from '../standing'
import { WORKSPACE } from '../workspace'
import { type Entry, lineAside, readSegment } from './readJournal'
import { storeArrivals } from './storeArrivals'
import { watcher } from './watch'

/**
 * Takes what the collector has written into the database, a chunk at a time, and remembers how far in
 * the same transaction: after a crash at any moment every record is there once.
 *
 * @returns how many records were taken in; null when the journal is at its end
 */
export async function drainOnce(database: Database, folder: string): Promise<number | null> {
  const journal = journalFolder(folder)
  const segments = listSegments(journal)
  const id = journalId(journal)
  let positions = await listPositions(database, WORKSPACE, id)
  await nameGone(database, id, segments, positions)
  if (segments.length === 0) return null
  const sizes = await sizesOf(journal, segments)
  if (positions.size === 0) {
    await adoptFormerPosition(database, WORKSPACE, id, sizes)
    positions = await listPositions(database, WORKSPACE, id)
  }
  for (const segment of segments) {
    const size = sizes.get(segment) ?? 0
    const offset = await soundOffset(database, id, segment, positions.get(segment) ?? 0, size)
    if (offset >= size) continue
    // The collector never writes on in a segment that a newer one follows.
    const ended = segment !== segments.at(-1)
    const name = `${id.slice(0, 8)}/${segment}`
    const chunk = await readSegment(join(journal, segment), name, offset, ended)
    if (!chunk) continue
    await take(database, chunk.entries, chunk.aside, { id, segment, end: chunk.end })
    return chunk.entries.length + chunk.aside.length
  }
  return null
}

/** Of a segment that is being removed: its position is forgotten once the file is gone. */
const REMOVED = -1

/** Names the segments that the database has taken in and the folder has lost: what else they held is gone. */
async function nameGone(
  database: Database,
  journal: string,
  segments: readonly string[],
  positions: Positions,
): Promise<void> {
  const there = new Set(segments)
  for (const [segment, offset] of positions) {
    if (there.has(segment)) continue
    if (offset !== REMOVED)
      noteJournalFault(
        `the journal file ${segment}`,
        `it was read up to byte ${offset} and is gone: what it held after that is lost`,
      )
    await forgetPosition(database, WORKSPACE, journal, segment)
  }
}

/**
 * From where a segment is read on. One that is shorter than what was read of it is another file, or was cut: it is
 * read from its beginning, since a record that is there already changes nothing.
 */
async function soundOffset(
  database: Database,
  journal: string,
  segment: string,
  offset: number,
  size: number,
): Promise<number> {
  if (offset === REMOVED) return size
  if (offset <= size) return offset
  noteJournalFault(
    `the journal file ${segment}`,
    `it was read up to byte ${offset} and has ${size} now: it is read once more from its beginning`,
  )
  await savePosition(database, WORKSPACE, journal, segment, 0)
  return 0
}

async function sizesOf(journal: string, segments: readonly string[]): Promise<Map<string, number>> {
  const sizes = segments.map(async segment => [segment, (await stat(join(journal, segment))).size] as const)
  return new Map(await Promise.all(sizes))
}

/** Stores a chunk and moves on, all or nothing; where a record is at fault, all but that one. */
async function take(
  database: Database,
  entries: readonly Entry[],
  aside: readonly SetAside[],
  { id, segment, end }: { id: string; segment: string; end: number },
): Promise<void> {
  try {
    await database.transaction(async transaction => {
      await storeArrivals(
        transaction,
        entries.map(e => e.arrival),
      )
      // Nobody can say whose it was: the first workspace shows it.
      if (aside.length > 0) await keepAside(transaction, WORKSPACE, aside)
      await savePosition(transaction, WORKSPACE, id, segment, end)
    })
  } catch (error) {
    if (entries.length === 0 || !isOfRecords(error)) throw error
    // Each half is stored for itself: taken twice, a record is there once.
    await storeHalves(database, entries, error)
    await take(database, [], aside, { id, segment, end })
  }
}

/** Halves what cannot be stored until the record that is at fault stands alone, and sets that one aside. */
async function storeHalves(database: Database, entries: readonly Entry[], error: unknown): Promise<void> {
  const [only, ...more] = entries
  if (only && more.length === 0) {
    const code = error instanceof QueryFailed ? error.code : 'unreadable'
    return void (await keepAside(database, WORKSPACE, [
      lineAside(only.line, only.place, 'not_stored', { code }),
    ]))
  }
  const middle = entries.length >> 1
  for (const half of [entries.slice(0, middle), entries.slice(middle)])
    try {
      await database.transaction(transaction =>
        storeArrivals(
          transaction,
          half.map(e => e.arrival),
        ),
      )
    } catch (error) {
      if (!isOfRecords(error)) throw error
      await storeHalves(database, half, error)
    }
}

const IDLE_MS = 250

/** How long segments that were taken in are kept, for whoever wants to look. */
const KEEP_MS = 7 * DAY_MS
const TIDY_EVERY_MS = HOUR_MS

/** Removes journal segments that were taken in long ago; the last one stays, by which the next is named. */
export async function tidyJournal(database: Database, folder: string, now: number): Promise<void> {
  const journal = journalFolder(folder)
  const segments = listSegments(journal).slice(0, -1)
  if (segments.length === 0) return
  const id = journalId(journal)
  const positions = await listPositions(database, WORKSPACE, id)
  for (const segment of segments) {
    const { size, mtimeMs } = await stat(join(journal, segment))
    const offset = positions.get(segment) ?? 0
    if (offset !== REMOVED && (offset < size || mtimeMs >= now - KEEP_MS)) continue
    // Where it ends in between, nobody takes the file for one that was lost.
    await savePosition(database, WORKSPACE, id, segment, REMOVED)
    await unlink(join(journal, segment))
    await forgetPosition(database, WORKSPACE, id, segment)
  }
}

/** Drains for as long as the process lives. A failure is said once and tried again. */
export async function drainForever(database: Database, folder: string): Promise<never> {
  let tidied = 0
  const watch = watcher(database, WORKSPACE)
  for (;;) {
    let failed = false
    try {
      while ((await drainOnce(database, folder)) !== null) {
        noteSuccess('intake')
        await watch(true)
      }
      await watch(false)
      if (Date.now() - tidied > TIDY_EVERY_MS) {
        tidied = Date.now()
        await tidyJournal(database, folder, tidied)
        await tidyRecords(database, tidied)
        await addMonths(database)
      }
      noteSuccess('intake')
    } catch (error) {
      failed = true
      noteFailure('intake', 'Taking in the journal failed; it is tried again.', error, Date.now())
    }
    await new Promise(next => setTimeout(next, failed ? 2000 : IDLE_MS))
  }
}
