import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import type { Database } from '@/data/connect'
import { BEFORE_ALL, loadClicksAfter, loadRecords } from '@/data/loadRecords'
import { findWorkspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { simulateMarket } from '@/practice/market/simulate'
import { evidenceKeeper } from '@/server/compute/evidenceOf'
import { loadAll } from '@/server/compute/loaded'
import { writeSnapshot } from '@/server/compute/snapshot'
import { importFile } from '@/server/import/importFile'
import { onNewDatabase } from './hosted'
import type { Measure } from './measure'
import { median } from './median'

/** Five times the demo's market: some 290,000 clicks. */
const SCALE = Number(process.env.BENCH_SCALE ?? 5)
const ROUNDS = 3
/** Changes before those that are timed: a process that serves for days has long compiled what it runs. */
export const WARM_UP = 20

export async function fill(database: Database, scale = SCALE) {
  const market = simulateMarket({ seed: 11, days: 75, scale, end: 20_780 })
  const workspace = (await findWorkspace(database, 'main'))!
  let [imported, ms] = [0, 0]
  const take = async (
    kind: 'delivery' | 'clicks' | 'orders' | 'claim-rows' | 'claims',
    rows: Record<string, unknown>[],
  ) => {
    const content = writeCsv(Object.keys(rows[0]!), rows)
    imported += rows.length
    ms += await timed(() => importFile(database, workspace, kind, content))
  }
  await take('delivery', market.delivery)
  await take('clicks', market.clicks)
  // One network lists its claims, the others sum them by day and ad.
  const listed = ({ network }: { network?: string | number }) => network === 'kelpie'
  await take('claim-rows', market.claimRows.filter(listed))
  await take(
    'claims',
    market.claims.filter(row => !listed(row)),
  )
  await take('orders', market.orders)
  console.error(`${market.clicks.length} clicks, ${market.orders.length} orders.`)
  const day = market.delivery.at(-1)!.date
  return {
    rows: imported,
    ms,
    last: market.orders.at(-1)!,
    lastDay: market.delivery.filter(row => row.date === day),
    takeOrder: (row: Record<string, unknown>) => take('orders', [row]),
    takeReport: (rows: Record<string, unknown>[]) => take('delivery', rows),
  }
}

export async function timed(work: () => Promise<unknown>): Promise<number> {
  const began = performance.now()
  await work()
  return performance.now() - began
}

/** A workspace's first view: all of its evidence, anew and from a snapshot, against reading the same rows. */
export const benchOpen = () =>
  onNewDatabase(async (database): Promise<Measure[]> => {
    await fill(database)
    const snapshots = mkdtempSync(join(tmpdir(), 'aequant-bench-'))
    await writeSnapshot(database, snapshots, 'main', await loadAll(database, 'main'))
    const times = { read: [] as number[], anew: [] as number[], snapshot: [] as number[] }
    const opened = async (options?: { snapshots: string }) =>
      (await evidenceKeeper(database, options)('main', JUDGED_RESULT)).estimate
    for (let round = 0; round < ROUNDS; round++) {
      times.read.push(
        await timed(async () => {
          await loadClicksAfter(database, 'main', BEFORE_ALL)
          await loadRecords(database, 'main')
        }),
      )
      times.anew.push(await timed(() => opened()))
      times.snapshot.push(await timed(() => opened({ snapshots })))
    }
    rmSync(snapshots, { recursive: true })
    const measure = (name: string, all: number[]): Measure => ({
      name,
      value: median(all),
      unit: 'ms',
      against: 'reading the same rows',
      ratio: median(all) / median(times.read),
    })
    return [measure('open', times.anew), measure('open_snapshot', times.snapshot)]
  })

/** An order, a day's report: until the evidence is there again, and then its estimate, against gathering all. */
export const benchAdvance = () =>
  onNewDatabase(async (database): Promise<Measure[]> => {
    const { last, lastDay, takeOrder, takeReport } = await fill(database)
    const keep = evidenceKeeper(database)
    const evidence = () => keep('main', JUDGED_RESULT)
    await evidence()
    const times = { order: [] as number[], estimate: [] as number[], report: [] as number[] }
    for (let round = 0; round < WARM_UP + ROUNDS * 3; round++) {
      await takeOrder({ ...last, order_id: `one-more-${round}` })
      times.order.push(await timed(evidence))
      const now = await evidence()
      times.estimate.push(await timed(async () => now.estimate))
    }
    for (let round = 0; round < WARM_UP / 2 + ROUNDS; round++) {
      await takeReport(lastDay.map(row => ({ ...row, spend: `${round + 1}.00` })))
      times.report.push(await timed(evidence))
    }
    const whole: number[] = []
    for (let round = 0; round < ROUNDS; round++)
      whole.push(await timed(async () => (await evidenceKeeper(database)('main', JUDGED_RESULT)).estimate))
    const settled = (all: number[], skip: number) => median(all.slice(skip))
    const measure = (name: string, value: number): Measure => ({
      name,
      value,
      unit: 'ms',
      against: 'gathering all, with its estimate',
      ratio: value / median(whole),
    })
    return [
      measure('advance_order', settled(times.order, WARM_UP)),
      measure('advance_estimate', settled(times.estimate, WARM_UP)),
      measure('advance_report', settled(times.report, WARM_UP / 2)),
    ]
  })
