/** A report that takes all of a core until its parent ends, in a thread as the application's are. */
import { isMainThread, Worker } from 'node:worker_threads'
import { buildDataset } from '@/core/intake/dataset'
import { gatherEvidence } from '@/core/weigh/evidence'
import { judge } from '@/core/weigh/judge'
import { recordsOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { yieldToOthers } from '@/server/compute/yieldToOthers'

if (isMainThread) {
  const worker = new Worker(new URL(import.meta.url))
  worker.once('message', () => process.send?.('ready'))
  process.on('disconnect', () => process.exit(0))
} else {
  yieldToOthers()
  const { parentPort } = await import('node:worker_threads')
  const { records, settings } = recordsOfMarket(simulateMarket({ seed: 5, days: 75, scale: 1, end: 20_000 }))
  parentPort?.postMessage('ready')
  for (;;) judge(gatherEvidence(buildDataset(records, settings)), { from: 0, to: 30_000 })
}
