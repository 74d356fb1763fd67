import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { JUDGED_RESULT } from '@/core/intake/settings'
import { DatabaseAway } from '@/data/errors'
import { type ViewName, type Views, withoutEstimate } from './namesOfViews'
import type { Answered, Asked, WorkerOf } from './worker'

/** The workers of this process: kept on `globalThis` so that a reloaded module finds the same ones. */
const held = globalThis as { aequantWorkers?: { [Of in WorkerOf]?: ReturnType<typeof startWorker> } }

function startWorker(of: WorkerOf) {
  const file = join(/* turbopackIgnore: true */ process.cwd(), 'dist', 'worker.mjs')
  const worker = new Worker(file, { workerData: of })
  const waiting = new Map<number, { resolve: (answer: unknown) => void; reject: (error: Error) => void }>()
  let next = 1
  worker.on('message', (answered: Answered) => {
    const asked = waiting.get(answered.number)
    waiting.delete(answered.number)
    if ('error' in answered)
      asked?.reject(answered.away ? new DatabaseAway(answered.error) : new Error(answered.error))
    else asked?.resolve(answered.answer)
  })
  const end = (error: Error) => {
    for (const { reject } of waiting.values()) reject(error)
    waiting.clear()
    delete held.aequantWorkers?.[of]
  }
  worker.on('error', end)
  worker.on('exit', () => end(new Error('The computation stopped. Try again.')))
  worker.unref()
  return (asked: Omit<Asked, 'number'>) =>
    new Promise<unknown>((resolve, reject) => {
      const number = next++
      waiting.set(number, { resolve, reject })
      worker.postMessage({ ...asked, number } satisfies Asked)
    })
}

/** Computes a view of a workspace in a worker thread; the caller's thread stays free. */
export async function ask<Name extends ViewName>(
  workspace: string,
  view: Name,
  question: Parameters<Views[Name]>[1],
  result: string = JUDGED_RESULT,
): Promise<Awaited<ReturnType<Views[Name]>>> {
  const of: WorkerOf = withoutEstimate.includes(view) ? 'evidence' : 'estimates'
  held.aequantWorkers ??= {}
  const send = (held.aequantWorkers[of] ??= startWorker(of))
  return (await send({ workspace, result, view, question })) as Awaited<ReturnType<Views[Name]>>
}
