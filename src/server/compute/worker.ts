import { join } from 'node:path'
import { parentPort, workerData } from 'node:worker_threads'
import type { Evidence } from '@/core/weigh/evidence'
import { openDatabase } from '@/data/connect'
import { DatabaseAway } from '@/data/errors'
import { dataFolder } from '@/formats/dataFolder'
import { evidenceKeeper } from './evidenceOf'
import { readings, type ViewName, views, type WorkspaceRecords } from './views'
import { yieldToOthers } from './yieldToOthers'

/** What a worker is for: two hold the same evidence, so that what needs no estimate never waits for one. */
export type WorkerOf = 'evidence' | 'estimates'

/** One question to a worker and its answer. */
export interface Asked {
  number: number
  workspace: string
  /** the result that is judged */
  result: string
  view: ViewName
  question: unknown
}
export type Answered = { number: number; answer: unknown } | { number: number; error: string; away: boolean }

yieldToOthers()
const { database } = openDatabase()
const evidenceOf = evidenceKeeper(database, {
  snapshots: join(dataFolder(), 'snapshots'),
  // One of them is enough to write them.
  reads: workerData === ('evidence' satisfies WorkerOf),
})

parentPort?.on('message', async ({ number, workspace, result, view, question }: Asked) => {
  try {
    type Compute = (evidence: Evidence | null, question: unknown, from: WorkspaceRecords) => unknown
    const from = { database, workspace }
    const answer =
      view in readings
        ? await (readings as Record<string, Compute>)[view]!(null, question, from)
        : await (views as Record<string, Compute>)[view]!(await evidenceOf(workspace, result), question, from)
    parentPort?.postMessage({ number, answer } satisfies Answered)
  } catch (error) {
    parentPort?.postMessage({
      number,
      error: error instanceof Error ? error.message : String(error),
      away: error instanceof DatabaseAway,
    } satisfies Answered)
  }
})
