import { type Minor, minor } from '../shared/money'
import type { Settings } from './settings'

/**
 * What an order is worth to the business: refunds off, and with `net` tax and shipping too, never below
 * nothing. Minor units of the order's own currency.
 *
 * @example
 * orderWorth({ total: 12300, tax: 2300, shipping: 500, refunded: 1000 }, 'net') // 8500
 */
export function orderWorth(
  { total, tax, shipping, refunded }: Record<'total' | 'tax' | 'shipping' | 'refunded', number>,
  rule: Settings['order_value'],
): Minor {
  const costs = rule === 'net' ? tax + shipping : 0
  return minor(Math.max(0, total - costs - refunded))
}
