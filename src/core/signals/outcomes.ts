import { orderWorth } from '../intake/orderWorth'
import { countsAsOrder, type OrderRow, type OrderStatus } from '../intake/records'
import type { Settings } from '../intake/settings'
import type { Day } from '../shared/days'
import { type Minor, parseAmount } from '../shared/money'
import {
  type BringingClick,
  countResults,
  isFor,
  type LeftOut,
  type Occurrence,
  type ResultDefinition,
} from './result'

/** What a rule of the tag told. */
export interface ToldResult {
  event_id: string
  /** epoch ms */
  at: number
  /** the result's ID */
  name: string
  visitor_id: string | null
  click_id: string | null
  transaction_id: string | null
  /** a decimal */
  value: string | null
  currency: string | null
}

type ShopOrder = Pick<
  OrderRow,
  | 'order_id'
  | 'ordered_at'
  | 'status'
  | 'result'
  | 'currency'
  | 'total'
  | 'tax'
  | 'shipping'
  | 'refunded'
  | 'click_id'
  | 'visitor_id'
>

/** One result, or what may have been one, with who told it. */
export interface Outcome<Order> extends Occurrence {
  order: Order | null
  /** the rule's word: its own where there is no order, beside it where there is one */
  told: ToldResult | null
  /** minor units of the result's currency; null where it does not count */
  worth: Minor | null
  left: LeftOut | null
}

/** What outcomes are counted by. */
export interface OutcomeFacts {
  settings: Pick<Settings, 'order_value'>
  /** null where there is no rate */
  convert: (amount: Minor, from: string, to: string, day: Day) => Minor | null
  dayOf: (at: number) => Day
  /** the ad click behind a click ID, as far as it is known */
  clickOf: (clickId: string) => BringingClick | null
  /** what the shop says of a transaction, whatever result it is; undefined for one that it does not know */
  statusOf: (transaction: string) => OrderStatus | undefined
}

/** Whether each order counts for what it is worth, whatever others there are: orders have IDs of their own. */
const countsEach = ({
  value,
  minimum,
  count,
  networks,
  campaigns,
}: Pick<ResultDefinition, 'value' | 'minimum' | 'count' | 'networks' | 'campaigns'>): boolean =>
  value.by === 'event' && !minimum && count === 'every' && networks.length + campaigns.length === 0

function valuedByItself<Order>(outcome: Outcome<Order>): Outcome<Order> {
  if (outcome.left === null) {
    outcome.worth = outcome.value
    if (outcome.worth === null) outcome.left = 'no_value'
  }
  return outcome
}

/**
 * Everything that may have been one result, whoever told it: the shop's orders, partners' sales (which are
 * orders by then) and what rules of the tag told; each with what it is worth, or why it does not count. Where
 * the shop and a rule tell of one transaction the shop's word holds, and the rule adds who it was.
 */
export function outcomesOf<Order extends ShopOrder>(
  definition: Pick<
    ResultDefinition,
    'id' | 'currency' | 'value' | 'minimum' | 'count' | 'networks' | 'campaigns'
  >,
  orders: readonly Order[],
  events: readonly ToldResult[],
  { settings, convert, dayOf, clickOf, statusOf }: OutcomeFacts,
): Outcome<Order>[] {
  const { id: result, currency } = definition
  const told = events.filter(event => event.name === result)
  const plain = told.length === 0 && countsEach(definition)
  const toldOf = new Map(told.map(event => [event.transaction_id, event]))
  const outcomes: Outcome<Order>[] = []
  for (const order of orders) {
    if (order.result !== result) continue
    const beside = toldOf.get(order.order_id) ?? null
    const counts = countsAsOrder(order.status)
    outcomes.push({
      id: order.order_id,
      at: order.ordered_at,
      click: order.click_id ?? beside?.click_id ?? null,
      visitor: order.visitor_id ?? beside?.visitor_id ?? null,
      transaction: order.order_id,
      value: convert(
        orderWorth(order, settings.order_value),
        order.currency,
        currency,
        dayOf(order.ordered_at),
      ),
      order,
      told: beside,
      worth: null,
      left: counts ? null : 'does_not_count',
    })
  }
  if (plain) return outcomes.map(valuedByItself)
  for (const event of told) {
    const from = event.currency ?? currency
    const amount = event.value === null ? null : parseAmount(event.value, from)
    const status = event.transaction_id === null ? undefined : statusOf(event.transaction_id)
    outcomes.push({
      id: event.event_id,
      at: event.at,
      click: event.click_id,
      visitor: event.visitor_id,
      transaction: event.transaction_id,
      value: amount === null ? null : convert(amount, from, currency, dayOf(event.at)),
      order: null,
      told: event,
      worth: null,
      left: status === undefined ? null : countsAsOrder(status) ? 'same_transaction' : 'does_not_count',
    })
  }
  const meant = outcomes.filter(one => {
    if (one.left !== null) return false
    if (isFor(definition, one.click === null ? null : clickOf(one.click))) return true
    one.left = 'not_for_it'
    return false
  })
  const counted = countResults(definition, meant)
  for (const one of meant) {
    const outcome = counted.get(one.id)!
    if (typeof outcome === 'number') one.worth = outcome
    else one.left = outcome
  }
  return outcomes
}
