import { join } from 'node:path'
import { workerData } from 'node:worker_threads'
import workerpool from 'workerpool'
import type { Evidence } from '@/core/weigh/evidence'
import { openDatabase } from '@/data/connect'
import { dataFolder } from '@/formats/dataFolder'
import { Cancelled, thrownInThread } from '../threads'
import { evidenceKeeper, type Stage } from './evidenceOf'
import { readings, type ViewName, views } from './views'
import type { WorkspaceRecords } from './workspaceRecords'
import { yieldToOthers } from './yieldToOthers'

export type { Stage }

/**
 * What a worker is for. Two hold the same evidence, so that what needs no estimate never waits for one; what
 * is read from records alone waits for neither.
 */
export type WorkerOf = 'records' | 'evidence' | 'estimates'

/** One question to a worker. */
export interface Asked {
  workspace: string
  /** the result that is judged */
  result: string
  view: ViewName
  question: unknown
}

yieldToOthers()
const { database } = openDatabase()
const evidenceOf = evidenceKeeper(database, {
  snapshots: join(dataFolder(), 'snapshots'),
  // One of them is enough to write them.
  reads: workerData === ('evidence' satisfies WorkerOf),
})

type Compute = (evidence: Evidence | null, question: unknown, from: WorkspaceRecords) => unknown
/** Tells the worker that nobody waits for the task at hand. The pool forgets a listener once it was called. */
interface Pooled {
  worker: { addAbortListener(listener: () => Promise<void>): void }
}
let atHand = new AbortController()
let listens = false

async function compute(this: Pooled, { workspace, result, view, question }: Asked): Promise<unknown> {
  const stopped = new AbortController()
  atHand = stopped
  if (!listens)
    this.worker.addAbortListener(async () => {
      listens = false
      atHand.abort()
    })
  listens = true
  const from = { database, workspace }
  try {
    if (view in readings) return await (readings as Record<string, Compute>)[view]!(null, question, from)
    const evidence = await evidenceOf(workspace, result, workerpool.workerEmit)
    // What was gathered is kept for whoever asks next; what would be made of it is not wanted any more.
    if (stopped.signal.aborted) throw new Cancelled()
    return await (views as Record<string, Compute>)[view]!(evidence, question, from)
  } catch (error) {
    throw thrownInThread(error)
  }
}

workerpool.worker({ compute })
