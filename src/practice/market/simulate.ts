import { append } from '@/core/shared/append'
import { DAY_MS, type Day, formatDay, HOUR_MS, startOfDay, zoneClock } from '@/core/shared/days'
import { formatAmount } from '@/core/shared/money'
import { type NetworkPlan, networkPlans, products } from './catalog'
import { type RandomStream, randomStream } from './random'

export const MARKET_ZONE = 'Europe/Lisbon'
const CURRENCY = 'EUR'
const WINDOW_DAYS = 30
const SHOP = 'https://tarnbrook.example'

export interface MarketOptions {
  seed: number
  /** length in days; the story's moments move with it */
  days: number
  /** multiplies clicks and organic orders */
  scale: number
  /** last day */
  end: Day
  /** how many copies of each campaign there are, for large tables */
  copies?: number
}

interface Ad {
  network: NetworkPlan
  campaign: { id: string; name: string }
  adSet: { id: string; name: string }
  id: string
  name: string
  clicks: number
  rate: number
  cost: number
  tires: boolean
  broken: boolean
}

interface Click {
  at: number
  ad: Ad
  shopper: Shopper
  id: string
  networkId: string
  placement: string
  keyword: string
  recorded: boolean
}

interface Shopper {
  id: string
  device: string
  /** blocks everybody alike: both witnesses miss more of these */
  wary: boolean
  clicks: Click[]
}

type Row = Record<string, string | number>
export interface Market {
  delivery: Row[]
  clicks: Row[]
  orders: Row[]
  claimRows: Row[]
  claims: Row[]
  settings: Record<string, unknown>
  /** what really happened; never read by the application */
  truth: {
    orders: {
      order_id: string
      counts: boolean
      network: string | null
      campaign_id: string | null
      ad_set_id: string | null
      ad_id: string | null
      placement: string | null
    }[]
    ads: { network: string; ad_id: string; orders: number }[]
  }
}

const KEYWORDS = [
  'table loom',
  'weaving kit',
  'beginner loom',
  'loom gift',
  'weaving yarn',
  'tarnbrook looms',
]

/** The ads of all networks, with the story's marked ones. */
function makeAds(random: RandomStream, copies: number): Ad[] {
  return networkPlans.flatMap(network => {
    let number = 100
    const nextId = (kind: string) => `${network.prefix}${kind}${number++}`
    return Array.from({ length: copies }, (_, copy) => copy).flatMap(copy =>
      network.campaigns.flatMap(plan => {
        const title = copy === 0 ? plan.name : `${plan.name} ${copy + 1}`
        const campaign = { id: nextId('c'), name: title }
        const shares = plan.adSets.map(set => set.ads.map(() => random.factor(0.5)))
        const sum = shares.flat().reduce((a, b) => a + b, 0)
        return plan.adSets.flatMap((set, s) => {
          const adSet = { id: nextId('s'), name: set.name }
          const overTheLine = set.name === 'Cold reach, wide'
          return set.ads.map(
            (name, a): Ad => ({
              network,
              campaign,
              adSet,
              id: nextId('a'),
              name,
              clicks: (plan.clicks * shares[s]![a]! * (overTheLine ? 0.35 : 1)) / sum,
              rate: plan.rate * random.factor(0.3) * (overTheLine ? 0.2 : 1),
              cost: plan.cost * random.factor(0.12) * (overTheLine ? 1.3 : 1),
              tires: plan.name === 'Loom stories',
              broken: name === 'Kitchen table loom',
            }),
          )
        })
      }),
    )
  })
}

/**
 * Plays a market through: ad clicks, shoppers and their devices, orders, what the shop and our tracking
 * saw of them, and what each network claims by its own rules. Its story is told in fractions of its
 * length: Norrfeed's capture falls at 0.56, "Loom stories" tires from the middle, a thank-you page is
 * reloaded for four days at 0.4 (claims repeat), one ad's link is broken for two days at 0.7.
 */
export const simulateMarket = (options: MarketOptions): Market => openMarket(options).market

/** How much of its budget each ad of a network has from a day on; 1 where nothing is said, 0 for one that is cut. */
export type Serving = (network: string, campaign: string, adSet: string, ad: string) => number
/** More money brings more clicks in proportion, and results of them by this power. */
const ELASTICITY = 0.8
const ALL_OF_IT: Serving = () => 1

/**
 * A market that was played through, and goes on by single days after its end: with the same ads and shoppers, its
 * story over, and budgets as they are by then. What a day brings is the same however often it is played.
 */
export function openMarket({ seed, days, scale, end, copies = 1 }: MarketOptions) {
  const random = randomStream(seed)
  const ads = makeAds(random, copies)
  const first = end - days + 1
  const clock = zoneClock(MARKET_ZONE)
  const moment = (share: number) => first + Math.floor(days * share)
  const story = { captureFalls: moment(0.56), tires: moment(0.5), reloads: moment(0.4), broken: moment(0.7) }
  const delivery: Row[] = []
  const clicks: Click[] = []
  const shoppers: Shopper[] = []
  const bought: { at: number; shopper: Shopper; customer: string }[] = []

  const newShopper = (random: RandomStream): Shopper => {
    const shopper = {
      id: `v${random.code(10)}`,
      device: random.weighted(devices).name,
      wary: random.chance(0.05),
      clicks: [],
    }
    shoppers.push(shopper)
    return shopper
  }
  const click = (ad: Ad, at: number, shopper: Shopper, random: RandomStream) => {
    const broken = ad.broken && clock(at).day >= story.broken && clock(at).day < story.broken + 2
    const made: Click = {
      at,
      ad,
      shopper,
      id: `c${at.toString(36)}${random.code(6)}`,
      networkId: `${ad.network.prefix}x${random.code(14)}`,
      placement: random.pick(ad.network.placements),
      keyword: ad.network.id === 'kelpie' ? random.pick(KEYWORDS) : '',
      recorded: !broken && !random.chance(0.01),
    }
    shopper.clicks.push(made)
    clicks.push(made)
  }

  const playDay = (day: Day, random: RandomStream, serving: Serving) => {
    const midnight = startOfDay(day, MARKET_ZONE)
    const season = 1 + 0.15 * Math.sin(((day - first) / 7) * 2 * Math.PI)
    for (const ad of ads) {
      const fatigue =
        ad.tires && day > story.tires ? Math.max(0.3, 1 - (day - story.tires) / (days * 0.5)) : 1
      const budget = serving(ad.network.id, ad.campaign.id, ad.adSet.id, ad.id)
      const served = random.poisson(ad.clicks * scale * season * budget)
      const rate = ad.rate * fatigue * (budget > 0 ? budget ** (ELASTICITY - 1) : 0)
      delivery.push(deliveryRow(ad, day, served, fatigue, random))
      for (let i = 0; i < served; i++) {
        const at = Math.floor(midnight + random.between(7, 23.9) * HOUR_MS)
        // Some shoppers come back by another ad: their orders are the ones that networks share.
        const known = random.chance(0.16)
          ? shoppers[
              shoppers.length - 1 - Math.floor(random.between(0, Math.min(shoppers.length, 400 * scale)))
            ]
          : undefined
        const shopper = known ?? newShopper(random)
        click(ad, at, shopper, random)
        if (!random.chance(rate)) continue
        const delay = random.chance(0.55) ? random.exponential(0.6 * HOUR_MS) : random.exponential(3 * DAY_MS)
        bought.push({ at: Math.floor(at + 60_000 + delay), shopper, customer: `u${shopper.id.slice(1)}` })
      }
    }
    for (let i = random.poisson(11 * scale); i > 0; i--) {
      const shopper = newShopper(random)
      bought.push({
        at: Math.floor(midnight + random.between(7, 23.9) * HOUR_MS),
        shopper,
        customer: `u${shopper.id.slice(1)}`,
      })
    }
  }
  for (let day = first; day <= end; day++) playDay(day, random, ALL_OF_IT)
  const again = bought
    .filter(() => random.chance(0.06))
    .map(b => ({ ...b, at: Math.floor(b.at + random.between(5, 40) * DAY_MS) }))
  const last = startOfDay(end + 1, MARKET_ZONE)
  bought.push(...again)
  const sales = bought.filter(b => b.at < last).sort((a, b) => a.at - b.at)

  const orders: Row[] = []
  const claimRows: Row[] = []
  const truth: Market['truth'] = { orders: [], ads: [] }
  const trueOrders = new Map<Ad, number>()
  let booked = 0
  const book = (sale: (typeof bought)[number], random: RandomStream) => {
    const day = clock(sale.at).day
    const before = sale.shopper.clicks.filter(c => c.at <= sale.at).sort((a, b) => a.at - b.at)
    const within = before.filter(c => sale.at < c.at + WINDOW_DAYS * DAY_MS)
    const bringing = within.at(-1)
    const order = orderRow(`T${10_000 + booked++}`, sale.at, sale.shopper, sale.customer, bringing, random)
    orders.push(order.row)
    const brought = bringing?.ad ?? null
    truth.orders.push({
      order_id: order.id,
      counts: order.counts,
      network: brought?.network.id ?? null,
      campaign_id: brought?.campaign.id ?? null,
      ad_set_id: brought?.adSet.id ?? null,
      ad_id: brought?.id ?? null,
      placement: bringing?.placement ?? null,
    })
    if (brought && order.counts) trueOrders.set(brought, (trueOrders.get(brought) ?? 0) + 1)
    for (const network of networkPlans) {
      const own = before
        .filter(c => c.ad.network === network && sale.at < c.at + network.clickWindowDays * DAY_MS)
        .at(-1)
      if (!own) continue
      const fallen = network.id === 'norrfeed' && day >= story.captureFalls ? 0.56 : 1
      if (!random.chance(network.capture * fallen * (sale.shopper.wary ? 0.5 : 1))) continue
      const claimed = claim(own, sale.at, day, order, random)
      claimRows.push(claimed)
      const reloads = network.id === 'norrfeed' && day >= story.reloads && day < story.reloads + 4
      if (reloads && random.chance(0.8))
        claimRows.push({ ...claimed, claimed_at: iso(Date.parse(String(claimed.claimed_at)) + 90_000) })
    }
  }
  for (const sale of sales) book(sale, random)
  const ordersOfDay = new Map<Day, Row[]>()
  for (const order of orders) append(ordersOfDay, clock(Date.parse(String(order.ordered_at))).day, order)
  const claimBesides = (network: NetworkPlan, day: Day, random: RandomStream) => {
    const own = ads.filter(ad => ad.network === network)
    for (let i = random.poisson(network.viewClaims * scale); i > 0; i--) {
      const booked = ordersOfDay.get(day)
      if (booked) claimRows.push(viewClaim(random.pick(own), random.pick(booked), day, random))
    }
    // A network's own test events, and conversions of a page that is no order.
    if (random.chance(0.12)) claimRows.push(strayClaim(random.pick(own), day, random))
  }
  for (const network of networkPlans)
    for (let day = first; day <= end; day++) claimBesides(network, day, random)
  claimRows.sort((a, b) => (String(a.claimed_at) < String(b.claimed_at) ? -1 : 1))
  truth.ads = ads.map(ad => ({ network: ad.network.id, ad_id: ad.id, orders: trueOrders.get(ad) ?? 0 }))
  const recordedClicks = (from: number) =>
    clicks
      .slice(from)
      .filter(c => c.recorded)
      .sort((a, b) => a.at - b.at)
      .map(clickRow)
  const market: Market = {
    delivery: [...delivery],
    clicks: recordedClicks(0),
    orders: [...orders],
    claimRows: [...claimRows],
    claims: sumClaims(claimRows),
    settings: marketSettings(),
    truth,
  }

  /** The day after the last one that was played: what was served, clicked, booked and claimed on it. */
  let played = end
  const goOn = (
    serving: Serving = ALL_OF_IT,
  ): Pick<Market, 'delivery' | 'clicks' | 'orders' | 'claimRows' | 'claims'> => {
    const day = ++played
    const own = randomStream(seed * 100_003 + day)
    const before = {
      delivery: delivery.length,
      clicks: clicks.length,
      orders: orders.length,
      claims: claimRows.length,
    }
    playDay(day, own, serving)
    const [from, to] = [startOfDay(day, MARKET_ZONE), startOfDay(day + 1, MARKET_ZONE)]
    const due = bought.filter(b => b.at >= from && b.at < to)
    for (const sale of due.sort((a, b) => a.at - b.at)) book(sale, own)
    ordersOfDay.set(day, orders.slice(before.orders))
    for (const network of networkPlans) claimBesides(network, day, own)
    const claimed = claimRows.slice(before.claims)
    return {
      delivery: delivery.slice(before.delivery),
      clicks: recordedClicks(before.clicks),
      orders: orders.slice(before.orders),
      claimRows: claimed,
      claims: sumClaims(claimed),
    }
  }
  return { market, goOn }
}

const devices = [
  { name: 'phone', weight: 63 },
  { name: 'desktop', weight: 29 },
  { name: 'tablet', weight: 8 },
]
const iso = (at: number) => new Date(at).toISOString()
const money = (cents: number) => formatAmount(Math.max(0, Math.round(cents)), CURRENCY)

function deliveryRow(ad: Ad, day: Day, clicks: number, fatigue: number, random: RandomStream): Row {
  const spend = money(clicks * ad.cost * random.factor(0.08))
  const impressions = Math.round(
    (clicks / (ad.network.clickRate * (0.5 + fatigue / 2))) * random.factor(0.05),
  )
  return {
    date: formatDay(day),
    network: ad.network.id,
    campaign_id: ad.campaign.id,
    campaign_name: ad.campaign.name,
    ad_set_id: ad.adSet.id,
    ad_set_name: ad.adSet.name,
    ad_id: ad.id,
    ad_name: ad.name,
    currency: CURRENCY,
    spend,
    impressions,
    clicks,
    // The more it tires, the more often the same people see it.
    reach: ad.network.reports_reach ? Math.round((impressions * fatigue) / 1.35) : '',
  }
}

function clickRow(c: Click): Row {
  return {
    click_id: c.id,
    clicked_at: iso(c.at),
    network: c.ad.network.id,
    campaign_id: c.ad.campaign.id,
    ad_set_id: c.ad.adSet.id,
    ad_id: c.ad.id,
    visitor_id: c.shopper.id,
    network_click_id: c.networkId,
    landing_url: `${SHOP}/kits?utm_source=${c.ad.network.id}&utm_campaign=${c.ad.campaign.id}`,
    device: c.shopper.device,
    placement: c.placement,
    keyword: c.keyword,
    match_type: c.keyword ? 'phrase' : '',
    country: 'PT',
  }
}

/**
 * An order as the shop books it. Our tracking keeps the click ID on most, a visitor alone on some, only
 * the parameters on a few, and on the rest nothing: another device, a refused banner, a cleared browser.
 */
function orderRow(
  id: string,
  at: number,
  shopper: Shopper,
  customer: string,
  last: Click | undefined,
  random: RandomStream,
) {
  const items = random.chance(0.28)
    ? [random.weighted(products), random.weighted(products)]
    : [random.weighted(products)]
  const goods = items.reduce((sum, item) => sum + item.price, 0) * (random.chance(0.12) ? 0.9 : 1)
  const shipping = goods > 10_000 ? 0 : 490
  const total = Math.round(goods + shipping)
  const draw = random.between(0, 1)
  const status =
    draw < 0.03
      ? 'cancelled'
      : draw < 0.055
        ? 'refunded'
        : draw < 0.075
          ? 'partially_refunded'
          : draw < 0.082
            ? 'test'
            : 'paid'
  const kept = random.between(0, 1) * (shopper.wary ? 1.6 : 1)
  const seen = last?.recorded ? last : undefined
  const withClick = seen && kept < 0.62
  const withVisitor = kept < 0.7 || (!last && kept < 0.85)
  const withParameters = seen && (kept < 0.62 || (kept >= 0.7 && kept < 0.75))
  const row: Row = {
    order_id: id,
    ordered_at: iso(at),
    status,
    currency: CURRENCY,
    total: money(total),
    tax: money(total - total / 1.23),
    shipping: money(shipping),
    refunded:
      status === 'refunded' ? money(total) : status === 'partially_refunded' ? money(total * 0.4) : '',
    customer_id: customer,
    visitor_id: withVisitor ? shopper.id : '',
    click_id: withClick ? seen.id : '',
    landing_url: `${SHOP}/${seen && withParameters ? 'kits' : ''}`,
    utm_source: withParameters ? seen.ad.network.id : '',
    utm_medium: withParameters ? 'paid' : '',
    utm_campaign: withParameters ? seen.ad.campaign.name : '',
    utm_term: withParameters ? seen.ad.adSet.name : '',
    utm_content: withParameters ? seen.ad.id : '',
    product_group: items.reduce((best, item) => (item.price > best.price ? item : best)).group,
  }
  return { id, row, total, counts: status === 'paid' || status === 'partially_refunded' }
}

function claim(
  own: Click,
  at: number,
  day: Day,
  order: { id: string; total: number },
  random: RandomStream,
): Row {
  const network = own.ad.network
  const clock = zoneClock(MARKET_ZONE)
  return {
    claimed_at: iso(at + Math.floor(random.between(1, 240) * 1000)),
    date: formatDay(network.datedBy === 'click' ? clock(own.at).day : day),
    network: network.id,
    ad_id: own.ad.id,
    conversion: 'purchase',
    kind: 'click',
    transaction_id: random.chance(network.transactions) ? order.id : '',
    click_id: random.chance(0.4) ? own.networkId : '',
    value: money(order.total),
    currency: CURRENCY,
  }
}

function viewClaim(ad: Ad, order: Row, day: Day, random: RandomStream): Row {
  return {
    claimed_at: iso(Date.parse(String(order.ordered_at)) + Math.floor(random.between(1, 600) * 1000)),
    date: formatDay(day),
    network: ad.network.id,
    ad_id: ad.id,
    conversion: 'purchase',
    kind: 'view',
    transaction_id: String(order.order_id),
    click_id: '',
    value: String(order.total),
    currency: CURRENCY,
  }
}

function strayClaim(ad: Ad, day: Day, random: RandomStream): Row {
  return {
    claimed_at: iso(startOfDay(day, MARKET_ZONE) + Math.floor(random.between(8, 22) * HOUR_MS)),
    date: formatDay(day),
    network: ad.network.id,
    ad_id: ad.id,
    conversion: 'purchase',
    kind: 'click',
    transaction_id: `X${random.code(7)}`,
    click_id: '',
    value: money(random.pick(products).price),
    currency: CURRENCY,
  }
}

/** The same claims as a network sums them: by ad, day and conversion. */
function sumClaims(rows: readonly Row[]): Row[] {
  const sums = new Map<string, { row: Row; cents: number }>()
  for (const row of rows) {
    const key = [row.date, row.network, row.ad_id].join('|')
    const sum = sums.get(key) ?? {
      row: {
        date: row.date!,
        network: row.network!,
        ad_id: row.ad_id!,
        conversion: 'purchase',
        click_through: 0,
        view_through: 0,
        value: '',
        currency: CURRENCY,
      },
      cents: 0,
    }
    const kind = row.kind === 'click' ? 'click_through' : 'view_through'
    sum.row[kind] = Number(sum.row[kind]) + 1
    sum.cents += Math.round(Number(row.value) * 100)
    sums.set(key, sum)
  }
  return [...sums.values()]
    .map(({ row, cents }): Row => ({ ...row, value: money(cents) }))
    .sort((a, b) => (String(a.date) < String(b.date) ? -1 : 1))
}

/** The workspace settings that go with the market. */
export const marketSettings = () => ({
  currency: CURRENCY,
  time_zone: MARKET_ZONE,
  credit: 'last_click',
  click_window_days: WINDOW_DAYS,
  margin: 0.52,
  networks: networkPlans.map(n => ({
    id: n.id,
    click_window_days: n.clickWindowDays,
    view_window_days: n.viewClaims > 0 ? 1 : 0,
    dated_by: n.datedBy,
    time_zone: MARKET_ZONE,
  })),
  campaign_key: 'utm_campaign',
  ad_set_key: 'utm_term',
  ad_key: 'utm_content',
})
