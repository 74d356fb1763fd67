import { parentPort, workerData } from 'node:worker_threads'
import { openDatabase } from '@/data/connect'
import { DatabaseAway } from '@/data/errors'
import type { Workspace } from '@/data/workspace'
import { FileRefused } from '@/formats/csv'
import { InvalidJson } from '@/formats/json'
import { yieldToOthers } from '../compute/yieldToOthers'
import { type AnyJob, type JobName, jobs } from './jobs'

export interface JobOrder {
  job: JobName
  workspace: Workspace
  input: unknown
}
export type JobReport =
  | { progress: [rows: number, of: number] }
  | { result: unknown }
  | { refused: Pick<FileRefused, 'code' | 'facts'> }
  | { notJson: string }
  | { away: string }
  | { error: string }

const { job, workspace, input } = workerData as JobOrder
yieldToOthers()
const stopped = new AbortController()
const tell = (report: JobReport) => parentPort?.postMessage(report)
parentPort?.once('message', () => stopped.abort())

const { database, close } = openDatabase()
try {
  const progress = (rows: number, of: number) => tell({ progress: [rows, of] })
  tell({
    result: await (jobs[job] as AnyJob)(database, workspace, input, { progress, signal: stopped.signal }),
  })
} catch (error) {
  if (error instanceof FileRefused) tell({ refused: { code: error.code, facts: error.facts } })
  else if (error instanceof InvalidJson) tell({ notJson: error.message })
  else if (error instanceof DatabaseAway) tell({ away: error.message })
  else tell({ error: error instanceof Error ? error.message : String(error) })
}
await close()
parentPort?.close()
