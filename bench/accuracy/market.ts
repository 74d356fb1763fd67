import { clickColumns } from '@/core/intake/clicks'
import type { Records } from '@/core/intake/dataset'
import type { ClaimRow, ClaimSumRow, ClickRow, DeliveryRow, OrderRow } from '@/core/intake/records'
import { type Settings, settingsSchema } from '@/core/intake/settings'
import { layClaims, layDelivery } from '@/core/intake/stretch'
import { DAY_MS, HOUR_MS, parseDay, weekdayOf } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import { type RandomStream, randomStream } from '@/practice/market/random'

/**
 * A second world, made apart from the demo's: a mail-order bookbinder with four networks, other prices, delays,
 * losses and levels. Nothing of the estimate was set by it.
 */
export interface MarketPlan {
  seed: number
  days: number
  /** multiplies clicks and all orders */
  volume: number
  /** ads of each network */
  ads: number
  prices: 'varied' | 'few' | 'one'
  /** multiplies how often a shopper leaves no trace on our side */
  optOuts: number
  /** how each network reports: its claims one by one, or sums by day and ad */
  reports: 'rows' | 'sums' | 'both'
  /** orders a day that never went through the site */
  offline: number
  /** whether orders say by which channel they came */
  channels: boolean
  /** share of shoppers who block our tracking and the networks' alike */
  blocking: number
  /** what a click costs on the whole, in cents */
  clickCost: number
  /** day from which the first network claims a little more than half of what it did; null for never */
  drop: number | null
  /** networks that report no conversions */
  silent: readonly string[]
  /** day from which reports hold conversions of the first network, those before only its spend; null for all */
  claimsFrom: number | null
  /** a shop's export alone beside the networks' reports: orders with the parameters of their click, no clicks, no visitors */
  exportAlone: boolean
  /** what sums speak of: ads, campaigns, or ads among which a network credits each conversion in parts */
  sumsBy: 'ad' | 'campaign' | 'parts'
  /** what networks report by the week: nothing, what they billed, or conversions too */
  weekly: 'nothing' | 'spend' | 'both'
  /**
   * the share of its usual budget that an ad has on a day, counted from the first; more clicks bring results by a
   * power of that. Days on which nobody has changed anything are the same whatever comes after them
   */
  serving?: (network: string, ad: string, day: number) => number
}
/** With more money results rise by this power of it. */
const ELASTICITY = 0.8

export const usualPlan: MarketPlan = {
  seed: 1,
  days: 75,
  volume: 1,
  ads: 13,
  prices: 'varied',
  optOuts: 1,
  reports: 'rows',
  offline: 0,
  channels: false,
  blocking: 0,
  clickCost: 55,
  drop: null,
  silent: [],
  claimsFrom: null,
  exportAlone: false,
  sumsBy: 'ad',
  weekly: 'nothing',
}

interface Network {
  id: string
  clicks: number
  rate: number
  claims: { phone: number; desktop: number }
  window: number
  datedBy: 'click' | 'conversion'
  views: number
  phones: number
}
const networks: Network[] = [
  {
    id: 'aldermoor',
    clicks: 420,
    rate: 0.026,
    claims: { phone: 0.74, desktop: 0.83 },
    window: 7,
    datedBy: 'conversion',
    views: 2.5,
    phones: 0.8,
  },
  {
    id: 'pellow',
    clicks: 260,
    rate: 0.036,
    claims: { phone: 0.85, desktop: 0.88 },
    window: 30,
    datedBy: 'click',
    views: 0,
    phones: 0.48,
  },
  {
    id: 'sedgewire',
    clicks: 190,
    rate: 0.022,
    claims: { phone: 0.62, desktop: 0.78 },
    window: 28,
    datedBy: 'conversion',
    views: 1.2,
    phones: 0.7,
  },
  {
    id: 'tollard',
    clicks: 120,
    rate: 0.03,
    claims: { phone: 0.7, desktop: 0.74 },
    window: 14,
    datedBy: 'click',
    views: 0,
    phones: 0.6,
  },
]

interface Ad {
  network: Network
  campaign: string
  adSet: string
  id: string
  clicks: number
  rate: number
  cost: number
  /** factor on what its shoppers spend */
  dear: number
}
interface Click {
  ad: Ad
  at: number
  id: string
}
interface Shopper {
  visitor: string
  phone: boolean
  /** factor on every chance of being seen by anybody */
  open: number
  blocks: boolean
  clicks: Click[]
}

/** What really happened, never read by the estimate. */
export interface Truth {
  /** per ad: counting orders, and what each cent of further spend brings at its real rate and worth, in cents */
  ads: { network: string; campaign: string; id: string; orders: number; worthRate: number }[]
  /** per counting order that an ad brought: its ad, whether anybody saw it, and how likely nobody would have */
  orders: {
    ad: string
    /** counted from the market's first */
    day: number
    /** cents */
    value: number
    seen: boolean
    unseen: number
    tracked: boolean
  }[]
  /** claims of the first network for each of its true orders in the week after its drop, as a chance */
  captureAfter: number | null
}

const LAST = parseDay('2026-10-31')!
const WINDOW = 30
export const MARGIN = 0.45
const LISTS = new Set(['pellow', 'sedgewire'])
const VARIED = Array.from({ length: 44 }, (_, i) => 900 + 375 * i + ((i * i * 37) % 100))
const FEW = [1900, 2900, 4500, 6900, 9900, 14_900]

/** Plays a market through and hands over its records as they would be read from files. */
export function playMarket(plan: MarketPlan): {
  records: Records
  settings: Settings
  truth: Truth
  /** the clicks of its records, one by one */
  clicks: ClickRow[]
} {
  const random = randomStream(plan.seed + 7000)
  const first = LAST - plan.days + 1
  const ads = makeAds(plan, random)
  const shoppers: Shopper[] = []
  const delivery: DeliveryRow[] = []
  const sales: { at: number; shopper: Shopper; from: Ad | null }[] = []
  const again: { sale: (typeof sales)[number]; own: RandomStream }[] = []
  const newShopper = (phones: number): Shopper => {
    const made = {
      visitor: `v${random.code(11)}`,
      phone: random.chance(phones),
      open: random.chance(0.07) ? 0.55 : 1,
      blocks: random.chance(plan.blocking),
      clicks: [],
    }
    shoppers.push(made)
    return made
  }
  for (let day = first; day <= LAST; day++) {
    const busy = [1.1, 1, 0.95, 0.95, 1.05, 0.9, 1.15][day % 7]!
    for (const ad of ads) {
      const budget = plan.serving?.(ad.network.id, ad.id, day - first) ?? 1
      const clicks = random.poisson(ad.clicks * plan.volume * busy * budget)
      const rate = budget > 0 ? ad.rate * budget ** (ELASTICITY - 1) : 0
      delivery.push(deliveryRow(ad, day, clicks, Math.round(clicks * ad.cost * random.factor(0.1))))
      for (let i = 0; i < clicks; i++) {
        const at = Math.floor(day * DAY_MS + random.between(6, 23.5) * HOUR_MS)
        const back = random.chance(0.13) && shoppers.length > 50
        const shopper = back
          ? shoppers[
              shoppers.length -
                1 -
                Math.floor(random.between(0, 1) ** 2 * Math.min(shoppers.length, 700 * plan.volume))
            ]!
          : newShopper(ad.network.phones)
        shopper.clicks.push({ ad, at, id: `k${at.toString(36)}${random.code(5)}` })
        if (!random.chance(rate)) continue
        const delay = random.chance(0.62)
          ? random.exponential(0.4 * HOUR_MS)
          : random.exponential(2.2 * DAY_MS)
        sales.push({ at: Math.floor(at + 90_000 + delay), shopper, from: ad })
      }
    }
    for (let i = random.poisson(13 * plan.volume); i > 0; i--)
      sales.push({
        at: Math.floor(day * DAY_MS + random.between(6, 23.5) * HOUR_MS),
        shopper: newShopper(0.62),
        from: null,
      })
  }
  // What is drawn for a sale is drawn for it alone where budgets change: what came before is then not touched.
  const ofSale = (at: number) => (plan.serving ? randomStream(plan.seed * 1009 + (at % 1e9)) : random)
  const once = [...sales]
  for (const sale of once) {
    const own = ofSale(sale.at)
    if (own.chance(0.05)) again.push({ sale, own })
  }
  for (const { sale, own } of again)
    sales.push({ ...sale, at: Math.floor(sale.at + own.between(8, 45) * DAY_MS) })
  const end = (LAST + 1) * DAY_MS
  const booked = sales.filter(sale => sale.at < end).sort((a, b) => a.at - b.at)
  const whole = random

  const orders: OrderRow[] = []
  const claimRows: (ClaimRow & { among?: readonly Ad[] })[] = []
  const truth: Truth = { ads: [], orders: [], captureAfter: null }
  const tally = new Map(ads.map(ad => [ad, { orders: 0 }]))
  const after: number[] = []
  booked.forEach((sale, i) => {
    const { shopper } = sale
    const random = plan.serving ? ofSale(sale.at + 1) : whole
    const day = Math.floor(sale.at / DAY_MS)
    const before = shopper.clicks.filter(c => c.at <= sale.at).sort((a, b) => a.at - b.at)
    const last = before.filter(c => sale.at < c.at + WINDOW * DAY_MS).at(-1)
    const order = orderOf(`B${50_000 + i}`, sale.at, shopper, last, sale.from?.dear ?? 1, plan, random)
    orders.push(order.row)
    let silent = order.lost
    let claimed = false
    for (const network of networks) {
      const own = before
        .filter(c => c.ad.network === network && sale.at < c.at + network.window * DAY_MS)
        .at(-1)
      if (!own) continue
      const dropped = network === networks[0] && plan.drop !== null && day >= first + plan.drop
      const usual = network.claims[shopper.phone ? 'phone' : 'desktop'] * shopper.open * (dropped ? 0.55 : 1)
      const chance = shopper.blocks || plan.silent.includes(network.id) ? 0 : usual
      if (
        network === networks[0] &&
        plan.drop !== null &&
        day >= first + plan.drop &&
        day < first + plan.drop + 7
      )
        if (last?.ad.network === network) after.push(usual)
      if (last?.ad.network === network) silent *= 1 - chance
      if (!random.chance(chance)) continue
      if (last?.ad.network === network) claimed = true
      const among = new Set(
        before.flatMap(c =>
          c.ad.network === network && sale.at < c.at + network.window * DAY_MS ? [c.ad] : [],
        ),
      )
      const row = { ...claimRow(own, sale.at, day, order.row, random), among: [...among] }
      claimRows.push(row)
      if (random.chance(0.015)) claimRows.push({ ...row, claimed_at: row.claimed_at + 60_000 })
    }
    const counts = order.row.status === 'paid' || order.row.status === 'partially_refunded'
    if (!last || !counts) return
    tally.get(last.ad)!.orders += 1
    truth.orders.push({
      ad: last.ad.id,
      day: day - first,
      value: order.row.total - order.row.refunded,
      seen: order.tracked || claimed,
      unseen: silent,
      tracked: order.tracked,
    })
  })
  for (let i = random.poisson(plan.offline * plan.days); i > 0; i--) {
    const at = Math.floor(first * DAY_MS + random.between(0, plan.days) * DAY_MS)
    const { row } = orderOf(`F${i}`, at, newShopper(0.5), undefined, 1, plan, random)
    orders.push({
      ...row,
      visitor_id: null,
      customer_id: `walk-in-${i}`,
      channel: plan.channels ? 'store' : null,
    })
  }
  addViews(ads, orders, claimRows, first, plan, random)
  truth.captureAfter = after.length > 0 ? after.reduce((a, b) => a + b, 0) / after.length : null
  const meanPrice = new Map<Ad, number>(ads.map(ad => [ad, meanTotal(plan, ad.dear)]))
  // Orders that come again, and those that go to a later click of another ad, make a network's rate what it is.
  const realised = new Map(
    networks.map(network => {
      const own = ads.filter(ad => ad.network === network)
      const clicksOf = (ad: Ad) =>
        delivery.filter(row => row.ad_id === ad.id).reduce((sum, row) => sum + row.clicks, 0)
      const meant = own.reduce((sum, ad) => sum + clicksOf(ad) * ad.rate, 0)
      return [network, own.reduce((sum, ad) => sum + tally.get(ad)!.orders, 0) / meant]
    }),
  )
  truth.ads = ads.map(ad => {
    const orderRate = (ad.rate * realised.get(ad.network)!) / ad.cost
    return {
      network: ad.network.id,
      campaign: ad.campaign,
      id: ad.id,
      orders: tally.get(ad)!.orders,
      worthRate: orderRate * meanPrice.get(ad)!,
    }
  })
  const clicks: ClickRow[] = shoppers
    .flatMap(shopper =>
      shopper.blocks ? [] : shopper.clicks.map(click => clickRow(click, shopper.visitor, shopper.phone)),
    )
    .sort((a, b) => a.clicked_at - b.clicked_at)
  if (plan.exportAlone) clicks.length = 0
  const { claimsFrom } = plan
  const reported =
    claimsFrom === null
      ? claimRows
      : claimRows.filter(row => row.network !== networks[0]!.id || row.date! >= first + claimsFrom)
  const listed = (id: string) => plan.reports === 'rows' || (plan.reports === 'both' && LISTS.has(id))
  return {
    records: {
      delivery: plan.weekly === 'nothing' ? delivery : weeksOf(delivery),
      clicks: clickColumns(clicks),
      orders: orders.sort((a, b) => a.ordered_at - b.ordered_at),
      claimRows: reported.filter(row => listed(row.network)),
      claims: sumsOf(
        reported.filter(row => !listed(row.network)),
        ads,
        plan,
      ),
      rates: [],
    },
    settings: settingsSchema.parse({
      currency: 'EUR',
      time_zone: 'UTC',
      click_window_days: WINDOW,
      margin: MARGIN,
      networks: networks.map(n => ({
        id: n.id,
        click_window_days: n.window,
        view_window_days: n.views > 0 ? 1 : 0,
        dated_by: n.datedBy,
      })),
    }),
    truth,
    clicks,
  }
}

function makeAds(plan: MarketPlan, random: RandomStream): Ad[] {
  return networks.flatMap(network => {
    const shares = Array.from({ length: plan.ads }, () => random.factor(0.7))
    const whole = shares.reduce((a, b) => a + b, 0)
    const campaigns = Array.from({ length: Math.max(2, Math.round(plan.ads / 5)) }, () => ({
      rate: random.factor(0.25),
      dear: random.factor(0.35),
    }))
    return shares.map((share, i) => {
      const c = i % campaigns.length
      const { rate, dear } = campaigns[c]!
      return {
        network,
        campaign: `${network.id}-c${c}`,
        adSet: `${network.id}-s${i % (campaigns.length * 2)}`,
        id: `${network.id}-a${i}`,
        clicks: (network.clicks * share) / whole,
        rate: network.rate * rate * random.factor(0.28),
        cost: plan.clickCost * dear * random.factor(0.35),
        dear,
      }
    })
  })
}

function total(plan: MarketPlan, dear: number, random: RandomStream): number {
  if (plan.prices === 'one') return 4900
  const prices = plan.prices === 'few' ? FEW : VARIED
  const middle = Math.min(
    prices.length - 1,
    Math.max(0, Math.round((prices.length - 1) * (0.3 + 0.25 * Math.log(dear)))),
  )
  const one = () =>
    prices[
      Math.min(
        prices.length - 1,
        Math.max(
          0,
          Math.round(middle + (random.between(-1, 1) + random.between(-1, 1)) * prices.length * 0.22),
        ),
      )
    ]!
  let sum = one()
  if (random.chance(0.22)) sum += one()
  return sum + (sum < 6000 ? 395 : 0)
}
/** The mean total of a campaign's orders, by many draws. */
function meanTotal(plan: MarketPlan, dear: number): number {
  const random = randomStream(99)
  let sum = 0
  for (let i = 0; i < 2000; i++) sum += total(plan, dear, random)
  return sum / 2000
}

const nothing = minor(0)
function deliveryRow(ad: Ad, date: number, clicks: number, spend: number): DeliveryRow {
  return {
    date,
    network: ad.network.id,
    campaign_id: ad.campaign,
    campaign_name: null,
    ad_set_id: ad.adSet,
    ad_set_name: null,
    ad_id: ad.id,
    ad_name: null,
    currency: 'EUR',
    spend: minor(spend),
    impressions: clicks * 70,
    clicks,
    status: null,
    daily_budget: null,
    reach: null,
    keyword: null,
    match_type: null,
    placement: null,
    source: null,
    device: null,
  }
}

const clickRow = ({ ad, at, id }: Click, visitor: string, phone: boolean): ClickRow => ({
  click_id: id,
  clicked_at: at,
  network: ad.network.id,
  campaign_id: ad.campaign,
  ad_set_id: ad.adSet,
  ad_id: ad.id,
  visitor_id: visitor,
  network_click_id: null,
  landing_url: null,
  device: phone ? 'phone' : 'desktop',
  placement: null,
  keyword: null,
  match_type: null,
  source: null,
  country: null,
})

function orderOf(
  id: string,
  at: number,
  shopper: Shopper,
  last: Click | undefined,
  dear: number,
  plan: MarketPlan,
  random: RandomStream,
) {
  const draw = random.between(0, 1)
  const status =
    draw < 0.02 ? 'cancelled' : draw < 0.043 ? 'refunded' : draw < 0.06 ? 'partially_refunded' : 'paid'
  const loss = Math.min(0.95, (shopper.phone ? 0.31 : 0.19) * plan.optOuts)
  const lost = shopper.blocks ? 1 : 1 - (1 - loss) * (shopper.open < 1 ? 0.75 : 1)
  // Of those who leave no visitor, some still carry the parameters of their ad.
  const identified = !random.chance(lost)
  const kept = !identified && !shopper.blocks && last !== undefined && random.chance(0.12)
  const parameters = kept || (plan.exportAlone && identified && last !== undefined)
  const row: OrderRow = {
    order_id: id,
    ordered_at: at,
    status,
    currency: 'EUR',
    total: minor(total(plan, dear, random)),
    tax: nothing,
    shipping: nothing,
    refunded: nothing,
    customer_id: `c-${shopper.visitor}`,
    visitor_id: identified && !plan.exportAlone ? shopper.visitor : null,
    click_id: identified && !plan.exportAlone && last && random.chance(0.85) ? last.id : null,
    landing_url: null,
    utm_source: parameters ? last.ad.network.id : null,
    utm_medium: null,
    utm_campaign: parameters ? last.ad.campaign : null,
    utm_term: parameters ? last.ad.adSet : null,
    utm_content: parameters ? last.ad.id : null,
    channel: plan.channels ? 'web' : null,
    product_group: null,
    result: 'order',
  }
  return {
    row,
    lost: shopper.blocks ? 1 : lost * 0.88,
    tracked: last !== undefined && (identified || kept),
  }
}

function claimRow(own: Click, at: number, day: number, order: OrderRow, random: RandomStream): ClaimRow {
  return {
    claimed_at: at + Math.floor(random.between(1, 200) * 1000),
    date: own.ad.network.datedBy === 'click' ? Math.floor(own.at / DAY_MS) : day,
    network: own.ad.network.id,
    ad_id: own.ad.id,
    conversion: 'purchase',
    kind: 'click',
    transaction_id: random.chance(0.92) ? order.order_id : null,
    click_id: random.chance(0.3) ? own.id : null,
    value: (order.total / 100).toFixed(2),
    currency: 'EUR',
  }
}

function addViews(
  ads: readonly Ad[],
  orders: readonly OrderRow[],
  claimRows: ClaimRow[],
  first: number,
  plan: MarketPlan,
  random: RandomStream,
): void {
  const onDay = new Map<number, OrderRow[]>()
  for (const order of orders) {
    const day = Math.floor(order.ordered_at / DAY_MS)
    onDay.set(day, [...(onDay.get(day) ?? []), order])
  }
  for (const network of networks) {
    if (plan.silent.includes(network.id)) continue
    const own = ads.filter(ad => ad.network === network)
    for (let day = first; day <= LAST; day++)
      for (let i = random.poisson(network.views * plan.volume); i > 0; i--) {
        const booked = onDay.get(day)
        if (!booked) continue
        const order = random.pick(booked)
        const click = { ad: random.pick(own), at: order.ordered_at, id: 'view' }
        claimRows.push({
          ...claimRow(click, order.ordered_at, day, order, random),
          kind: 'view',
          click_id: null,
        })
      }
  }
}

function sumsOf(
  rows: readonly (ClaimRow & { among?: readonly Ad[] })[],
  ads: readonly Ad[],
  { sumsBy, weekly }: MarketPlan,
): ClaimSumRow[] {
  const campaignOf = new Map(ads.map(ad => [ad.id, ad.campaign]))
  const sums = new Map<string, ClaimSumRow & { cents: number }>()
  for (const { date, network, ad_id, kind, value, among } of rows) {
    const credited = sumsBy === 'parts' && among ? among.map(ad => ad.id) : [ad_id]
    for (const id of credited) {
      const campaign = sumsBy === 'campaign' ? campaignOf.get(id)! : ''
      const ad = campaign ? '' : id
      const first = weekly === 'both' ? mondayOf(date!) : date!
      const key = `${first}/${network}/${campaign}/${ad}`
      const sum = sums.get(key) ?? {
        date: first,
        date_to: weekly === 'both' ? first + 6 : null,
        network,
        campaign_id: campaign,
        ad_set_id: '',
        ad_id: ad,
        conversion: 'purchase',
        click_through: 0,
        view_through: 0,
        value: null,
        currency: 'EUR',
        cents: 0,
      }
      sum[kind === 'click' ? 'click_through' : 'view_through'] += 1 / credited.length
      sum.cents += (Number(value) * 100) / credited.length
      sums.set(key, sum)
    }
  }
  const parts = (count: number) => Math.round(count * 100) / 100
  return [...sums.values()].flatMap(({ cents, ...row }) =>
    layClaims({
      ...row,
      click_through: parts(row.click_through),
      view_through: parts(row.view_through),
      value: (Math.round(cents) / 100).toFixed(2),
    }),
  )
}

const mondayOf = (day: number) => day - (weekdayOf(day) - 1)

/** What was billed by day as a report by the week has it, read as such a report is. */
function weeksOf(delivery: readonly DeliveryRow[]): DeliveryRow[] {
  const weeks = new Map<string, DeliveryRow>()
  for (const row of delivery) {
    const date = mondayOf(row.date)
    const key = `${date}/${row.ad_id}`
    const sum = weeks.get(key)
    // The first and the last week are cut where the market begins and ends.
    const to = Math.min(LAST, date + 6)
    if (!sum) {
      weeks.set(key, { ...row, date_to: to })
      continue
    }
    sum.spend = minor(sum.spend + row.spend)
    sum.impressions += row.impressions
    sum.clicks += row.clicks
  }
  return [...weeks.values()].flatMap(layDelivery)
}
