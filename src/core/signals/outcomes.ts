import { orderWorth } from '../intake/orderWorth'
import { countsAsOrder, type OrderRow, type OrderStatus } from '../intake/records'
import type { Settings } from '../intake/settings'
import { append } from '../shared/append'
import { DAY_MS, type Day } from '../shared/days'
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
  /** whether the shop itself tells of a result at an instant: then a browser's word is the sign of an order, and books none */
  shopTells: (result: string, at: number) => boolean
}

/** A partner's sale is kept as an order: `PARTNER:DEAL`. */
export const isPartnerSale = ({ order_id, channel }: Pick<OrderRow, 'order_id' | 'channel'>): boolean =>
  channel === 'partner' && order_id.includes(':')

/** Since when the shop itself tells of each result, epoch ms: since its first order. */
export function toldByShop(
  orders: readonly Pick<OrderRow, 'order_id' | 'channel' | 'result' | 'ordered_at'>[],
): ReadonlyMap<string, number> {
  const since = new Map<string, number>()
  for (const order of orders) {
    if (isPartnerSale(order)) continue
    since.set(order.result, Math.min(since.get(order.result) ?? order.ordered_at, order.ordered_at))
  }
  return since
}
export const tellsSince =
  (since: ReadonlyMap<string, number>): OutcomeFacts['shopTells'] =>
  (result, at) =>
    at >= (since.get(result) ?? Number.POSITIVE_INFINITY)

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

/** The browsers' signs of each transaction of a result. */
export type Signs = ReadonlyMap<string, readonly ToldResult[]>
export function signsOf(told: readonly ToldResult[], result: string): Signs {
  const signs = new Map<string, ToldResult[]>()
  for (const event of told)
    if (event.name === result && event.transaction_id !== null) append(signs, event.transaction_id, event)
  return signs
}

/** Clocks may differ by this much; a thank-you page is otherwise seen after its order was made. */
const CLOCKS_APART_MS = 10_000
/** How long after its order a page may tell of it: as long as it may hold back what it could not send. */
const LATEST_SIGN_MS = 3 * DAY_MS

/**
 * The sign that ties an order to its click: told when the order was made, or of its very amount, for which a time may
 * be off (an order that is dated by its payment). Whoever names numbers of orders in advance knows neither. Of several
 * those of the amount come first, then the one that is nearest to the order.
 */
export function signOf(order: ShopOrder, signs: Signs): ToldResult | null {
  const all = signs.get(order.order_id)
  if (!all) return null
  let best: ToldResult | null = null
  let bestRank = Number.POSITIVE_INFINITY
  for (const sign of all) {
    const after = sign.at - order.ordered_at
    const agrees = agreesOn(order, sign)
    if (!agrees && (after < -CLOCKS_APART_MS || after > LATEST_SIGN_MS)) continue
    const rank = Math.abs(after) + (agrees ? 0 : Number.MAX_SAFE_INTEGER / 2)
    if (rank > bestRank || (rank === bestRank && best && best.event_id <= sign.event_id)) continue
    best = sign
    bestRank = rank
  }
  return best
}

/** Whether a browser told of an order's amount, with or without its tax and shipping. */
function agreesOn({ currency, total, tax, shipping }: ShopOrder, sign: ToldResult): boolean {
  if (sign.value === null || (sign.currency !== null && sign.currency !== currency)) return false
  const amount = parseAmount(sign.value, currency)
  return (
    amount !== null && amount > 0 && [0, tax, shipping, tax + shipping].some(less => amount === total - less)
  )
}

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
  const signs = signsOf(events, result)
  const own = orders.filter(order => order.result === result)
  const outcomeOf = countsEach(definition) ? orderByItself : orderOutcome
  const outcomes = own.map(order => outcomeOf(order, signOf(order, signs), currency, facts))
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
  { convert, dayOf, statusOf, shopTells }: OutcomeFacts,
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
      left:
        status === undefined
          ? shopTells(result, event.at)
            ? 'unconfirmed'
            : null
          : countsAsOrder(status)
            ? 'same_transaction'
            : 'does_not_count',
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
