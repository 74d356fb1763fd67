import { append } from '../shared/append'
import { type Day, zoneClock } from '../shared/days'
import { currencyExponent, type Minor, minor, NOTHING, parseAmount } from '../shared/money'
import { pathKey } from '../shared/path'
import { converter, type Rate } from '../shared/rates'
import { type OutcomeFacts, outcomesOf, type ToldResult } from '../signals/outcomes'
import { type LeftOut, type ResultDefinition, worthOf } from '../signals/result'
import type { ClickColumns } from './clicks'
import { type DecidableClaim, type Decided, withDecisions } from './decisions'
import { namedLeafFinder } from './orderParameters'
import { orderWorth } from './orderWorth'
import type { ClaimSumRow, DeliveryRow, FileKind, OrderRow } from './records'
import { JUDGED_RESULT, networkRules, type Settings, settingsFor } from './settings'
import { type AdTree, type Level, treeBuilder } from './tree'

/** Ad clicks in columns, each with its place in the tree. */
export interface Clicks extends ClickColumns {
  /** leaf numbers */
  leaf: Int32Array
}

/** One time that the judged result came about: an order of the shop, a partner's sale, or what a rule told. */
export interface Order extends OrderRow {
  day: Day
  counts: boolean
  /** why it does not count; null where it does */
  left: LeftOut | null
  /** whether a rule of the tag alone tells of it, and no order of the shop */
  told: boolean
  /** its total as booked, in the workspace's currency */
  gross: Minor
  /** what it is worth as its result is counted, in the workspace's currency */
  value: Minor
  /** the leaf that its own parameters name, -1 for none */
  named: number
}

/** One claim, or one unit of a network's daily sum; amounts in the workspace's currency. */
export interface Claim {
  day: Day
  /** epoch ms; null where only a day is known */
  at: number | null
  network: number
  leaf: number
  conversion: string
  kind: 'click' | 'view'
  transaction: string | null
  clickId: string | null
  /** what was decided by hand of it: the order's ID, or null for none of ours */
  decided: { order: string | null } | null
  /** by what it is decided upon; null where it cannot be */
  key: string | null
  value: Minor
  /** whether the network said a value at all */
  valued: boolean
}

export interface Delivery {
  day: Day
  leaf: number
  spend: Minor
  impressions: number
  clicks: number
}

/** Files whose rows hold amounts. */
type PricedKind = Exclude<FileKind, 'clicks' | 'rates'>

/** Everything a judgement stands on, in the workspace's currency and zone. */
export interface Dataset {
  /** by which the judged result is counted */
  settings: Settings
  /** the judged result */
  result: string
  tree: AdTree
  clicks: Clicks
  orders: Order[]
  claims: Claim[]
  delivery: Delivery[]
  /** rows left out for want of a rate, by their place in the records given */
  setAside: { file: PricedKind; row: number; reason: 'no_rate'; currency: string }[]
  /** results other than the judged one, with how often each was told of */
  otherResults: Map<string, number>
}

export interface Records {
  delivery: DeliveryRow[]
  clicks: ClickColumns
  orders: OrderRow[]
  claims: ClaimSumRow[]

  claimRows: DecidableClaim[]
  rates: Rate[]
  /** what rules of the tag told */
  told?: ToldResult[]
  /** what networks call results, where somebody has said it */
  slots?: { network: string; slot: string; result: string }[]
  /** what was settled by hand */
  decisions?: Decided[]
  /** the results that are known, each with how it counts */
  definitions?: ResultDefinition[]
  /** names that ads, ad sets and campaigns were given beside the reports; they hold over those of reports */
  names?: { network: string; level: Level; id: string; name: string }[]
}

/** How a result counts that nobody has defined: each time, at what it says itself. */
const plainDefinition = (id: string, { currency }: Settings): CountedBy => ({
  id,
  currency,
  value: { by: 'event' },
  count: 'every',
  networks: [],
  campaigns: [],
})
type CountedBy = Parameters<typeof outcomesOf>[0] & Parameters<typeof settingsFor>[1]

/**
 * Brings records into one currency, one zone and columns.
 *
 * @param given the records with what was decided of them
 * @param general the settings of the workspace; a result's own rules hold over them
 * @param result the ID of the result that is judged; records of others are left out and counted
 */
export function buildDataset(given: Records, general: Settings, result = JUDGED_RESULT): Dataset {
  const records = withDecisions(given, given.decisions ?? [])
  const definition: CountedBy =
    records.definitions?.find(d => d.id === result) ?? plainDefinition(result, general)
  const settings = settingsFor(general, definition)
  const builder = treeBuilder()
  const { tree, network, leaf, see } = builder
  const toOwn = converter(records.rates)
  const localTime = zoneClock(settings.time_zone)
  const setAside: Dataset['setAside'] = []
  const noRate = (file: PricedKind, row: number, currency: string) =>
    setAside.push({ file, row, reason: 'no_rate', currency })

  const delivery: Delivery[] = []
  const inTime = [...records.delivery.keys()].sort(
    (a, b) => records.delivery[a]!.date - records.delivery[b]!.date,
  )
  for (const i of inTime) {
    const row = records.delivery[i]!
    const at = leaf(row.network, row.campaign_id, row.ad_set_id ?? '', row.ad_id ?? '')
    see(row.network, 'campaign', row.campaign_id, row.campaign_name)
    see(row.network, 'ad_set', row.ad_set_id ?? '', row.ad_set_name)
    see(row.network, 'ad', row.ad_id ?? '', row.ad_name)
    const spend = toOwn(row.spend, row.currency, settings.currency, row.date)
    if (spend === null) noRate('delivery', i, row.currency)
    else delivery.push({ day: row.date, leaf: at, spend, impressions: row.impressions, clicks: row.clicks })
  }

  for (const { network: of, level, id, name } of records.names ?? []) see(of, level, id, name)

  const leafOfAd = records.clicks.ads.map(a => leaf(a.network, a.campaign, a.adSet, a.ad))
  const clicks: Clicks = { ...records.clicks, leaf: records.clicks.ad.map(ad => leafOfAd[ad]!) }

  const otherResults = new Map<string, number>()
  const latest = new Map(records.orders.map((row, i) => [row.order_id, i]))
  const current = records.orders.filter((row, i) => latest.get(row.order_id) === i)
  for (const { result: of } of current)
    if (of !== result) otherResults.set(of, (otherResults.get(of) ?? 0) + 1)
  for (const { name } of records.told ?? [])
    if (name !== result) otherResults.set(name, (otherResults.get(name) ?? 0) + 1)
  const { orders, withoutRate } = countedOrders(current, records.told ?? [], definition, {
    settings,
    convert: toOwn,
    dayOf: at => localTime(at).day,
    clickOf: id => {
      const click = clicks.numberOf.get(id)
      if (click === undefined) return null
      const { network, campaign } = clicks.ads[clicks.ad[click]!]!
      return { network, campaign, at: clicks.at[click]! }
    },
    statusOf: id => {
      const row = latest.get(id)
      return row === undefined ? undefined : records.orders[row]!.status
    },
  })
  for (const { order_id, currency } of withoutRate) noRate('orders', latest.get(order_id)!, currency)

  const claims: Claim[] = []
  const clockOf = new Map<string, ReturnType<typeof zoneClock>>()
  const networkClock = (id: string) => {
    let clock = clockOf.get(id)
    if (!clock) clockOf.set(id, (clock = zoneClock(networkRules(settings, id).time_zone)))
    return clock
  }
  const judged = claimedAs(records, otherResults, result)
  const claimValue = (
    file: PricedKind,
    index: number,
    text: string | null,
    currency: string | null,
    day: Day,
  ) => {
    const from = currency ?? settings.currency
    const amount =
      text === null
        ? NOTHING
        : (parseAmount(text, from) ?? minor(Math.round(Number(text) * 10 ** (currencyExponent(from) ?? 2))))
    const value = toOwn(amount, from, settings.currency, day)
    if (value === null) noRate(file, index, from)
    return value
  }
  const withRows = new Set(records.claimRows.map(c => c.network))
  records.claimRows.forEach((row, i) => {
    if (!judged(row.network, row.conversion)) return
    const day = row.date ?? networkClock(row.network)(row.claimed_at).day
    const value = claimValue('claim-rows', i, row.value, row.currency, day)
    if (value === null) return
    claims.push({
      day,
      at: row.claimed_at,
      network: network(row.network),
      leaf: leaf(row.network, '', '', row.ad_id),
      conversion: row.conversion,
      kind: row.kind,
      transaction: row.transaction_id,
      clickId: row.click_id,
      decided: row.decided ?? null,
      key: row.claim_key ?? null,
      value,
      valued: row.value !== null,
    })
  })
  records.claims.forEach((row, i) => {
    if (!judged(row.network, row.conversion) || withRows.has(row.network)) return
    const value = claimValue('claims', i, row.value, row.currency, row.date)
    if (value === null) return
    claims.push(...unitsOf(row, value, network(row.network), leaf(row.network, '', '', row.ad_id)))
  })
  const namedLeaf = namedLeafFinder(builder, settings)
  for (const order of orders) order.named = namedLeaf(order)
  return { settings, result, tree, clicks, orders, claims, delivery, setAside, otherResults }
}

/** The outcomes of a result as orders in order of time; what the same transaction told before is none of its own. */
function countedOrders(
  rows: readonly OrderRow[],
  told: readonly ToldResult[],
  definition: CountedBy,
  facts: OutcomeFacts & { settings: Settings },
): { orders: Order[]; withoutRate: OrderRow[] } {
  const { convert, dayOf, settings } = facts
  const orders: Order[] = []
  const withoutRate: OrderRow[] = []
  for (const outcome of outcomesOf(definition, rows, told, facts)) {
    if (outcome.order === null && (outcome.left === 'same_transaction' || outcome.left === 'does_not_count'))
      continue
    const row = outcome.order ?? toldOrder(outcome.told!, definition)
    const day = dayOf(outcome.at)
    const own = (amount: Minor, from: string) => convert(amount, from, settings.currency, day)
    const gross = own(row.total, row.currency)
    const value =
      definition.value.by === 'event'
        ? own(orderWorth(row, settings.order_value), row.currency)
        : own(worthOf(definition.value, outcome.value) ?? NOTHING, definition.currency)
    if (value === null || gross === null) withoutRate.push(row)
    // Each is made alike, which a million of them feel.
    else
      orders.push({
        order_id: row.order_id,
        ordered_at: row.ordered_at,
        status: row.status,
        currency: row.currency,
        total: row.total,
        tax: row.tax,
        shipping: row.shipping,
        refunded: row.refunded,
        customer_id: row.customer_id,
        visitor_id: outcome.visitor,
        click_id: outcome.click,
        landing_url: row.landing_url,
        utm_source: row.utm_source,
        utm_medium: row.utm_medium,
        utm_campaign: row.utm_campaign,
        utm_term: row.utm_term,
        utm_content: row.utm_content,
        channel: row.channel,
        result: row.result,
        day,
        counts: outcome.left === null,
        left: outcome.left,
        told: outcome.order === null,
        gross,
        value,
        named: -1,
      })
  }
  return { orders: orders.sort((a, b) => a.ordered_at - b.ordered_at), withoutRate }
}

/** What a rule told, in the form of an order; its transaction is its ID, as networks are told it. */
function toldOrder(event: ToldResult, { id, currency }: CountedBy): OrderRow {
  const from = event.currency ?? currency
  return {
    order_id: event.transaction_id ?? event.event_id,
    ordered_at: event.at,
    status: 'paid',
    currency: from,
    total: (event.value === null ? null : parseAmount(event.value, from)) ?? NOTHING,
    tax: NOTHING,
    shipping: NOTHING,
    refunded: NOTHING,
    customer_id: null,
    visitor_id: event.visitor_id,
    click_id: event.click_id,
    landing_url: null,
    utm_source: null,
    utm_medium: null,
    utm_campaign: null,
    utm_term: null,
    utm_content: null,
    channel: null,
    result: id,
  }
}

/**
 * Whether a network's conversion is the judged result: what it calls a result where that was said, else the
 * result of that ID; what nobody knows is an order.
 */
function claimedAs(
  { slots = [], definitions = [] }: Records,
  others: ReadonlyMap<string, number>,
  result: string,
): (network: string, conversion: string) => boolean {
  const said = new Map<string, string[]>()
  for (const { network, slot, result: meant } of slots) append(said, pathKey(network, slot), meant)
  const known = new Set([result, ...others.keys(), ...definitions.map(d => d.id)])
  return (network, conversion) => {
    const meant = said.get(pathKey(network, conversion))
    return meant ? meant.includes(result) : (known.has(conversion) ? conversion : JUDGED_RESULT) === result
  }
}

/** A day's sum as single claims: the value spread over them to the last cent. */
function unitsOf(row: ClaimSumRow, value: Minor, network: number, leaf: number): Claim[] {
  const units = row.click_through + row.view_through
  const each = units > 0 ? Math.floor(value / units) : 0
  const rest = value - each * units
  return Array.from({ length: units }, (_, k) => ({
    day: row.date,
    at: null,
    network,
    leaf,
    conversion: row.conversion,
    kind: k < row.click_through ? ('click' as const) : ('view' as const),
    transaction: null,
    clickId: null,
    decided: null,
    key: null,
    value: minor(each + (k < rest ? 1 : 0)),
    valued: row.value !== null,
  }))
}
