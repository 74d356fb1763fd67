import workerpool from 'workerpool'
import type { NamedClicks } from '@/core/intake/clicks'
import { type ReadClicks, readStretch, type Stretch } from '@/formats/clickFile'
import { FileRefused } from '@/formats/csv'

/** What this thread has read. */
let held: ReadClicks['gathered'] | null = null

/** Reads a stretch and keeps it; null where the file is to be read as a whole. */
function read(stretch: Stretch): { read: number; lines: number; rejected: ReadClicks['rejected'] } | null {
  try {
    const found = readStretch(stretch)
    if (!found) return null
    const { gathered, ...told } = found
    held = gathered
    return told
  } catch (error) {
    // Read as a whole, it is refused in the same words.
    if (error instanceof FileRefused) return null
    throw error
  }
}

const visitors = (named: NamedClicks) => held!.visitorsOf(named)
const part = (named: NamedClicks, visitors: ReadonlySet<string>) => held!.part(named, visitors)

export const methods = { read, visitors, part }
export type Methods = typeof methods
workerpool.worker(methods)
