/** A report that takes all of a core until its parent ends, in a thread as the application's are. */
import { isMainThread, Worker } from 'node:worker_threads'
import { clickColumns } from '@/core/intake/clicks'
import { buildDataset } from '@/core/intake/dataset'
import { settingsSchema } from '@/core/intake/settings'
import { gatherEvidence } from '@/core/weigh/evidence'
import { judge } from '@/core/weigh/judge'
import { readExchangeFile, writeCsv } from '@/formats/csv'
import { simulateMarket } from '@/practice/market/simulate'
import { yieldToOthers } from '@/server/compute/yieldToOthers'

if (isMainThread) {
  const worker = new Worker(new URL(import.meta.url))
  worker.once('message', () => process.send?.('ready'))
  process.on('disconnect', () => process.exit(0))
} else {
  yieldToOthers()
  const { parentPort } = await import('node:worker_threads')
  const market = simulateMarket({ seed: 5, days: 75, scale: 1, end: 20_000 })
  const read = <Kind extends 'delivery' | 'clicks' | 'orders' | 'claim-rows'>(
    kind: Kind,
    rows: Record<string, unknown>[],
  ) => readExchangeFile(kind, writeCsv(Object.keys(rows[0] ?? {}), rows)).records
  const records = {
    delivery: read('delivery', market.delivery),
    clicks: clickColumns(read('clicks', market.clicks)),
    orders: read('orders', market.orders),
    claims: [],
    claimRows: read('claim-rows', market.claimRows),
    rates: [],
  }
  const settings = settingsSchema.parse(market.settings)
  parentPort?.postMessage('ready')
  for (;;) judge(gatherEvidence(buildDataset(records, settings)), { from: 0, to: 30_000 })
}
