import { DAY_MS, type Day, formatDay, HOUR_MS, startOfDay } from '@/core/shared/days'
import { formatAmount } from '@/core/shared/money'
import { products } from './catalog'
import { randomStream } from './random'
import { MARKET_ZONE } from './simulate'

type Row = Record<string, string | number>

/** Networks at which little is spent, each by one ad or a few sources, apart from the three that the market is of. */
const plans = [
  {
    ad: {
      network: 'guildpost',
      campaign_id: 'gc100',
      campaign_name: 'Makers',
      ad_set_id: 'gs101',
      ad_set_name: 'Weaving schools',
      ad_id: 'ga102',
      ad_name: 'Looms for schools',
    },
    clicks: 13,
    cost: 66,
    rate: 0.028,
    clickRate: 0.006,
    claims: 0.7,
    landing: '?utm_source=guildpost&utm_campaign=makers&utm_content=looms-for-schools',
    sources: [''],
    shares: [1],
    topics: [''],
  },
  {
    ad: {
      network: 'whyfold',
      campaign_id: 'wc100',
      campaign_name: 'First looms',
      ad_set_id: 'ws101',
      ad_set_name: 'How to weave',
      ad_id: 'wa102',
      ad_name: 'Which loom first?',
    },
    clicks: 19,
    cost: 47,
    rate: 0.021,
    clickRate: 0.011,
    claims: 0.65,
    landing: '?utm_source=whyfold&utm_campaign=First%20looms&utm_content=wa102',
    sources: [''],
    shares: [1],
    topics: ['weaving', 'looms', 'gifts'],
  },
  {
    ad: {
      network: 'parkfold',
      campaign_id: 'pc100',
      campaign_name: 'looms_domains_2026-10',
      ad_set_id: 'pc100',
      ad_set_name: 'looms_domains_2026-10',
      ad_id: 'pa102',
      ad_name: 'Weaving names',
    },
    clicks: 7,
    cost: 45,
    rate: 0.06,
    clickRate: 0.02,
    claims: 0,
    landing: '?utm_source=parkfold&utm_campaign=pc100',
    sources: ['sp-2207', 'sp-4810', 'sp-0091', 'sp-7734'],
    shares: [0.42, 0.3, 0.2, 0.08],
    topics: [''],
  },
] as const

/** What the partner network asks for each day that the course stands in its list. */
const LISTING = {
  network: 'corvane',
  campaign_id: 'co100',
  campaign_name: 'Weaving course',
  ad_set_id: 'co100',
  ad_set_name: 'Weaving course',
  ad_id: 'co100',
  ad_name: 'Weaving course',
  spend: '3.20',
}

/** How many sales of the course there were, and how many yarn parcels were begun, a day. */
const [COURSES, PARCELS] = [0.42, 0.8]

const money = (cents: number) => formatAmount(Math.max(0, Math.round(cents)), 'EUR')
const iso = (at: number) => new Date(at).toISOString()

/**
 * What the smaller networks served and brought, yarn parcels that were begun, and the course's sales as the partner
 * told them by postback.
 *
 * @param clicks of the market: some of them led to a parcel or a course
 */
export function simulateSmaller(
  { seed, days, end }: { seed: number; days: number; end: Day },
  clicks: readonly Row[],
  page: string,
) {
  const random = randomStream(seed)
  const made = { delivery: [] as Row[], clicks: [] as Row[], orders: [] as Row[], claims: [] as Row[] }
  const postbacks: { at: number; query: string }[] = []
  const shopping = (midnight: number) => Math.floor(midnight + random.between(8, 23) * HOUR_MS)
  const last = startOfDay(end + 1, MARKET_ZONE)
  let number = 0
  for (let day = end - days + 1; day <= end; day++) {
    const midnight = startOfDay(day, MARKET_ZONE)
    const date = formatDay(day)
    for (const {
      ad,
      clicks: often,
      cost,
      rate,
      clickRate,
      claims,
      landing,
      sources,
      shares,
      topics,
    } of plans) {
      let claimed = { click_through: 0, value: 0 }
      for (const [s, source] of sources.entries()) {
        const served = random.poisson(often * shares[s]!)
        made.delivery.push({
          date,
          ...ad,
          currency: 'EUR',
          spend: money(served * cost * random.factor(0.1)),
          impressions: Math.round(served / clickRate),
          clicks: served,
          source,
        })
        for (let i = 0; i < served; i++) {
          const at = shopping(midnight)
          const visitor = `w${random.code(10)}`
          const topic = random.pick(topics)
          const click: Row = {
            click_id: `s${at.toString(36)}${random.code(6)}`,
            clicked_at: iso(at),
            network: ad.network,
            campaign_id: ad.campaign_id,
            ad_set_id: ad.ad_set_id,
            ad_id: ad.ad_id,
            visitor_id: visitor,
            device: random.chance(0.6) ? 'phone' : 'desktop',
            source,
            landing_url: `${page}${landing}${source && `&source=${source}`}${topic && `&topic=${topic}`}`,
          }
          made.clicks.push(click)
          if (!random.chance(rate)) continue
          const ordered = Math.floor(at + random.exponential(6 * HOUR_MS))
          if (ordered >= last) continue
          const { price } = random.weighted(products)
          const seen = random.chance(0.75)
          made.orders.push({
            order_id: `S${20_000 + number++}`,
            ordered_at: iso(ordered),
            status: 'paid',
            currency: 'EUR',
            total: money(price + 490),
            tax: money((price + 490) * (0.23 / 1.23)),
            shipping: '4.90',
            customer_id: `u${visitor.slice(1)}`,
            visitor_id: seen ? visitor : '',
            click_id: seen ? click.click_id! : '',
            result: 'order',
          })
          if (random.chance(claims))
            claimed = { click_through: claimed.click_through + 1, value: claimed.value + price + 490 }
        }
      }
      if (claimed.click_through > 0)
        made.claims.push({
          date,
          network: ad.network,
          ad_id: ad.ad_id,
          conversion: ad.network === 'guildpost' ? 'deal' : 'bought',
          click_through: claimed.click_through,
          view_through: 0,
          value: money(claimed.value),
          currency: 'EUR',
        })
    }
    made.delivery.push({
      date,
      ...LISTING,
      currency: 'EUR',
      impressions: random.poisson(120),
      clicks: random.poisson(6),
    })
  }
  const from = startOfDay(end - days + 1, MARKET_ZONE)
  /** A click of the market, some days before an instant. */
  const clickBefore = (at: number): Row | undefined => {
    const near = clicks.filter(click => {
      const ago = at - Date.parse(String(click.clicked_at))
      return ago > 0 && ago < 5 * DAY_MS
    })
    return near.length > 0 ? random.pick(near) : undefined
  }
  for (let i = random.poisson(PARCELS * days); i > 0; i--) {
    const at = Math.floor(random.between(from + 5 * DAY_MS, last))
    const click = random.chance(0.8) ? clickBefore(at) : undefined
    made.orders.push({
      order_id: `P${3000 + i}`,
      ordered_at: iso(at),
      status: random.chance(0.05) ? 'cancelled' : 'paid',
      currency: 'EUR',
      total: '24.00',
      tax: '4.49',
      shipping: '',
      customer_id: click ? `u${String(click.visitor_id).slice(1)}` : `y${random.code(8)}`,
      visitor_id: click?.visitor_id ?? '',
      click_id: click?.click_id ?? '',
      result: 'parcel',
      product_group: 'Parcels',
    })
  }
  for (let i = random.poisson(COURSES * days); i > 0; i--) {
    const at = Math.floor(random.between(from + 5 * DAY_MS, last - 0.4 * DAY_MS))
    const click = random.chance(0.88) ? clickBefore(at) : undefined
    const amount = random.chance(0.7) ? '89.00' : '129.00'
    const query = (state: string) =>
      new URLSearchParams({
        ...(click && { p1: String(click.click_id) }),
        p2: click ? String(click.campaign_id) : '',
        deal: `D${7000 + i}`,
        amount,
        cur: 'EUR',
        state,
      }).toString()
    postbacks.push({ at, query: query('open') })
    // Most are approved within a week, some taken back, and the latest still wait.
    const settled = Math.floor(at + random.between(2, 7) * DAY_MS)
    if (settled < last) postbacks.push({ at: settled, query: query(random.chance(0.12) ? 'void' : 'ok') })
  }
  return { ...made, postbacks: postbacks.sort((a, b) => a.at - b.at) }
}
