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
  // Lines of one claim by day and value.
  const lines = new Map<Day, Map<number, number[]>>()
  cells.forEach(({ clicks, views, value, day: first, days }, i) => {
    if (clicks !== 1 || views !== 0 || value <= 0) return
    for (let day = first; day < first + days; day++) {
      const ofDay = lines.get(day) ?? new Map<number, number[]>()
      append(ofDay, value, i)
      lines.set(day, ofDay)
    }
  })
  const onBasis = bases.map(basis => {
    const worth = new Float64Array(orders.length)
    const hit = new Uint8Array(cells.length)
    for (let o = 0; o < orders.length; o++) {
      const order = orders[o]!
      const own = order.total > 0 ? Math.round((order.gross * basis(order)) / order.total) : order.gross
      worth[o] = own
      for (let late = 0; late <= reach; late++)
        for (const line of lines.get(order.day - late)?.get(own) ?? []) hit[line] = 1
    }
    return { worth, hits: hit.reduce((sum, one) => sum + one, 0) }
  })
  const most = Math.max(...onBasis.map(({ hits }) => hits))
  const usual = onBasis[0]!
  return (most > BELIEVED * usual.hits ? onBasis.find(({ hits }) => hits === most)! : usual).worth
}
