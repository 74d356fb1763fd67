import { zoneClock } from '@/core/shared/days'
import { latest, latestClicks, latestOrders } from '@/data/arrivals'
import type { Database } from '@/data/connect'
import { events, hops, postbacks } from '@/data/schema'
import type { Workspace } from '@/data/workspace'
import { ask } from './compute/ask'
import type { OrderLine } from './compute/views'

const MOST = 150
const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

interface Common {
  id: string
  /** epoch ms */
  at: number
  weekday: string
  hour: number
  landing: string | null
  /** the parameters that came along, as they came */
  parameters: [key: string, value: string][]
}
export type Arrival =
  | (Common & {
      kind: 'click'
      network: string
      campaign: string | null
      ad: string | null
      device: string | null
      placement: string | null
      keyword: string | null
      visitor: string | null
      networkClickId: string | null
      country: string | null
      bot: boolean
      repeated: boolean
    })
  | (Common & {
      kind: 'event'
      name: string
      value: string | null
      currency: string | null
      transaction: string | null
      click: string | null
      visitor: string | null
      country: string | null
      bot: boolean
    })
  | (Common & { kind: 'hop'; code: string; click: string | null; visitor: string | null })
  | (Common & {
      kind: 'postback'
      partner: string
      deal: string | null
      status: string | null
      click: string | null
    })
  | (Common & {
      kind: 'order'
      status: string
      total: number
      currency: string
      result: string
      evidence: OrderLine | null
    })

const parametersOf = (address: string | null): [string, string][] =>
  address && URL.canParse(address) ? [...new URL(address).searchParams] : []

/** The latest clicks and orders, newest first, each with what is known of where it came from. */
export async function latestArrivals(
  database: Database,
  workspace: Workspace,
  network: string | null,
): Promise<Arrival[]> {
  const [clicks, orders] = [
    await latestClicks(database, workspace.id, network, MOST),
    await latestOrders(database, workspace.id, MOST),
  ]
  const evidence = new Map(
    (
      await ask(
        workspace.id,
        'orderEvidence',
        orders.map(o => o.order_id),
      )
    ).map(line => [line.id, line]),
  )
  const clock = zoneClock(workspace.settings.time_zone)
  const common = (id: string, at: number, landing: string | null): Common => {
    const { weekday, hour } = clock(at)
    return { id, at, weekday: weekdays[weekday - 1]!, hour, landing, parameters: parametersOf(landing) }
  }
  const seenClicks = clicks.map(
    (c): Arrival => ({
      ...common(c.click_id, c.clicked_at.getTime(), c.landing_url),
      kind: 'click',
      network: c.network,
      campaign: c.campaign ?? c.campaign_id,
      ad: c.ad ?? c.ad_id,
      device: c.device,
      placement: c.placement,
      keyword: c.keyword,
      visitor: c.visitor_id,
      networkClickId: c.network_click_id,
      country: c.country,
      bot: c.bot,
      repeated: c.repeated,
    }),
  )
  // What no network sends stands in no network's feed.
  const others = network ? [] : await otherArrivals(database, workspace.id, common)
  const seenOrders = orders
    .map((o): Arrival => {
      const utm = Object.entries({
        utm_source: o.utm_source,
        utm_medium: o.utm_medium,
        utm_campaign: o.utm_campaign,
        utm_term: o.utm_term,
        utm_content: o.utm_content,
      })
      const base = common(o.order_id, o.ordered_at.getTime(), o.landing_url)
      const parameters =
        base.parameters.length > 0
          ? base.parameters
          : utm.flatMap(([k, v]): [string, string][] => (v ? [[k, v]] : []))
      return {
        ...base,
        parameters,
        kind: 'order',
        status: o.status,
        total: o.total,
        currency: o.currency,
        result: o.result,
        evidence: evidence.get(o.order_id) ?? null,
      }
    })
    .filter(o => !network || (o.kind === 'order' && o.evidence?.credits.some(c => c.network === network)))
  return [...seenClicks, ...others, ...seenOrders].sort((a, b) => b.at - a.at).slice(0, MOST)
}

/** The latest events, hops and postbacks. */
async function otherArrivals(
  database: Database,
  workspace: string,
  common: (id: string, at: number, landing: string | null) => Common,
): Promise<Arrival[]> {
  return [
    ...(await latest(database, workspace, events, MOST)).map(
      (e): Arrival => ({
        ...common(e.event_id, e.at.getTime(), e.page),
        kind: 'event',
        name: e.name,
        value: e.value,
        currency: e.currency,
        transaction: e.transaction_id,
        click: e.click_id,
        visitor: e.visitor_id,
        country: e.country,
        bot: e.bot,
      }),
    ),
    ...(await latest(database, workspace, hops, MOST)).map(
      (h): Arrival => ({
        ...common(h.hop_id, h.at.getTime(), h.offer),
        kind: 'hop',
        code: h.code,
        click: h.click_id,
        visitor: h.visitor_id,
      }),
    ),
    ...(await latest(database, workspace, postbacks, MOST)).map(
      (p): Arrival => ({
        ...common(p.postback_id, p.at.getTime(), null),
        parameters: [...new URLSearchParams(p.query)],
        kind: 'postback',
        partner: p.partner,
        deal: p.deal,
        status: p.status,
        click: p.click_id,
      }),
    ),
  ]
}
