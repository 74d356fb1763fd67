import { type Day, zoneClock } from '../shared/days'
import { currencyExponent, type Minor, minor, NOTHING, parseAmount } from '../shared/money'
import { converter, type Rate } from '../shared/rates'
import type { ClickColumns } from './clicks'
import { namedLeafFinder } from './orderParameters'
import { orderWorth } from './orderWorth'
import {
  type ClaimRow,
  type ClaimSumRow,
  countsAsOrder,
  type DeliveryRow,
  type FileKind,
  type OrderRow,
} from './records'
import { JUDGED_RESULT, networkRules, type Settings } from './settings'
import { type AdTree, type Level, treeBuilder } from './tree'

/** Ad clicks in columns, each with its place in the tree. */
export interface Clicks extends ClickColumns {
  /** leaf numbers */
  leaf: Int32Array
}

export interface Order extends OrderRow {
  day: Day
  counts: boolean
  /** its total as booked, in the workspace's currency */
  gross: Minor
  /** what it is worth by the settings, in the workspace's currency */
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
  settings: Settings
  tree: AdTree
  clicks: Clicks
  orders: Order[]
  claims: Claim[]
  delivery: Delivery[]
  /** rows left out for want of a rate, by their place in the records given */
  setAside: { file: PricedKind; row: number; reason: 'no_rate'; currency: string }[]
  /** results other than the judged one, with how many orders each has */
  otherResults: Map<string, number>
}

export interface Records {
  delivery: DeliveryRow[]
  clicks: ClickColumns
  orders: OrderRow[]
  claims: ClaimSumRow[]
  claimRows: ClaimRow[]
  rates: Rate[]
  /** names that ads, ad sets and campaigns were given beside the reports; they hold over those of reports */
  names?: { network: string; level: Level; id: string; name: string }[]
}

/**
 * Brings records into one currency, one zone and columns.
 *
 * @param result the result that is judged; orders and claims of others are left out and counted
 */
export function buildDataset(records: Records, settings: Settings, result = JUDGED_RESULT): Dataset {
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
  const orders: Order[] = []
  const latest = new Map(records.orders.map((row, i) => [row.order_id, i]))
  records.orders.forEach((row, i) => {
    if (latest.get(row.order_id) !== i) return
    if (row.result !== result) {
      otherResults.set(row.result, (otherResults.get(row.result) ?? 0) + 1)
      return
    }
    const day = localTime(row.ordered_at).day
    const value = toOwn(orderWorth(row, settings.order_value), row.currency, settings.currency, day)
    const gross = toOwn(row.total, row.currency, settings.currency, day)
    if (value === null || gross === null) noRate('orders', i, row.currency)
    else orders.push({ ...row, day, counts: countsAsOrder(row.status), gross, value, named: -1 })
  })
  orders.sort((a, b) => a.ordered_at - b.ordered_at)

  const claims: Claim[] = []
  const clockOf = new Map<string, ReturnType<typeof zoneClock>>()
  const networkClock = (id: string) => {
    let clock = clockOf.get(id)
    if (!clock) clockOf.set(id, (clock = zoneClock(networkRules(settings, id).time_zone)))
    return clock
  }
  const judged = (conversion: string) => !otherResults.has(conversion)
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
    if (!judged(row.conversion)) return
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
      value,
      valued: row.value !== null,
    })
  })
  records.claims.forEach((row, i) => {
    if (!judged(row.conversion) || withRows.has(row.network)) return
    const value = claimValue('claims', i, row.value, row.currency, row.date)
    if (value === null) return
    claims.push(...unitsOf(row, value, network(row.network), leaf(row.network, '', '', row.ad_id)))
  })
  const namedLeaf = namedLeafFinder(builder, settings)
  for (const order of orders) order.named = namedLeaf(order)
  return { settings, tree, clicks, orders, claims, delivery, setAside, otherResults }
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
    value: minor(each + (k < rest ? 1 : 0)),
    valued: row.value !== null,
  }))
}
