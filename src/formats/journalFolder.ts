import { randomBytes, randomUUID } from 'node:crypto'
import { linkSync, mkdirSync, readdirSync, readFileSync, unlinkSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const SEGMENT = /^\d{1,15}(?:-[0-9a-f]{8})?\.ndjson$/
const DIGITS = 15

/** Where the collector of a data folder writes, and the application reads. */
export const journalFolder = (dataFolder: string): string => join(dataFolder, 'journal')

/** The journal's segments, in the order in which they were begun. */
export function listSegments(journal: string): string[] {
  try {
    return readdirSync(journal)
      .filter(name => SEGMENT.test(name))
      .sort()
  } catch {
    return []
  }
}

/**
 * The name of the segment after the others: the highest number that exists plus one, and what no other has. No clock
 * is asked, which may have been turned back; and where the newest files are gone (a folder restored from a copy), their
 * names, which the database knows, are not given again.
 */
export function nextSegment(segments: readonly string[]): string {
  const highest = Math.max(0, ...segments.slice(-1).map(name => Number.parseInt(name, 10)))
  return `${String(highest + 1).padStart(DIGITS, '0')}-${randomBytes(4).toString('hex')}.ndjson`
}

/**
 * The journal's own name, by which the database remembers how far it was taken in: minted once and kept in
 * the journal's folder, so that one that is made anew is never taken for the one before it.
 */
export function journalId(journal: string): string {
  const file = join(journal, 'id')
  const known = () => readFileSync(file, 'utf8').trim()
  try {
    return known()
  } catch {
    mkdirSync(journal, { recursive: true, mode: 0o700 })
    const fresh = `${file}.${randomUUID()}`
    writeFileSync(fresh, randomUUID(), { flush: true, mode: 0o600 })
    try {
      // Only one of two that begin at once makes it.
      linkSync(fresh, file)
    } catch (error) {
      if (!(error instanceof Error && 'code' in error && error.code === 'EEXIST')) throw error
    } finally {
      unlinkSync(fresh)
    }
    return known()
  }
}
