import type { Dataset, Order } from '../intake/dataset'
import { append } from '../shared/append'
import type { Day } from '../shared/days'
import type { Cell } from './witnesses'

/** What of an order a network may report as its value, the most usual first. */
const bases: ((order: Order) => number)[] = [
  order => order.total,
  order => order.total - order.shipping,
  order => order.total - order.tax,
  order => order.total - order.tax - order.shipping,
]
/** Another basis is believed if so many times as many lines of one claim are worth just what an order is. */
const BELIEVED = 1.5

/**
 * What each order is worth on the basis on which a network reports: that of which most lines of one claim are worth
 * just what some order of these days is.
 *
 * @param reach days after a line's day on which its orders may be
 * @returns per order, in minor units of the workspace's currency
 */
export function worthAsReported({ orders }: Dataset, cells: readonly Cell[], reach: number): Float64Array {
  const single = cells.filter(cell => cell.clicks === 1 && cell.views === 0 && cell.value > 0)
  const onBasis = bases.map(basis =>
    Float64Array.from(orders, order =>
      order.total > 0 ? Math.round((order.gross * basis(order)) / order.total) : order.gross,
    ),
  )
  const hits = onBasis.map(worth => {
    const onDay = new Map<Day, number[]>()
    orders.forEach((order, o) => append(onDay, order.day, worth[o]!))
    return single.filter(({ day, value }) => {
      for (let late = 0; late <= reach; late++) if (onDay.get(day + late)?.includes(value)) return true
      return false
    }).length
  })
  const best = hits.indexOf(Math.max(...hits))
  return onBasis[hits[best]! > BELIEVED * hits[0]! ? best : 0]!
}
