import { existsSync, statSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import workerpool from 'workerpool'
import { foundIn, type Stretch, stretchesOf } from '@/formats/clickFile'
import {
  clickFile,
  type Folder,
  namedInFolder,
  readFolder,
  readFolderButClicks,
  readOrders,
} from '@/formats/folder'
import type { methods } from './clickThread'

/** Clicks of fewer bytes are read sooner than a thread has started. */
const LARGE_BYTES = 8 << 20
const MOST_THREADS = 4

/**
 * As `readFolder`, with a large file of clicks read in threads, each a stretch of it, while this one reads the
 * other files.
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
  const running = stretchesOf(path, threads)?.map(startThread)
  if (!running) return readFolder(dir)
  try {
    const orders = readOrders(dir)
    const named = namedInFolder({ files: orders })
    // Each answers as soon as it has read its stretch, while the other files are read here.
    const asked = Promise.all(running.map(({ exec }) => exec('told', [named])))
    await new Promise(setImmediate)
    const folder = readFolderButClicks(dir, orders)
    const told = await asked
    if (told.includes(null)) return readFolder(dir)
    const scans = told as NonNullable<(typeof told)[number]>[]
    const byClick = new Set(scans.flatMap(scan => [...scan.byClick]))
    const parts = await Promise.all(running.map(({ exec }) => exec('part', [byClick])))
    return { ...folder, clicks: foundIn(scans, parts) }
  } finally {
    for (const { end } of running) end()
  }
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
