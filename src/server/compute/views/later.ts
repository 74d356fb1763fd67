import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { orderWorth } from '@/core/intake/orderWorth'
import { countsAsOrder } from '@/core/intake/records'
import { type LaterWorth, laterWorth } from '@/core/signals/laterWorth'
import type { Evidence } from '@/core/weigh/evidence'
import { gatheredOf } from '../evidenceOf'

/** What those of whom a result came about bought later, within some days; null where no such days are over. */
export function laterWorthView(e: Evidence, { days }: { days: number }): LaterWorth | null {
  const { settings } = e.data
  const orders = gatheredOf(e).records.orders.filter(
    row => row.result === JUDGED_RESULT && countsAsOrder(row.status) && row.currency === settings.currency,
  )
  return laterWorth(
    e.data.orders.filter(one => one.counts).map(one => ({ visitor: one.visitor_id, at: one.ordered_at })),
    orders.map(row => ({
      visitor: row.visitor_id,
      customer: row.customer_id,
      at: row.ordered_at,
      worth: orderWorth(row, settings.order_value),
    })),
    days,
    orders.reduce((latest, row) => Math.max(latest, row.ordered_at), 0),
  )
}
