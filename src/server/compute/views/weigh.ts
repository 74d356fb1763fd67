import type { Period } from '@/core/shared/days'
import type { Evidence } from '@/core/weigh/evidence'
import { costOf, noSums } from '@/core/weigh/figures'
import { type Judgement, judgeByPart } from '@/core/weigh/judge'
import type { Scope } from '@/core/weigh/scope'
import { judgeOnce, type Question } from './judged'

const isIn = (scope: Scope) => (row: { network: string }) => !scope.network || row.network === scope.network

/** A network's totals; nothing for one of which nothing is known. */
const totalsOf = ({ networks, totals }: Judgement, network: string): Judgement['totals'] =>
  networks.find(row => row.network === network) ?? { ...totals, network, sums: noSums(), low: 0, high: 0 }

/**
 * Totals and campaigns for Weigh, or what a part of names or a segment holds (`by`); sums in minor units.
 *
 * @param parted the same evidence with its ads parted by that segment
 */
export function weighView(
  e: Evidence,
  { period, scope, by }: Question & { by?: string | undefined },
  parted: Evidence = e,
) {
  const judgement = judgeOnce(e, period)
  const keep = isIn(scope)
  return {
    currency: e.data.settings.currency,
    totals: scope.network ? totalsOf(judgement, scope.network) : judgement.totals,
    line: judgement.line,
    breakEvenRoas: judgement.breakEvenRoas,
    campaigns: judgement.rows.filter(row => row.level === 'campaign' && keep(row)),
    by: by ?? null,
    byPart: by === undefined ? null : judgeByPart(parted, period, by, scope.network ?? ''),
  }
}
export type WeighView = ReturnType<typeof weighView>

/** The ad sets and ads below, as JSON text: there may be ten thousand, and no page waits for them. */
export function weighBelowView(e: Evidence, { period, scope }: Question): string {
  const keep = isIn(scope)
  return JSON.stringify(judgeOnce(e, period).rows.filter(row => row.level !== 'campaign' && keep(row)))
}

/** Spend, estimated orders and the cost of one, of the named ads (`network/ad`). */
export function adFiguresView(e: Evidence, { period, ads }: { period: Period; ads: readonly string[] }) {
  const wanted = new Set(ads)
  return judgeOnce(e, period)
    .rows.filter(row => row.level === 'ad' && wanted.has(`${row.network}/${row.id}`))
    .map(({ network, id, sums }) => ({
      ad: `${network}/${id}`,
      spend: sums.spend,
      orders: sums.estimatedTenths / 10,
      cost: costOf(sums, sums.estimatedTenths / 10),
    }))
}
