import { formatDay } from '@/core/shared/days'
import { billedUntil } from '@/core/weigh/billed'
import type { Evidence } from '@/core/weigh/evidence'
import { breakEvenRoasOf } from '@/core/weigh/rows'
import { standsOn } from '@/core/weigh/standsOn'
import { trendDays, trendOf } from '@/core/weigh/trend'
import { planKey } from '@/core/weigh/whatIf'
import { judgeOnce, type Question } from './judged'

/** How one row, or all, went; with its line as it stands in the period, and capture of its network by stretch. */
export function trendView(
  e: Evidence,
  { period, path, length }: Question & { path: readonly string[]; length: number },
) {
  const { tree, delivery } = e.data
  const first = delivery.reduce((least, row) => Math.min(least, row.day), period.from)
  const told = billedUntil(e.data)
  const own = tree.networks.indexOf(path[0] ?? '')
  const until = Math.min(
    period.to,
    ...(own >= 0 ? [told[own] ?? period.to] : told.filter(day => day !== null)),
  )
  const days = trendDays({ from: period.from, to: Math.max(period.from, until) }, first)
  const { whole, below } = trendOf(e, path, days, length)
  const { rows, totals, networks } = judgeOnce(e, period)
  const row =
    path.length === 0
      ? totals
      : path.length === 1
        ? networks.find(one => one.network === path[0])
        : rows.find(one => planKey(one.path) === planKey(path))
  return {
    currency: e.data.settings.currency,
    days: { from: formatDay(days.from), to: formatDay(days.to) },
    standsOn: standsOn(e, path[0] ? { network: path[0] } : {}, days),
    line: row?.line ?? null,
    breakEvenRoas: row ? breakEvenRoasOf(row) : null,
    whole,
    below,
  }
}
export type TrendView = ReturnType<typeof trendView>
