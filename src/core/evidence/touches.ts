import type { Dataset } from '../intake/dataset'
import { DAY_MS } from '../shared/days'
import { type Placement, WHOLE } from './place'
import { inWindow } from './window'

/** One ad click that has to do with an order, and how we know. */
export interface Touch {
  /** click number */
  click: number
  by: 'click_id' | 'visitor_id' | 'customer' | 'network_click_id'
  /** whether it came in the window before the order, too early, or only after it */
  when: 'counts' | 'too_old' | 'after'
  /** its share of the order's credit, 0–1 */
  share: number
}

/**
 * Every ad click of whoever placed an order, in order of time: by the order's click ID, its visitor, the
 * same customer's other visitors, or the network's own click ID on the order. Clicks that count for
 * nothing are among them, each with why.
 *
 * @param o number of the order in the dataset
 */
export function touchesOfOrder(data: Dataset, o: number, placement: Placement): Touch[] {
  const { clicks, orders, settings } = data
  const order = orders[o]!
  const own = order.click_id === null ? undefined : clicks.numberOf.get(order.click_id)
  const here = new Set<number>()
  const customers = new Set<number>()
  const add = (set: Set<number>, visitor: number | undefined) =>
    visitor !== undefined && visitor >= 0 && set.add(visitor)
  const visitorOf = (id: string | null) => (id === null ? undefined : clicks.visitors.get(id))
  add(here, visitorOf(order.visitor_id))
  add(here, own === undefined ? undefined : clicks.visitor[own])
  if (order.customer_id !== null)
    for (const other of orders)
      if (other.customer_id === order.customer_id) {
        const click = other.click_id === null ? undefined : clicks.numberOf.get(other.click_id)
        add(customers, visitorOf(other.visitor_id))
        add(customers, click === undefined ? undefined : clicks.visitor[click])
      }

  const byHow = new Map<number, Touch['by']>()
  for (let c = 0; c < clicks.count; c++) {
    const visitor = clicks.visitor[c]!
    if (here.has(visitor)) byHow.set(c, 'visitor_id')
    else if (customers.has(visitor)) byHow.set(c, 'customer')
  }
  if (placement.by === 'network_click_id') for (const c of placement.touches) byHow.set(c, 'network_click_id')
  if (own !== undefined) byHow.set(own, 'click_id')

  const windowMs = settings.click_window_days * DAY_MS
  const shares = new Map(placement.credits.map(credit => [credit.click, credit.share / WHOLE]))
  return (
    [...byHow]
      // Clicks are numbered in order of time.
      .sort(([a], [b]) => a - b)
      .map(([click, by]) => ({
        click,
        by,
        when:
          clicks.at[click]! > order.ordered_at
            ? 'after'
            : inWindow(clicks.at[click]!, order.ordered_at, windowMs)
              ? 'counts'
              : 'too_old',
        share: shares.get(click) ?? 0,
      }))
  )
}
