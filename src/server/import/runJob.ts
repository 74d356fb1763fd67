import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { sharedDatabase } from '@/data/connect'
import { DatabaseAway } from '@/data/errors'
import type { Workspace } from '@/data/workspace'
import { FileRefused } from '@/formats/csv'
import { InvalidJson } from '@/formats/json'
import type { Watch } from './importFile'
import { type AnyJob, type JobInput, type JobName, type JobResult, jobs } from './jobs'
import type { JobOrder, JobReport } from './worker'

/** Content from here on is read in a thread of its own: reading it would block whoever else asks. */
const LARGE_CHARACTERS = 200_000

/**
 * Does a job on a file; a large one in a worker thread.
 *
 * @throws FileRefused as the job does
 */
export function runJob<Name extends JobName>(
  job: Name,
  workspace: Workspace,
  input: JobInput<Name>,
  watch: Watch = {},
): Promise<JobResult<Name>> {
  const done =
    input.content.length < LARGE_CHARACTERS
      ? (jobs[job] as AnyJob)(sharedDatabase(), workspace, input, watch)
      : inThread({ job, workspace, input }, watch)
  return done as Promise<JobResult<Name>>
}

function inThread(order: JobOrder, { progress, signal }: Watch): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const file = join(/* turbopackIgnore: true */ process.cwd(), 'dist', 'import.mjs')
    const worker = new Worker(file, { workerData: order })
    signal?.addEventListener('abort', () => worker.postMessage('stop'), { once: true })
    worker.on('message', (report: JobReport) => {
      if ('progress' in report) progress?.(...report.progress)
      else if ('result' in report) resolve(report.result)
      else if ('refused' in report) reject(new FileRefused(report.refused.code, report.refused.facts))
      else if ('notJson' in report) reject(new InvalidJson(report.notJson))
      else if ('away' in report) reject(new DatabaseAway(report.away))
      else reject(new Error(report.error))
    })
    worker.on('error', reject)
    worker.on('exit', () => reject(new Error('Reading the file stopped. Try again; nothing counts twice.')))
  })
}
