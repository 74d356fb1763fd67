import { products } from './catalog'
import { type RandomStream, randomStream } from './random'
import type { Market } from './simulate'

/** An event as our tag would have told it, ready to be stored. */
export interface BrowsingEvent {
  event_id: string
  /** epoch ms */
  at: number
  name: string
  page: string
  visitor_id: string
  click_id: string | null
  value: string | null
  currency: string | null
  transaction_id: string | null
  /** set where a rule told it */
  rule: string | null
}

/** Shares of shoppers who go on to each page, and who are seen at all. */
const SEEN = 0.84
const LOOKS_AT_KIT = 0.46
const TO_BASKET = 0.2
const TO_CHECKOUT = 0.45
const ASKS_FOR_BOOKLET = { booklet: 0.24, other: 0.015 }
const LOOKS_AT_FLOOR_LOOMS = 0.021
const TO_CALL_PAGE = 0.38
const ASKS_FOR_CALL = 0.55
const STEP_MS = 40_000

/**
 * What the tag on the shop's pages told of the shoppers of a market: pages on the way to an order, booklets
 * and fitting calls asked for. On four days the thank-you pages are reloaded, as the market's story has it.
 *
 * @param origin of the shop
 * @param rules the IDs of the rules that tell each result
 * @param reloads epoch ms between which pages are reloaded
 */
export function simulateBrowsing(
  market: Pick<Market, 'clicks' | 'orders' | 'delivery'>,
  seed: number,
  origin: string,
  rules: { order: string; booklet: string; call: string },
  reloads: { from: number; to: number },
): BrowsingEvent[] {
  const random = randomStream(seed)
  const events: BrowsingEvent[] = []
  const text = (value: string | number | undefined) => (value ? String(value) : null)
  const tell = (
    at: number,
    visitor_id: string,
    click_id: string | null,
    path: string,
    result: Partial<BrowsingEvent> = {},
  ) =>
    events.push({
      event_id: `b${events.length.toString(36)}.${Math.floor(at).toString(36)}`,
      at: Math.floor(at),
      name: 'page',
      page: `${origin}${path}`,
      visitor_id,
      click_id,
      value: null,
      currency: null,
      transaction_id: null,
      rule: null,
      ...result,
    })
  /** A result's page, twice on the days on which pages are reloaded. */
  const tellResult = (at: number, visitor: string, click: string | null, path: string, result: object) => {
    const again = at >= reloads.from && at < reloads.to && random.chance(0.8)
    for (const later of again ? [0, 20_000] : [0]) {
      tell(at + later, visitor, click, path)
      tell(at + later + 300, visitor, click, path, result)
    }
  }

  const bought = ordersByVisitor(market.orders)
  const bookletCampaigns = new Set(
    market.delivery.filter(d => String(d.campaign_name).includes('booklet')).map(d => d.campaign_id),
  )
  for (const click of market.clicks) {
    if (!random.chance(SEEN)) continue
    const [at, visitor, id] = [
      Date.parse(String(click.clicked_at)),
      String(click.visitor_id),
      String(click.click_id),
    ]
    const forBooklet = bookletCampaigns.has(click.campaign_id!) || random.chance(0.12)
    const leads = random.chance(forBooklet ? ASKS_FOR_BOOKLET.booklet : ASKS_FOR_BOOKLET.other)
    tell(at + 1500, visitor, id, forBooklet ? '/booklet' : '/kits')
    if (leads)
      tellResult(at + 30_000, visitor, id, '/booklet', {
        name: 'booklet',
        rule: rules.booklet,
      })
    if (random.chance(LOOKS_AT_FLOOR_LOOMS)) {
      tell(at + 60_000, visitor, id, '/floor-looms')
      const further = random.chance(TO_CALL_PAGE)
      if (further) tell(at + 140_000, visitor, id, '/fitting-call')
      if (further && random.chance(ASKS_FOR_CALL))
        tell(at + 200_000, visitor, id, '/fitting-call', { name: 'fitting-call', rule: rules.call })
    }
    // Those who buy are told below, on their way to the order.
    if (bought.has(visitor) || !random.chance(LOOKS_AT_KIT)) continue
    wander(at, visitor, id, random)
  }
  for (const [visitor, orders] of bought)
    for (const order of orders) {
      if (!random.chance(SEEN)) continue
      const at = Date.parse(String(order.ordered_at))
      const click = text(order.click_id)
      const kit = Math.floor(random.between(0, products.length))
      tell(at - 5 * STEP_MS, visitor, click, '/kits')
      tell(at - 4 * STEP_MS, visitor, click, `/kits/${kit}`)
      tell(at - 2 * STEP_MS, visitor, click, `/basket?product=${kit}`)
      tell(at - STEP_MS, visitor, click, `/buy/${kit}`)
      tellResult(at + 1000, visitor, click, `/thanks?order=${order.order_id}`, {
        name: 'order',
        rule: rules.order,
        transaction_id: String(order.order_id),
        value: text(order.total),
        currency: text(order.currency),
      })
    }
  return events.sort((a, b) => a.at - b.at)

  function wander(at: number, visitor: string, click: string, draw: RandomStream): void {
    const kit = Math.floor(draw.between(0, products.length))
    tell(at + STEP_MS, visitor, click, `/kits/${kit}`)
    if (!draw.chance(TO_BASKET)) return
    tell(at + 2 * STEP_MS, visitor, click, `/basket?product=${kit}`)
    if (draw.chance(TO_CHECKOUT)) tell(at + 3 * STEP_MS, visitor, click, `/buy/${kit}`)
  }
}

function ordersByVisitor(orders: Market['orders']): Map<string, Market['orders']> {
  const by = new Map<string, Market['orders']>()
  for (const order of orders) {
    const visitor = String(order.visitor_id || '')
    if (visitor === '' || order.status === 'test') continue
    by.set(visitor, [...(by.get(visitor) ?? []), order])
  }
  return by
}
