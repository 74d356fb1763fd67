import { append } from '../shared/append'
import { carriedOver } from '../shared/carriedOver'
import { type Day, type Period, zoneClock } from '../shared/days'
import { currencyExponent, type Minor, minor, NOTHING, parseAmount } from '../shared/money'
import { pathKey, perPath } from '../shared/path'
import { converter, dayConverter, type Rate } from '../shared/rates'
import {
  countsEach,
  type Outcome,
  type OutcomeFacts,
  orderByItself,
  outcomesOf,
  type Signs,
  signOf,
  signsOf,
  type ToldResult,
  tellsSince,
  toldAlone,
  toldByShop,
} from '../signals/outcomes'
import { type LeftOut, measuredDays, type ResultDefinition, worthDoubt, worthOf } from '../signals/result'
import type { Claim } from './claim'
import { type ClaimSum, claimUnits } from './claimUnits'
import type { ClickColumns } from './clicks'
import { type DecidableClaim, type Decided, withDecisions } from './decisions'
import { JUDGED_RESULT } from './judgedResult'
import { namedLeafFinder, type PlansKnown } from './orderParameters'
import { leavesBy, orderWorth } from './orderWorth'
import type { ClaimSumRow, DeliveryRow, FileKind, OrderRow, OrderStatus } from './records'
import { isOtherConversion } from './reports/conversions'
import { networkRules, type Settings, settingsFor } from './settings'
import { readStretch } from './stretch'
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
  /** what of that is left for its ad and for profit, in parts of minor units (`leavesBy`) */
  leaves: number
  /** the leaf that its own parameters name, -1 for none */
  named: number
}

export interface Delivery {
  day: Day
  leaf: number
  spend: Minor
  /** whether its part of an ad's spend was worked out by clicks, since no report says it */
  assumed?: boolean
  impressions: number
  clicks: number
  /** people reached that day; null where the network does not say */
  reach: number | null
  /** what the network says of the ad, in its own word; null where it says nothing */
  status: string | null
  /** the row that it stands in, by which a report may split an ad's day */
  split: Pick<DeliveryRow, 'keyword' | 'match_type' | 'placement' | 'source' | 'device'>
}

/** A stretch of days of which a network's reports gave one sum. */
export interface NetworkStretch extends Period {
  network: string
}

/** Files whose rows hold amounts. */
type PricedKind = Exclude<FileKind, 'clicks' | 'rates'>

/** Everything a judgement stands on, in the workspace's currency and zone. */
export interface Dataset {
  /** by which the judged result is counted */
  settings: Settings
  /** the judged result, and how far what it is worth may be off: variance of its logarithm */
  result: string
  worthDoubt: number
  /** within how many days what one later buys is already in its worth, where that was measured; null where not */
  measuredDays: number | null
  /** of all results together: how each is counted, and how far its worth may be off */
  countedBy?: ReadonlyMap<string, Pick<Dataset, 'settings' | 'worthDoubt'>>
  tree: AdTree
  clicks: Clicks
  orders: Order[]
  claims: Claim[]
  delivery: Delivery[]
  /** longer stretches of which reports gave one sum, which is laid evenly over their days */
  stretches: NetworkStretch[]
  /** currencies that records are in after the last day of which a rate is known: that one is used for some days more */
  assumedRates: { currency: string; after: Day }[]
  /** rows left out for want of a rate, by their place in the records given */
  setAside: { file: PricedKind; row: number; reason: 'no_rate'; currency: string }[]
  /** results other than the judged one, with how often each was told of */
  otherResults: Map<string, number>
  /** signs of orders that the shop did not send: what browsers alone told of a result of which the shop tells */
  unconfirmed: ToldResult[]
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
  /** what parameters mean at each network, now and before; by the settings' keys alone where nobody has said it */
  links?: PlansKnown
}

const NO_PLANS: PlansKnown = { profiles: [], plans: [], formerNames: {} }

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

/** A dataset with what the next one may take over from it. */
export interface Built {
  data: Dataset
  frame: Frame
  counted: Counted
}

/**
 * Brings records into one currency, one zone and columns.
 *
 * @param given the records with what was decided of them; of several rows of one order the last holds
 * @param general the settings of the workspace; a result's own rules hold over them
 * @param result the ID of the result that is judged; records of others are left out and counted
 */
export function buildDataset(given: Records, general: Settings, result = JUDGED_RESULT): Dataset {
  const last = new Map(given.orders.map((row, i) => [row.order_id, i]))
  const orders =
    last.size === given.orders.length
      ? given.orders
      : given.orders.filter((row, i) => last.get(row.order_id) === i)
  const { data } = buildUpon(null, { ...given, orders }, general, result)
  for (const row of data.setAside) if (row.file === 'orders') row.row = last.get(orders[row.row]!.order_id)!
  return data
}

/**
 * As `buildDataset`; what the same records (the very same) made before is taken over.
 *
 * @param given with each order once, in order of time where there is something before
 */
export function buildUpon(before: Built | null, given: Records, general: Settings, result: string): Built {
  const records = withDecisions(given, given.decisions ?? [])
  const told = records.told ?? []
  const otherResults = new Map<string, number>()
  for (const { result: of } of records.orders)
    if (of !== result) otherResults.set(of, (otherResults.get(of) ?? 0) + 1)
  for (const { name } of told) if (name !== result) otherResults.set(name, (otherResults.get(name) ?? 0) + 1)

  const inputs = frameInputs(records, general, result, otherResults)
  const kept = before && sameInputs(before.frame.inputs, inputs) ? before : null
  const frame = kept?.frame ?? buildFrame(records, general, result, inputs, [...otherResults.keys()])
  const { settings, tree, convert, localTime } = frame

  const sameClicks = kept && kept.data.clicks.ids === records.clicks.ids
  const clicks = sameClicks
    ? kept.data.clicks
    : { ...records.clicks, leaf: records.clicks.ad.map(ad => frame.leafOfAd[ad]!) }
  let statuses: Map<string, OrderStatus> | undefined
  const ofShop = toldByShop(records.orders)
  const shopSince = ofShop.get(result) ?? Number.POSITIVE_INFINITY
  const counted = countUpon(kept?.counted ?? null, records.orders, told, frame, shopSince, {
    settings,
    convert,
    dayOf: at => localTime(at).day,
    clickOf: id => {
      const click = clicks.numberOf.get(id)
      if (click === undefined) return null
      const { network, campaign } = clicks.ads[clicks.ad[click]!]!
      return { network, campaign, at: clicks.at[click]! }
    },
    statusOf: id => {
      statuses ??= new Map(records.orders.map(row => [row.order_id, row.status]))
      return statuses.get(id)
    },
    shopTells: tellsSince(ofShop),
  })
  const found: Order[] = []
  const setAside = [...frame.setAside]
  counted.made.forEach((one, row) => {
    if (one?.order) found.push(one.order)
    else if (one)
      setAside.push({ file: 'orders', row, reason: 'no_rate', currency: records.orders[row]!.currency })
  })
  for (const { order } of counted.alone) if (order) found.push(order)
  if (kept && !growsAlike(frame, found)) return buildUpon(null, given, general, result)
  frame.seal()
  const orders = inTime(found)
  const { claims, delivery } = frame
  const data = {
    settings,
    result,
    worthDoubt: worthDoubt(frame.definition.value),
    measuredDays: measuredDays(frame.definition.value),
    tree,
    clicks,
    orders,
    claims,
    delivery,
    stretches: frame.stretches,
    assumedRates: assumedRates(records, orders, settings.currency),
    setAside,
    otherResults,
    unconfirmed: counted.unconfirmed,
  }
  return { data, frame, counted }
}

/**
 * Whether orders would give a tree the parts that they gave it before: the first order that names a part of a
 * campaign gives it a place, behind those of the frame.
 */
function growsAlike({ tree, ownLeaves }: Frame, orders: readonly Order[]): boolean {
  let next = ownLeaves
  for (const { named } of orders) {
    if (named === NO_PLACE_YET || named > next) return false
    if (named === next) next += 1
  }
  return next === tree.leaves.length
}

/** By time, which they mostly are in already. */
function inTime(orders: Order[]): Order[] {
  const late = orders.some((order, i) => i > 0 && orders[i - 1]!.ordered_at > order.ordered_at)
  return late ? orders.sort((a, b) => a.ordered_at - b.ordered_at) : orders
}

/** Everything of a dataset that stands whatever orders and clicks come: ads, spend, claims. */
export interface Frame {
  inputs: readonly unknown[]
  settings: Settings
  definition: CountedBy
  tree: AdTree
  /** how many leaves it has of its own, without the parts that orders name */
  ownLeaves: number
  /** the leaf of each ad that clicks name */
  leafOfAd: readonly number[]
  delivery: Delivery[]
  claims: Claim[]
  stretches: NetworkStretch[]
  setAside: Dataset['setAside']
  convert: ReturnType<typeof converter>
  localTime: ReturnType<typeof zoneClock>
  namedLeaf: ReturnType<typeof namedLeafFinder>
  leavesOf: ReturnType<typeof leavesBy>
  /** from here on the tree stays as it is */
  seal: () => void
}
/** The number of a leaf that is not in a sealed tree. */
const NO_PLACE_YET = -2

/** What a frame is made of: with the very same, it is the same. */
const frameInputs = (
  records: Records,
  settings: Settings,
  result: string,
  others: ReadonlyMap<string, number>,
): readonly unknown[] => [
  settings,
  result,
  records.delivery,
  records.claims,
  records.claimRows,
  records.rates,
  records.slots,
  records.definitions,
  records.names,
  records.links,
  records.clicks.ads,
  [...others.keys()].sort().join(),
]
const sameInputs = (a: readonly unknown[], b: readonly unknown[]) => a.every((input, i) => input === b[i])

function buildFrame(
  records: Records,
  general: Settings,
  result: string,
  inputs: readonly unknown[],
  others: readonly string[],
): Frame {
  const definition: CountedBy =
    records.definitions?.find(d => d.id === result) ?? plainDefinition(result, general)
  const settings = settingsFor(general, definition)
  const builder = treeBuilder()
  const { tree, network, leaf, see } = builder
  const convert = converter(records.rates)
  const ofDay = dayConverter(convert)
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
    const spend = ofDay(`spend ${row.network}`, row.spend, row.currency, settings.currency, row.date)
    if (spend === null) noRate('delivery', i, row.currency)
    else
      delivery.push({
        day: row.date,
        leaf: at,
        spend,
        impressions: row.impressions,
        clicks: row.clicks,
        reach: row.reach ?? null,
        status: row.status,
        split: row,
      })
  }

  for (const { network: of, level, id, name } of records.names ?? []) see(of, level, id, name)
  const leafOfAd = records.clicks.ads.map(a => leaf(a.network, a.campaign, a.adSet, a.ad))

  const claims: Claim[] = []
  const clockOf = new Map<string, ReturnType<typeof zoneClock>>()
  const networkClock = (id: string) => {
    let clock = clockOf.get(id)
    if (!clock) clockOf.set(id, (clock = zoneClock(networkRules(settings, id).time_zone)))
    return clock
  }
  const judged = claimedAs(records, others, result)
  const claimValue = (
    file: PricedKind,
    index: number,
    text: string | null,
    currency: string | null,
    day: Day,
    of: string,
  ) => {
    const from = currency ?? settings.currency
    const amount =
      text === null
        ? NOTHING
        : (parseAmount(text, from) ?? minor(Math.round(Number(text) * 10 ** (currencyExponent(from) ?? 2))))
    const value = ofDay(`claims ${of}`, amount, from, settings.currency, day)
    if (value === null) noRate(file, index, from)
    return value
  }
  const withRows = new Set(records.claimRows.map(c => c.network))
  records.claimRows.forEach((row, i) => {
    if (!judged(row.network, row.conversion, row.transaction_id === null ? '' : 'named')) return
    const day = row.date ?? networkClock(row.network)(row.claimed_at).day
    const value = claimValue('claim-rows', i, row.value, row.currency, day, row.network)
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
  const sums = records.claims.flatMap((row, i): ClaimSum[] => {
    if (!judged(row.network, row.conversion, '') || withRows.has(row.network)) return []
    const value = claimValue('claims', i, row.value, row.currency, row.date, row.network)
    if (value === null) return []
    const at = leaf(row.network, row.campaign_id, row.ad_set_id, row.ad_id)
    return [{ row, value, network: network(row.network), leaf: at }]
  })
  for (const one of claimUnits(sums)) claims.push(one)
  let sealed = false
  const placeOf: typeof leaf = (...path) =>
    sealed ? (builder.known(...path) ?? NO_PLACE_YET) : leaf(...path)
  return {
    inputs,
    settings,
    definition,
    tree,
    ownLeaves: tree.leaves.length,
    leafOfAd,
    delivery,
    claims,
    stretches: stretchesOf(records),
    setAside,
    convert,
    localTime,
    namedLeaf: namedLeafFinder({ tree, leaf: placeOf }, settings, records.links ?? NO_PLANS),
    leavesOf: leavesBy(settings),
    seal: () => {
      sealed = true
    },
  }
}

/** Currencies of which records go on after their last rate. */
function assumedRates(
  { rates, delivery, claims }: Records,
  orders: readonly Order[],
  own: string,
): Dataset['assumedRates'] {
  const last = new Map<string, Day>()
  const see = (currency: string | null, day: Day) => {
    if (currency !== null && currency !== own) last.set(currency, Math.max(last.get(currency) ?? day, day))
  }
  for (const row of [...delivery, ...claims]) see(row.currency, row.date)
  for (const order of orders) see(order.currency, order.day)
  return [...last].flatMap(([currency, day]) => {
    const known = rates.flatMap(rate =>
      [rate.base, rate.quote].sort().join() === [currency, own].sort().join() ? rate.day : [],
    )
    const after = known.reduce((latest, one) => Math.max(latest, one), Number.NEGATIVE_INFINITY)
    return Number.isFinite(after) && day > after ? [{ currency, after }] : []
  })
}

/** The stretches that rows are parts of, each once. */
function stretchesOf({ delivery, claims }: Pick<Records, 'delivery' | 'claims'>): NetworkStretch[] {
  const found = new Map<string, NetworkStretch>()
  for (const { network, stretch } of [...delivery, ...claims]) {
    const key = stretch ? pathKey(network, stretch) : ''
    if (!key || found.has(key)) continue
    const span = readStretch(stretch)
    if (span) found.set(key, { network, ...span })
  }
  return [...found.values()].sort((a, b) => a.from - b.from || a.to - b.to)
}

/** An outcome with the order that it makes; null without a rate for its currency. */
interface Made {
  outcome: Outcome<OrderRow>
  order: Order | null
}

/** The orders of a result, with what they were made from. */
export interface Counted {
  rows: readonly OrderRow[]
  told: readonly ToldResult[]
  signs: Signs
  /** since when the shop tells of it, epoch ms */
  shopSince: number
  /** per row; null for those of other results */
  made: (Made | null)[]
  /** what rules alone told */
  alone: Made[]
  unconfirmed: ToldResult[]
}

/** The outcomes of a result as orders; rows that stand as they stood, and by themselves, are not looked at again. */
function countUpon(
  before: Counted | null,
  rows: readonly OrderRow[],
  told: readonly ToldResult[],
  { definition, ...frame }: Pick<Frame, 'definition' | 'namedLeaf' | 'leavesOf'>,
  shopSince: number,
  facts: OutcomeFacts & { settings: Settings },
): Counted {
  const sameTold = before?.told === told
  const signs = sameTold ? before.signs : signsOf(told, definition.id)
  const over = before && carriedOver(before.rows, rows, row => row.ordered_at)
  const wasMade = (row: number) => (over && over.from[row]! >= 0 ? before!.made[over.from[row]!] : undefined)
  const makeOf = (outcome: Outcome<OrderRow>, was?: Made | null): Made =>
    was && sameOutcome(was.outcome, outcome)
      ? was
      : { outcome, order: orderOf(outcome, definition, facts, frame) }

  if (!countsEach(definition)) {
    const outcomes = outcomesOf(definition, rows, told, facts)
    let next = 0
    const made = rows.map((row, i) =>
      row.result === definition.id ? makeOf(outcomes[next++]!, wasMade(i)) : null,
    )
    return { rows, told, signs, shopSince, made, ...aloneOf(outcomes.slice(next)) }
  }
  const made = rows.map((row, i) => {
    const was = wasMade(i)
    if (was !== undefined && sameTold) return was
    if (row.result !== definition.id) return null
    const beside = signOf(row, signs)
    if (was?.outcome.told === beside) return was
    return makeOf(orderByItself(row, beside, definition.currency, facts), was)
  })
  const touched =
    !over ||
    !sameTold ||
    shopSince !== before!.shopSince ||
    [...over.came.map(i => rows[i]!), ...over.gone.map(j => before.rows[j]!)].some(row =>
      signs.has(row.order_id),
    )
  const { alone, unconfirmed } = touched ? aloneOf(toldAlone(definition, told, facts)) : before!
  return { rows, told, signs, shopSince, made, alone, unconfirmed }

  /** Of what rules told that which is an outcome of its own, and what waits for the shop's word. */
  function aloneOf(outcomes: readonly Outcome<OrderRow>[]): Pick<Counted, 'alone' | 'unconfirmed'> {
    return {
      alone: outcomes.filter(({ left }) => !left || !ofTheShop.has(left)).map(one => makeOf(one)),
      unconfirmed: outcomes.flatMap(({ left, told }) => (left === 'unconfirmed' && told ? [told] : [])),
    }
  }
}
/** Why what a rule told is no outcome of its own: it is an order that the shop tells of, or is to tell of. */
const ofTheShop: ReadonlySet<LeftOut> = new Set(['same_transaction', 'does_not_count', 'unconfirmed'])

/** The order that an outcome is; null without a rate for its currency. */
function orderOf(
  outcome: Outcome<OrderRow>,
  definition: CountedBy,
  { convert, dayOf, settings }: OutcomeFacts & { settings: Settings },
  { namedLeaf, leavesOf }: Pick<Frame, 'namedLeaf' | 'leavesOf'>,
): Order | null {
  const row = outcome.order ?? toldOrder(outcome.told!, definition)
  const day = dayOf(outcome.at)
  const own = (amount: Minor, from: string) => convert(amount, from, settings.currency, day)
  const gross = own(row.total, row.currency)
  const value =
    definition.value.by === 'event'
      ? own(orderWorth(row, settings.order_value), row.currency)
      : own(worthOf(definition.value, outcome.value) ?? NOTHING, definition.currency)
  if (value === null || gross === null) return null
  // Each is made alike, which a million of them feel.
  return {
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
    product_group: row.product_group,
    result: row.result,
    day,
    counts: outcome.left === null,
    left: outcome.left,
    told: outcome.order === null,
    gross,
    value,
    leaves: leavesOf(value, row.product_group),
    named: namedLeaf(row),
  }
}

/** Whether two outcomes of the same row make the same order. */
const sameOutcome = (a: Outcome<OrderRow>, b: Outcome<OrderRow>): boolean =>
  a.at === b.at && a.value === b.value && a.left === b.left && a.visitor === b.visitor && a.click === b.click

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
    product_group: null,
    result: id,
  }
}

/**
 * Whether a network's conversion is the judged result: what it calls a result where that was said, else the
 * result of that ID; what nobody knows is an order, but where a network counts orders, calls it otherwise and names
 * no transaction.
 */
function claimedAs(
  { slots = [], definitions = [], claims, claimRows }: Records,
  others: readonly string[],
  result: string,
): (network: string, conversion: string, named: 'named' | '') => boolean {
  const said = new Map<string, string[]>()
  for (const { network, slot, result: meant } of slots) append(said, pathKey(network, slot), meant)
  const known = new Set([result, ...others, ...definitions.map(d => d.id)])
  const countsOrders = new Set<string>()
  // A report calls its few conversions the same a hundred thousand times.
  const see = perPath((network, conversion) => {
    const isKnown = said.has(pathKey(network!, conversion!)) || known.has(conversion!)
    if (!isKnown && !isOtherConversion(conversion!)) countsOrders.add(network!)
    if (isKnown && meansResult(network!, conversion!, JUDGED_RESULT)) countsOrders.add(network!)
    return true
  })
  const meansResult = (network: string, conversion: string, meant: string) =>
    said.get(pathKey(network, conversion))?.includes(meant) ?? conversion === meant
  for (const { network, conversion } of claims) see(network, conversion)
  for (const { network, conversion } of claimRows) see(network, conversion)
  return perPath((network, conversion, named) => {
    if (said.has(pathKey(network!, conversion!)) || known.has(conversion!))
      return meansResult(network!, conversion!, result)
    if (result !== JUDGED_RESULT) return false
    return Boolean(named) || !(countsOrders.has(network!) && isOtherConversion(conversion!))
  })
}
