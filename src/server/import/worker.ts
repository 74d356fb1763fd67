import type { MessagePort } from 'node:worker_threads'
import workerpool from 'workerpool'
import { openDatabase } from '@/data/connect'
import type { Workspace } from '@/data/workspace'
import { FileRefused } from '@/formats/csv'
import { InvalidJson } from '@/formats/json'
import { yieldToOthers } from '../compute/yieldToOthers'
import { thrownInThread } from '../threads'
import { type AnyJob, type JobName, jobs } from './jobs'

export interface JobOrder {
  job: JobName
  workspace: Workspace
  input: unknown
}
export type JobReport =
  | { result: unknown }
  | { refused: Pick<FileRefused, 'code' | 'facts'> }
  | { notJson: string }

yieldToOthers()

/**
 * Does a job; what becomes of its file is told, whatever it is.
 *
 * @param stop a message there ends the job, with what went in up to then as its result
 */
async function run({ job, workspace, input }: JobOrder, stop: MessagePort): Promise<JobReport> {
  const stopped = new AbortController()
  stop.once('message', () => stopped.abort())
  const { database, close } = openDatabase()
  try {
    const progress = (rows: number, of: number) => workerpool.workerEmit([rows, of])
    const watch = { progress, signal: stopped.signal }
    return { result: await (jobs[job] as AnyJob)(database, workspace, input, watch) }
  } catch (error) {
    if (error instanceof FileRefused) return { refused: { code: error.code, facts: error.facts } }
    if (error instanceof InvalidJson) return { notJson: error.message }
    throw thrownInThread(error)
  } finally {
    stop.close()
    await close()
  }
}

workerpool.worker({ run })
