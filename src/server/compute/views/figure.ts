import { countOf } from '@/core/intake/claimUnits'
import { nameOf } from '@/core/intake/tree'
import { formatDay } from '@/core/shared/days'
import { claimedOrders, type Evidence, gradeOf } from '@/core/weigh/evidence'
import type { Judgement } from '@/core/weigh/judge'
import type { Days } from '@/core/weigh/leafSums'
import { type OpenedFigure, openFigure, type SeenClicks } from '@/core/weigh/openFigure'
import { FIGURE_ROWS, type Figure, openingOf } from '@/core/weigh/openings'
import { fatesOnce, type Question } from './judged'
import { orderLine } from './order'

/** A figure as it opens: itself, and pages of the lists in which it can be followed, the latest first. */
export function figureView(
  e: Evidence,
  {
    period,
    scope,
    figure,
    skip = 0,
    days = 'all',
  }: Question & { figure: Figure; skip?: number; days?: Days },
  seen: readonly SeenClicks[] = [],
) {
  const { data } = e
  const opened = openFigure(e, figure, scope, period, seen, days)
  const claimed = claimedOrders(e)
  const fates = fatesOnce(e, period)
  const { lists, over, under } = openingOf(figure)
  const amountOf = (part: Figure) => openFigure(e, part, scope, period, seen, days)
  const page = <T>(rows: readonly T[]) => [...rows].reverse().slice(skip, skip + FIGURE_ROWS)
  return {
    currency: e.data.settings.currency,
    figure,
    lists,
    amount: opened.amount,
    worth: opened.worth,
    /** of a ratio, what stands over what */
    parts:
      over && under
        ? { over: partOf(figure, over, amountOf(over)), under: partOf(figure, under, amountOf(under)) }
        : null,
    orderCount: opened.orders.length,
    orderParts: opened.orders.reduce((sum, one) => sum + one.part, 0),
    orderAdded: opened.orders.reduce((sum, one) => sum + one.added, 0),
    claimCount: opened.claims.reduce((sum, c) => sum + countOf(data.claims[c]!), 0),
    claimValue: opened.claims.reduce((s, c) => s + data.claims[c]!.value, 0),
    days: opened.days.map(day => ({ ...day, day: formatDay(day.day) })).reverse(),
    orders: page(opened.orders).map(({ order, part, added }) => ({
      ...orderLine(e, order, gradeOf(e, order, claimed)),
      part,
      added,
      fate: fates.orders[order] ?? null,
    })),
    claims: page(opened.claims).map(c => claimLine(e, c, fates.claims[c] ?? null)),
  }
}
export type FigureView = ReturnType<typeof figureView>

/** What stands over or under a ratio: of ROAS what the orders are worth. */
const partOf = (of: Figure, part: Figure, opened: OpenedFigure) =>
  of === 'roas' && part === 'estimated'
    ? { figure: part, amount: opened.worth, worth: true }
    : { figure: part, amount: opened.amount, worth: false }

function claimLine(e: Evidence, c: number, fate: Judgement['fates']['claims'][number]) {
  const { data, placements, matches } = e
  const claim = data.claims[c]!
  const leaf = data.tree.leaves[claim.leaf]!
  const { order: o, by } = matches[c]!
  const order = data.orders[o]
  return {
    at: claim.at,
    day: formatDay(claim.day),
    network: leaf.network,
    ad: nameOf(data.tree, leaf.network, 'ad', leaf.ad),
    kind: claim.kind,
    value: claim.value,
    fate,
    matchedBy: by,
    order: order
      ? {
          id: order.order_id,
          status: order.status,
          left: order.left,
          credits: placements[o]!.credits.length,
        }
      : null,
    transaction: claim.transaction,
  }
}
