import { currencyExponent, type Minor, minor } from '../shared/money'
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

/**
 * What an order leaves for its ad and for profit: its margin of what it is worth, less what each costs besides,
 * as its group of products has them, else as all have; what one of the group may cost, where that is said. Minor units of the workspace's currency, not whole ones:
 * it is only ever summed.
 */
export function leavesBy({
  margin,
  fee,
  currency,
  product_groups,
}: Pick<Settings, 'margin' | 'fee' | 'currency' | 'product_groups'>): (
  worth: number,
  group: string | null,
) => number {
  const units = 10 ** (currencyExponent(currency) ?? 2)
  const ofGroup = new Map(product_groups.map(one => [one.name, one]))
  return (worth, group) => {
    const own = group === null ? undefined : ofGroup.get(group)
    if (own?.target_cost !== undefined) return own.target_cost * units
    return (own?.margin ?? margin) * worth - Math.round((own?.fee ?? fee) * units)
  }
}
