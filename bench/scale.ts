import { readFileSync } from 'node:fs'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { daysBefore } from '@/core/shared/periods'
import type { Scope } from '@/core/weigh/scope'
import { evidenceKeeper } from '@/server/compute/evidenceOf'
import { benchView } from '@/server/compute/views/bench'
import { changedView, turnsView } from '@/server/compute/views/changed'
import { ownRulesView } from '@/server/compute/views/ownRules'
import { reconcileView } from '@/server/compute/views/reconcile'
import { weighBelowView, weighView } from '@/server/compute/views/weigh'
import { fill, timed, WARM_UP } from './evidence'
import { onNewDatabase } from './hosted'
import type { Measure } from './measure'
import { median } from './median'

/** How many times the demo's market. */
const SCALES = (process.env.BENCH_SCALES ?? '1,10,30').split(',').map(Number)
const MEGABYTE = 2 ** 20
const period = { from: 20_780 - 27, to: 20_780 }

setFlagsFromString('--expose-gc')
const collectGarbage = runInNewContext('gc') as () => void
const held = () => {
  collectGarbage()
  const { heapUsed, arrayBuffers } = process.memoryUsage()
  return (heapUsed + arrayBuffers) / MEGABYTE
}
const residentOf = (process: number) =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${process}/status`, 'utf8'))?.[1] ?? 0) / 1024

/** What a workspace of some size costs: its import, its first view, one order more, warm views, and memory. */
const measured = (scale: number) =>
  onNewDatabase(async (database, _folder, host) => {
    const filled = await fill(database, scale)
    const { rows, ms, last, takeOrder } = filled
    const keep = evidenceKeeper(database)
    const evidence = () => keep('main', JUDGED_RESULT)
    const before = held()
    const open = await timed(async () => (await evidence()).estimate)
    const memory = held() - before
    const order: number[] = []
    for (let round = 0; round < WARM_UP + 5; round++) {
      await takeOrder({ ...last, order_id: `one-more-${round}` })
      order.push(await timed(evidence))
    }
    const now = await evidence()
    /** Some views of periods of which nothing is known yet. */
    const warm = async (look: (question: { period: typeof period; scope: Scope }) => void) => {
      const times: number[] = []
      for (let round = 0; round < 5; round++)
        times.push(
          await timed(async () => look({ period: { from: period.from - round, to: period.to }, scope: {} })),
        )
      return { value: median(times), unit: 'ms' }
    }
    const views = await warm(question => {
      weighView(now, question)
      weighBelowView(now, question)
      reconcileView(now, question)
    })
    return {
      import: { value: ms / 1000, unit: 's' },
      rows_per_second: { value: (1000 * rows) / ms, unit: 'rows/s' },
      open: { value: open / 1000, unit: 's' },
      order: { value: median(order.slice(WARM_UP)), unit: 'ms' },
      views,
      reconcile: await warm(question => reconcileView(now, question)),
      reconcile_changed: await warm(question =>
        changedView(now, { ...question, first: daysBefore(question.period) }),
      ),
      reconcile_turns: await warm(question => turnsView(now, question)),
      reconcile_rules: await warm(question => ownRulesView(now, question)),
      reconcile_bench: await warm(question => benchView(now, question)),
      memory_evidence: { value: memory, unit: 'MB' },
      memory_database: { value: residentOf(host), unit: 'MB' },
    }
  })

/** The same at several sizes, each against the first. */
export async function benchScale(): Promise<Measure[]> {
  const all: Measure[] = []
  let first: Awaited<ReturnType<typeof measured>> | undefined
  for (const scale of SCALES) {
    const found = await measured(scale)
    first ??= found
    for (const [name, { value, unit }] of Object.entries(found))
      all.push({
        name: `scale_${scale}_${name}`,
        value,
        unit,
        against: `${SCALES[0]} times the demo’s market`,
        ratio: value / first[name as keyof typeof found].value,
      })
  }
  return all
}
