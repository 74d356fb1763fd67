import { join } from 'node:path'
import type { MessagePort } from 'node:worker_threads'
import workerpool, { type Pool } from 'workerpool'
import { DatabaseAway, DiskFull } from '@/data/errors'

/** Threads that do one task each at a time; further ones wait in the order they came. */
interface Threads {
  /** the bundle in `dist/` that the threads run */
  bundle: 'worker' | 'import' | 'open'
  /** how many there are at most; they start when they are needed, and stay */
  most: number
  /** what each finds in its `workerData` */
  data?: unknown
  /** memory that each may take; one that takes more ends */
  megabytes?: number
}

/** The pools of this process: kept on `globalThis` so that a reloaded module finds the same ones. */
const held = globalThis as { aequantThreads?: Map<string, Pool> }

/** A computation that cannot be broken off is let finish: its thread holds what the next one needs. */
const NEVER_MS = 2 ** 31 - 1

/** A pool of threads, by its name. */
function threads(name: string, { bundle, most, data, megabytes }: Threads): Pool {
  held.aequantThreads ??= new Map()
  const known = held.aequantThreads.get(name)
  if (known) return known
  const pool = workerpool.pool(join(/* turbopackIgnore: true */ process.cwd(), 'dist', `${bundle}.mjs`), {
    maxWorkers: most,
    workerType: 'thread',
    workerThreadOpts: {
      workerData: data,
      ...(megabytes && { resourceLimits: { maxOldGenerationSizeMb: megabytes } }),
    },
    // One of bounded memory holds nothing that the next needs.
    workerTerminateTimeout: megabytes ? 0 : NEVER_MS,
  })
  held.aequantThreads.set(name, pool)
  return pool
}

/** Nobody waits any longer for what was asked. */
export class Cancelled extends Error {}
/** A thread was ended: it took too long, or too much memory. */
export class Unfinished extends Error {}

/** An error as a thread throws it: of its class nothing is left on the other side. */
export const thrownInThread = (error: unknown): unknown =>
  error instanceof DatabaseAway
    ? Object.assign(new Error(error.message), { away: error instanceof DiskFull ? 'full' : 'silent' })
    : error

const MEMORY = /memory|terminated/i

interface Task {
  method: string
  given: readonly unknown[]
  /** hears what the thread tells while it works */
  on?: (told: unknown) => void
  /** how many ms it may take; its thread is ended then */
  longest?: number
  /** takes the task out of the queue, or asks the thread to leave it */
  signal?: AbortSignal
  transfer?: MessagePort[]
}

/**
 * Has a task done in a thread; the caller's stays free.
 *
 * @throws Cancelled, Unfinished, DatabaseAway, or what the task throws
 */
export async function inThread(name: string, pool: Threads, task: Task): Promise<unknown> {
  const { method, given, on, signal, transfer, longest } = task
  if (signal?.aborted) throw new Cancelled()
  const begun = threads(name, pool).exec(method, [...given], { on, transfer })
  const done = longest === undefined ? begun : begun.timeout(longest)
  const cancel = () => void done.cancel()
  signal?.addEventListener('abort', cancel, { once: true })
  try {
    return await done
  } catch (error) {
    if (error instanceof workerpool.Promise.CancellationError) throw new Cancelled()
    if (
      error instanceof workerpool.Promise.TimeoutError ||
      (error instanceof Error && pool.megabytes !== undefined && MEMORY.test(error.message))
    )
      throw new Unfinished()
    if (error instanceof Error && 'away' in error)
      throw error.away === 'full' ? new DiskFull() : new DatabaseAway(error.message)
    throw error
  } finally {
    signal?.removeEventListener('abort', cancel)
  }
}
