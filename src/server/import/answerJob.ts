import { DatabaseAway, DiskFull } from '@/data/errors'
import type { Workspace } from '@/data/workspace'
import { FileRefused } from '@/formats/csv'
import type { JobInput, JobName, JobResult } from './jobs'
import { runJob } from './runJob'

/** Who accepts this hears a line of JSON for each step, and the outcome in the last one. */
const LINES = 'application/x-ndjson'

/** Jobs under way that may be cancelled, by the ID that their caller gave them; kept over a reload of modules. */
const held = globalThis as { aequantJobs?: Map<string, AbortController> }

/** Stops a job, whose caller then hears what went in. Gives whether there is one of that ID. */
export function cancelJob(id: string): boolean {
  const job = held.aequantJobs?.get(id)
  job?.abort()
  return job !== undefined
}

/**
 * Answers a request by a job: with its outcome, or with lines of progress where the caller accepts them.
 * A job that is cancelled (by the ID in `x-job`), or whose caller goes away, stops; what went in before
 * stays, and is in the outcome.
 */
export async function answerJob<Name extends JobName>(
  request: Request,
  job: Name,
  workspace: Workspace,
  input: JobInput<Name>,
  show: (result: JobResult<Name>) => object,
): Promise<Response> {
  if (request.headers.get('accept') !== LINES) {
    const { status, body } = await outcomeOf(runJob(job, workspace, input), show)
    return Response.json(body, { status })
  }
  const stop = new AbortController()
  let gone = false
  held.aequantJobs ??= new Map()
  const jobs = held.aequantJobs
  const id = request.headers.get('x-job')
  if (id) jobs.set(id, stop)
  const text = new TextEncoder()
  const stream = new ReadableStream<Uint8Array>({
    async start(to) {
      const say = (line: object) => {
        if (!gone) to.enqueue(text.encode(`${JSON.stringify(line)}\n`))
      }
      const progress = (rows: number, of: number) => say({ rows, of })
      const done = await outcomeOf(runJob(job, workspace, input, { progress, signal: stop.signal }), show)
      say({ outcome: done.body })
      if (id) jobs.delete(id)
      if (!gone) to.close()
    },
    cancel: () => {
      gone = true
      stop.abort()
    },
  })
  return new Response(stream, { headers: { 'content-type': LINES, 'cache-control': 'no-store' } })
}

async function outcomeOf<Result>(
  job: Promise<Result>,
  show: (result: Result) => object,
): Promise<{ status: number; body: object }> {
  try {
    return { status: 200, body: show(await job) }
  } catch (error) {
    if (error instanceof FileRefused) return { status: 400, body: { error: error.message, code: error.code } }
    const away = error instanceof DatabaseAway
    if (!away) console.error(error)
    return {
      status: away ? 503 : 500,
      body: {
        error:
          error instanceof DiskFull
            ? 'The disk is full. What went in before stays; free some room and take the file in again.'
            : 'It could not be taken in. What went in before stays; take the file in again.',
      },
    }
  }
}
