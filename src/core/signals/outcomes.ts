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

type Counting = Pick<
  ResultDefinition,
  'id' | 'currency' | 'value' | 'minimum' | 'count' | 'networks' | 'campaigns'
>

/** Whether each order counts for what it is worth, whatever others there are: orders have IDs of their own. */
export const countsEach = ({ value, minimum, count, networks, campaigns }: Counting): boolean =>
  value.by === 'event' && !minimum && count === 'every' && networks.length + campaigns.length === 0

/** An order as an outcome, before it is held against others. */
export function orderOutcome<Order extends ShopOrder>(
  order: Order,
  beside: ToldResult | null,
  currency: string,
  { settings, convert, dayOf }: OutcomeFacts,
): Outcome<Order> {
  const worth = orderWorth(order, settings.order_value)
  const value = convert(worth, order.currency, currency, dayOf(order.ordered_at))
  return {
    id: order.order_id,
    at: order.ordered_at,
    click: order.click_id ?? beside?.click_id ?? null,
    visitor: order.visitor_id ?? beside?.visitor_id ?? null,
    transaction: order.order_id,
    value,
    order,
    told: beside,
    worth: null,
    left: countsAsOrder(order.status) ? null : 'does_not_count',
  }
}

/** The same where each counts by itself. */
export function orderByItself<Order extends ShopOrder>(
  ...[order, beside, currency, facts]: Parameters<typeof orderOutcome<Order>>
): Outcome<Order> {
  const outcome = orderOutcome(order, beside, currency, facts)
  if (outcome.left === null) {
    outcome.worth = outcome.value
    if (outcome.worth === null) outcome.left = 'no_value'
  }
  return outcome
}

/** What rules told, by the transaction that they told it of. */
export const byTransaction = (told: readonly ToldResult[], result: string): Map<string | null, ToldResult> =>
  new Map(told.filter(event => event.name === result).map(event => [event.transaction_id, event]))

/**
 * Everything that may have been one result, whoever told it: the shop's orders, partners' sales (which are
 * orders by then) and what rules of the tag told; each with what it is worth, or why it does not count. Where
 * the shop and a rule tell of one transaction the shop's word holds, and the rule adds who it was.
 */
export function outcomesOf<Order extends ShopOrder>(
  definition: Counting,
  orders: readonly Order[],
  events: readonly ToldResult[],
  facts: OutcomeFacts,
): Outcome<Order>[] {
  const { id: result, currency } = definition
  const toldOf = byTransaction(events, result)
  const own = orders.filter(order => order.result === result)
  const outcomeOf = countsEach(definition) ? orderByItself : orderOutcome
  const outcomes = own.map(order => outcomeOf(order, toldOf.get(order.order_id) ?? null, currency, facts))
  const told = toldOutcomes<Order>(definition, events, facts)
  return countsEach(definition)
    ? [...outcomes, ...settled(definition, told, facts)]
    : settled(definition, [...outcomes, ...told], facts)
}

/** What rules alone told, held against each other, where each order counts by itself. */
export const toldAlone = (
  definition: Counting,
  events: readonly ToldResult[],
  facts: OutcomeFacts,
): Outcome<never>[] => settled(definition, toldOutcomes<never>(definition, events, facts), facts)

/** What rules told, before it is held against others. */
function toldOutcomes<Order>(
  { id: result, currency }: Counting,
  events: readonly ToldResult[],
  { convert, dayOf, statusOf }: OutcomeFacts,
): Outcome<Order>[] {
  const outcomes: Outcome<Order>[] = []
  for (const event of events) {
    if (event.name !== result) continue
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
  return outcomes
}

/** The same, each with what it counts for beside the others. */
function settled<Order>(
  definition: Counting,
  outcomes: Outcome<Order>[],
  { clickOf }: OutcomeFacts,
): Outcome<Order>[] {
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
