import { MessageChannel } from 'node:worker_threads'
import { type Database, sharedDatabase } from '@/data/connect'
import type { Workspace } from '@/data/workspace'
import { FileRefused } from '@/formats/csv'
import { InvalidJson } from '@/formats/json'
import { inThread } from '../threads'
import type { Watch } from './importFile'
import { type AnyJob, type JobInput, type JobName, type JobResult, jobs } from './jobs'
import type { JobOrder, JobReport } from './worker'

/** Content from here on is read in a thread of its own: reading it would block whoever else asks. */
const LARGE_CHARACTERS = 200_000

/** More files at once would only wait for each other at the database. */
const THREADS = { bundle: 'import', most: 2 } as const

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
  database: Database = sharedDatabase(),
): Promise<JobResult<Name>> {
  const run = () =>
    input.content.length < LARGE_CHARACTERS
      ? (jobs[job] as AnyJob)(database, workspace, input, watch)
      : inOwnThread({ job, workspace, input }, watch)
  const queue = `${workspace.id} ${job} ${'kind' in input ? input.kind : ''}`
  return oneByOne(queue, run) as Promise<JobResult<Name>>
}

const last = new Map<string, Promise<unknown>>()
/** Two imports of a kind go one after the other: each is held against what the one before it has left. */
function oneByOne<T>(queue: string, run: () => Promise<T>): Promise<T> {
  const done = (last.get(queue) ?? Promise.resolve()).then(run, run)
  last.set(queue, done)
  const leave = () => void (last.get(queue) === done && last.delete(queue))
  done.then(leave, leave)
  return done
}

async function inOwnThread(order: JobOrder, { progress, signal }: Watch): Promise<unknown> {
  const stop = new MessageChannel()
  const end = () => stop.port1.postMessage('stop')
  signal?.addEventListener('abort', end, { once: true })
  try {
    const report = (await inThread('import', THREADS, {
      method: 'run',
      given: [order, stop.port2],
      transfer: [stop.port2],
      on: told => progress?.(...(told as [rows: number, of: number])),
    })) as JobReport
    if ('refused' in report) throw new FileRefused(report.refused.code, report.refused.facts)
    if ('notJson' in report) throw new InvalidJson(report.notJson)
    return report.result
  } finally {
    signal?.removeEventListener('abort', end)
    stop.port1.close()
  }
}
