/** A folder of exchange files of any size: ten clicks to an order, most orders tracked, most claimed. */

import { once } from 'node:events'
import { createWriteStream, mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { randomStream } from '@/practice/market/random'

const NETWORKS = ['norrfeed', 'kelpie', 'mothwire', 'guildpost'] as const
const ADS = 75
const DAYS = 75
const FIRST = Date.UTC(2026, 8, 1)
const DAY_MS = 86_400_000

export interface BigFolder {
  clicks: number
  orders: number
  claims: number
}

/** Writes the files of so many clicks, a tenth of it orders, and as many claims. */
export async function writeBigFolder(dir: string, clicks: number): Promise<BigFolder> {
  mkdirSync(dir, { recursive: true })
  const random = randomStream(11)
  const orders = Math.round(clicks / 10)
  const iso = (at: number) => new Date(at).toISOString()
  const adOf = (i: number) => {
    const ad = i % (NETWORKS.length * ADS)
    const number = ad % ADS
    return {
      network: NETWORKS[Math.floor(ad / ADS)]!,
      ad: `a${number}`,
      adSet: `s${number % 15}`,
      campaign: `c${number % 5}`,
    }
  }
  const file = async (name: string, header: string, rows: () => Generator<string>) => {
    const to = createWriteStream(join(dir, name))
    to.write(`${header}\n`)
    let batch: string[] = []
    for (const row of rows()) {
      batch.push(row)
      if (batch.length < 5000) continue
      if (!to.write(`${batch.join('\n')}\n`)) await once(to, 'drain')
      batch = []
    }
    to.end(batch.length > 0 ? `${batch.join('\n')}\n` : '')
    await once(to, 'finish')
  }
  /** the clicks that brought an order, one in ten */
  const brought: { at: number; id: string; visitor: string; ad: ReturnType<typeof adOf> }[] = []
  const devices = ['phone', 'phone', 'desktop', 'tablet']
  await file(
    'clicks.csv',
    'click_id,clicked_at,network,campaign_id,ad_set_id,ad_id,visitor_id,network_click_id,landing_url,device,placement,keyword,match_type,country',
    function* () {
      for (let i = 0; i < clicks; i++) {
        const ad = adOf(Math.floor(random.between(0, NETWORKS.length * ADS)))
        const at = Math.floor(FIRST + ((i + random.between(0, 1)) / clicks) * (DAYS - 3) * DAY_MS)
        const id = `k${i.toString(36)}`
        const visitor = `v${Math.floor(random.between(0, clicks * 0.8)).toString(36)}`
        if (i % 10 === 0) brought.push({ at, id, visitor, ad })
        yield `${id},${iso(at)},${ad.network},${ad.campaign},${ad.adSet},${ad.ad},${visitor},nx${i.toString(36)},https://tarnbrook.example/kits?utm_source=${ad.network},${devices[i % 4]},feed,,,PT`
      }
    },
  )
  const bought = brought.map((click, i) => ({
    ...click,
    id: `T${i}`,
    click: click.id,
    at: Math.floor(click.at + random.exponential(0.6 * DAY_MS) + 60_000),
    cents: Math.round(random.factor(0.6) * 9000),
  }))
  await file(
    'orders.csv',
    'order_id,ordered_at,status,currency,total,tax,shipping,refunded,customer_id,visitor_id,click_id,landing_url,utm_source,utm_campaign,utm_term,utm_content',
    function* () {
      for (const [i, order] of bought.entries()) {
        const kept = random.between(0, 1)
        const status = i % 33 === 0 ? 'cancelled' : 'paid'
        const tagged =
          kept < 0.65 ? `${order.ad.network},${order.ad.campaign},${order.ad.adSet},${order.ad.ad}` : ',,,'
        yield `${order.id},${iso(order.at)},${status},EUR,${(order.cents / 100).toFixed(2)},,,,u${order.visitor},${kept < 0.75 ? order.visitor : ''},${kept < 0.6 ? order.click : ''},https://tarnbrook.example/thanks,${tagged}`
      }
    },
  )
  let claims = 0
  await file(
    'claim-rows.csv',
    'claimed_at,date,network,ad_id,conversion,kind,transaction_id,click_id,value,currency',
    function* () {
      for (const order of bought) {
        const times = random.chance(0.75) ? (random.chance(0.34) ? 2 : 1) : 0
        for (let k = 0; k < times; k++) {
          claims += 1
          const at = order.at + 1000 * Math.floor(random.between(1, 200))
          yield `${iso(at)},${iso(order.at).slice(0, 10)},${order.ad.network},${order.ad.ad},purchase,click,${random.chance(0.6) ? order.id : ''},,${(order.cents / 100).toFixed(2)},EUR`
        }
      }
    },
  )
  await file(
    'delivery.csv',
    'date,network,campaign_id,campaign_name,ad_set_id,ad_set_name,ad_id,ad_name,currency,spend,impressions,clicks',
    function* () {
      const each = Math.round(clicks / (NETWORKS.length * ADS * DAYS))
      for (let day = 0; day < DAYS; day++)
        for (let i = 0; i < NETWORKS.length * ADS; i++) {
          const ad = adOf(i)
          yield `${iso(FIRST + day * DAY_MS).slice(0, 10)},${ad.network},${ad.campaign},Campaign ${ad.campaign},${ad.adSet},Set ${ad.adSet},${ad.ad},Ad ${ad.ad},EUR,${(each * 0.6).toFixed(2)},${each * 50},${each}`
        }
    },
  )
  writeFileSync(
    join(dir, 'settings.json'),
    JSON.stringify({ currency: 'EUR', time_zone: 'Europe/Lisbon', margin: 0.52 }),
  )
  return { clicks, orders, claims }
}
