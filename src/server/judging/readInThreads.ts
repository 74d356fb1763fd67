import { existsSync, readdirSync, statSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import workerpool from 'workerpool'
import { gatherClicks } from '@/core/intake/clicks'
import { readStretch, type Stretch, stretchesOf } from '@/formats/clickFile'
import { clickFile, type Folder, namedInFolder, readFolder, readFolderButClicks } from '@/formats/folder'
import type { methods, Told } from './clickThread'

/** Clicks of fewer bytes are read sooner than a thread has started. */
const LARGE_BYTES = 8 << 20
/** Rows of other files are read by their schema, which takes so many times as long for a byte. */
const SLOWER = 2
const MOST_THREADS = 4

/**
 * As `readFolder`, with a large file of clicks read in threads, each a stretch of it, while this one reads the
 * other files and what is left of the clicks.
 *
 * @param threads how many besides this one
 * @throws as `readFolder`
 */
export async function readFolderInThreads(
  dir: string,
  threads = Math.min(MOST_THREADS, availableParallelism() - 1),
  large = LARGE_BYTES,
): Promise<Folder> {
  const path = clickFile(dir)
  if (threads < 1 || !existsSync(path) || statSync(path).size < large) return readFolder(dir)
  const stretches = stretchesOf(path, sharesOf(dir, threads))
  const own = stretches?.at(-1)
  if (!stretches || !own) return readFolder(dir)
  const theirs = stretches.slice(0, -1).map(startThread)
  try {
    const folder = readFolderButClicks(dir)
    const mine = readStretch(own)
    if (!mine) return readFolder(dir)
    const named = namedInFolder(folder)
    const told = theirs.map(({ exec }) => exec('told', [named]))
    const byClick = mine.gathered.visitorsByClick(named)
    const read: Told[] = []
    for (const one of await Promise.all(told)) {
      if (!one) return readFolder(dir)
      read.push(one)
      for (const visitor of one.byClick) byClick.add(visitor)
    }
    read.push(mine)
    const parts = theirs.map(({ exec }) => exec('part', [byClick]))
    const clicks = gatherClicks()
    const last = mine.gathered.part(named, byClick)
    for (const part of await Promise.all(parts)) clicks.take(part)
    clicks.take(last)
    // The header's line, and those of the stretches before.
    let lines = 1
    const rejected = read.flatMap(one => {
      const before = lines
      lines += one.lines
      return one.rejected.map(reject => ({ ...reject, line: reject.line + before }))
    })
    return {
      ...folder,
      clicks: { columns: clicks.columns(), read: read.reduce((sum, one) => sum + one.read, 0), rejected },
    }
  } finally {
    for (const { end } of theirs) end()
  }
}

/** How the clicks are shared out, this thread last: whoever reads the other files reads fewer. */
function sharesOf(dir: string, threads: number): number[] {
  const clicks = statSync(clickFile(dir)).size
  const others = readdirSync(dir)
    .filter(name => name.endsWith('.csv') && join(dir, name) !== clickFile(dir))
    .reduce((sum, name) => sum + statSync(join(dir, name)).size * SLOWER, 0)
  const each = (clicks + others) / (threads + 1)
  return [...Array.from({ length: threads }, () => each), Math.max(1, each - others)]
}

type Methods = typeof methods

/** A thread of its own for a stretch, which it keeps between one question and the next. */
function startThread(workerData: Stretch) {
  const pool = workerpool.pool(fileURLToPath(new URL('./clicks.mjs', import.meta.url)), {
    minWorkers: 1,
    maxWorkers: 1,
    workerType: 'thread',
    workerThreadOpts: { workerData },
  })
  return {
    exec: async <Name extends keyof Methods>(name: Name, given: Parameters<Methods[Name]>) =>
      (await pool.exec(name, given)) as ReturnType<Methods[Name]>,
    end: () => void pool.terminate(true),
  }
}
