import { JUDGED_RESULT } from '@/core/intake/settings'
import type { Database } from '@/data/connect'
import { eachClick, loadRecords } from '@/data/loadRecords'
import { findWorkspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { simulateMarket } from '@/practice/market/simulate'
import { evidenceKeeper } from '@/server/compute/evidenceOf'
import { importFile } from '@/server/import/importFile'
import { onNewDatabase } from './hosted'
import type { Measure } from './measure'
import { median } from './median'

/** Five times the demo's market: some 290,000 clicks. */
const SCALE = Number(process.env.BENCH_SCALE ?? 5)
const ROUNDS = 3

async function fill(database: Database) {
  const market = simulateMarket({ seed: 11, days: 75, scale: SCALE, end: 20_780 })
  const workspace = (await findWorkspace(database, 'main'))!
  const take = (kind: 'delivery' | 'clicks' | 'orders' | 'claim-rows', rows: Record<string, unknown>[]) =>
    importFile(database, workspace, kind, writeCsv(Object.keys(rows[0]!), rows))
  await take('delivery', market.delivery)
  await take('clicks', market.clicks)
  await take('claim-rows', market.claimRows)
  await take('orders', market.orders)
  console.error(`${market.clicks.length} clicks, ${market.orders.length} orders.`)
  return { last: market.orders.at(-1)!, takeOrder: (row: Record<string, unknown>) => take('orders', [row]) }
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const began = performance.now()
  await work()
  return performance.now() - began
}

/** A workspace's first view: all of its evidence, against reading the same rows. */
export const benchOpen = () =>
  onNewDatabase(async (database): Promise<Measure[]> => {
    await fill(database)
    const [opened, read] = [[], []] as [number[], number[]]
    for (let round = 0; round < ROUNDS; round++) {
      read.push(
        await timed(async () => {
          await eachClick(database, 'main', null, () => {})
          await loadRecords(database, 'main')
        }),
      )
      opened.push(await timed(() => evidenceKeeper(database)('main', JUDGED_RESULT)))
    }
    const value = median(opened)
    return [
      { name: 'open', value, unit: 'ms', against: 'reading the same rows', ratio: value / median(read) },
    ]
  })

/** One order more until the evidence is there again, against gathering all. */
export const benchAdvance = () =>
  onNewDatabase(async (database): Promise<Measure[]> => {
    const { last, takeOrder } = await fill(database)
    const keep = evidenceKeeper(database)
    await keep('main', JUDGED_RESULT)
    const [advanced, whole] = [[], []] as [number[], number[]]
    for (let round = 0; round < ROUNDS; round++) {
      await takeOrder({ ...last, order_id: `one-more-${round}` })
      advanced.push(await timed(() => keep('main', JUDGED_RESULT)))
      whole.push(await timed(() => evidenceKeeper(database)('main', JUDGED_RESULT)))
    }
    const value = median(advanced)
    return [{ name: 'advance', value, unit: 'ms', against: 'gathering all', ratio: value / median(whole) }]
  })
