import { workerData } from 'node:worker_threads'
import workerpool from 'workerpool'
import type { NamedClicks } from '@/core/intake/clicks'
import { readStretch, type Stretch } from '@/formats/clickFile'
import { FileRefused } from '@/formats/csv'
import type { Scan } from '@/formats/scanClicks'

/** What a thread has read of its stretch. */
export type Told = Pick<Scan, 'lines' | 'read' | 'rejected'>

/**
 * The stretch that this thread was given, read as soon as it starts: whoever started it is busy with other files,
 * and sends nothing before it is done with them. Null where the file is to be read as a whole.
 */
const found = readOwn(workerData as Stretch)
function readOwn(stretch: Stretch) {
  try {
    return readStretch(stretch)
  } catch (error) {
    // Read as a whole, it is refused in the same words.
    if (error instanceof FileRefused) return null
    throw error
  }
}

let names: NamedClicks
export const methods = {
  told: (named: NamedClicks): (Told & { byClick: ReadonlySet<string> }) | null => {
    names = named
    if (!found) return null
    const { lines, read, rejected } = found
    return { lines, read, rejected, byClick: found.visitorsByClick(named) }
  },
  part: (byClick: ReadonlySet<string>) => found!.part(names, byClick),
}
workerpool.worker(methods)
