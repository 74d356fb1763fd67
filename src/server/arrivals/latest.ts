import { type ArrivalFilter, type ArrivalProblem, kindsOfArrival } from '@/core/intake/arrivalFilter'
import { type Reporter, reporterOf } from '@/core/intake/reportedBy'
import { zoneClock } from '@/core/shared/days'
import { APART } from '@/core/signals/mayTell'
import {
  countByMinute,
  findClicks,
  latestClicks,
  latestEvents,
  latestHops,
  latestOrders,
  latestPostbacks,
  latestReports,
} from '@/data/arrivals'
import type { Database } from '@/data/connect'
import { listPartners } from '@/data/intake'
import type { Workspace } from '@/data/workspace'
import { ask } from '../compute/ask'
import type { OrderLine } from '../compute/views/order'

const MOST = 150
/** Where a filter can be applied only afterwards, more are looked at. */
const MOST_LOOKED_AT = 600
const HOUR_MS = 3_600_000
export const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

interface Common {
  id: string
  /** epoch ms */
  at: number
  weekday: string
  hour: number
  problem: ArrivalProblem | null
  reportedBy: Reporter
  landing: string | null
  /** the parameters that came along, as they came */
  parameters: [key: string, value: string][]
  /** the record as it is kept */
  raw: Record<string, unknown>
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
  | (Common & {
      kind: 'report'
      file: string
      holds: string
      network: string | null
      accepted: number
      known: number
      rejected: number
    })

const parametersOf = (address: string | null): [string, string][] =>
  address && URL.canParse(address) ? [...new URL(address).searchParams] : []

/** A stored row without what is empty. */
const rawOf = ({ workspace: _, ...row }: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(row).filter(([, value]) => value !== null && value !== ''))

type Times = Pick<Common, 'id' | 'at' | 'weekday' | 'hour' | 'reportedBy' | 'raw'>
type TimesOf = (id: string, at: Date, row: object) => Times
type Look = (
  database: Database,
  workspace: Workspace,
  filter: ArrivalFilter,
  times: TimesOf,
) => Promise<Arrival[]>

/** How each kind is looked up. */
const looks: Record<Arrival['kind'], Look> = {
  click: async (database, { id }, filter, times) =>
    (filter.result ? [] : await latestClicks(database, id, filter, MOST)).map(c => ({
      ...times(c.click_id, c.clicked_at, c),
      kind: 'click',
      problem: c.bot || c.repeated ? 'not_counted' : c.ad_id === null ? 'no_ad' : null,
      landing: c.landing_url,
      parameters: parametersOf(c.landing_url),
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
    })),
  event: async (database, workspace, filter, times) =>
    (
      await ofAds(database, workspace, filter, most => latestEvents(database, workspace.id, filter, most))
    ).map(e => ({
      ...times(e.event_id, e.at, e),
      kind: 'event',
      problem: e.bot || e.attributes?.[APART] ? 'not_counted' : null,
      landing: e.page,
      parameters: parametersOf(e.page),
      name: e.name,
      value: e.value,
      currency: e.currency,
      transaction: e.transaction_id,
      click: e.click_id,
      visitor: e.visitor_id,
      country: e.country,
      bot: e.bot,
    })),
  hop: async (database, workspace, filter, times) =>
    (filter.result
      ? []
      : await ofAds(database, workspace, filter, most => latestHops(database, workspace.id, filter, most))
    ).map(h => ({
      ...times(h.hop_id, h.at, h),
      kind: 'hop',
      problem: h.bot ? 'not_counted' : h.click_id === null ? 'no_click' : null,
      landing: h.offer,
      parameters: parametersOf(h.offer),
      code: h.code,
      click: h.click_id,
      visitor: h.visitor_id,
    })),
  postback: async (database, workspace, filter, times) => {
    const found = await ofAds(database, workspace, filter, most =>
      latestPostbacks(database, workspace.id, filter, most),
    )
    const results = new Map((await listPartners(database, workspace.id)).map(p => [p.id, p.partner.result]))
    return found
      .filter(p => !filter.result || results.get(p.partner) === filter.result)
      .map(p => ({
        ...times(p.postback_id, p.at, p),
        kind: 'postback',
        problem: p.deal === null ? 'unread' : p.click_id === null ? 'no_click' : null,
        landing: null,
        parameters: [...new URLSearchParams(p.query)],
        partner: p.partner,
        deal: p.deal,
        status: p.status,
        click: p.click_id,
      }))
  },
  order: latestOrderArrivals,
  report: async (database, { id }, filter, times) =>
    (filter.result || filter.campaign ? [] : await latestReports(database, id, filter, MOST)).map(b => ({
      ...times(b.id, b.imported_at, b),
      kind: 'report',
      problem: b.rejected > 0 ? 'rejected' : null,
      landing: null,
      parameters: [],
      file: b.file,
      holds: b.kind,
      network: b.network,
      accepted: b.accepted,
      known: b.duplicates,
      rejected: b.rejected,
    })),
}

/** What came of clicks of the wanted network and campaign: a record stands where its click does. */
async function ofAds<Row extends { click_id: string | null }>(
  database: Database,
  { id }: Workspace,
  { network, campaign }: ArrivalFilter,
  fetch: (most: number) => Promise<Row[]>,
): Promise<Row[]> {
  if (!network) return fetch(MOST)
  const rows = await fetch(MOST_LOOKED_AT)
  const clicks = await findClicks(
    database,
    id,
    rows.flatMap(row => row.click_id ?? []),
  )
  const wanted = new Set(
    clicks
      .filter(c => c.network === network && (!campaign || c.campaign_id === campaign))
      .map(c => c.click_id),
  )
  return rows.filter(row => row.click_id !== null && wanted.has(row.click_id)).slice(0, MOST)
}

async function latestOrderArrivals(
  database: Database,
  { id }: Workspace,
  filter: ArrivalFilter,
  times: TimesOf,
): Promise<Arrival[]> {
  const { network, campaign, problem } = filter
  if (problem && problem !== 'any' && problem !== 'no_evidence') return []
  const orders = await latestOrders(database, id, filter, network || problem ? MOST_LOOKED_AT : MOST)
  const ids = orders.map(o => o.order_id)
  const evidence = new Map((await ask(id, 'orderEvidence', ids)).map(line => [line.id, line]))
  return orders
    .map((o): Arrival & { kind: 'order' } => {
      const known = evidence.get(o.order_id) ?? null
      const utm = (['utm_source', 'utm_medium', 'utm_campaign', 'utm_term', 'utm_content'] as const).flatMap(
        (key): [string, string][] => (o[key] ? [[key, o[key]]] : []),
      )
      const landed = parametersOf(o.landing_url)
      return {
        ...times(o.order_id, o.ordered_at, o),
        kind: 'order',
        problem: known?.grade === 'unplaced' ? 'no_evidence' : null,
        landing: o.landing_url,
        parameters: landed.length > 0 ? landed : utm,
        status: o.status,
        total: o.total,
        currency: o.currency,
        result: o.result,
        evidence: known,
      }
    })
    .filter(o => !problem || o.problem !== null)
    .filter(
      o =>
        !network ||
        o.evidence?.credits.some(c => c.network === network && (!campaign || c.campaignId === campaign)),
    )
    .slice(0, MOST)
}

/** The latest arrivals, newest first, each with what is known of where it came from. */
export async function latestArrivals(
  database: Database,
  workspace: Workspace,
  filter: ArrivalFilter,
): Promise<Arrival[]> {
  const clock = zoneClock(workspace.settings.time_zone)
  const timesOf =
    (kind: Arrival['kind']): TimesOf =>
    (id, at, row) => {
      const { weekday, hour } = clock(at.getTime())
      return {
        id,
        at: at.getTime(),
        weekday: weekdays[weekday - 1]!,
        hour,
        reportedBy: reporterOf(kind, row),
        raw: rawOf({ ...row }),
      }
    }
  const kinds = filter.kind ? [filter.kind] : kindsOfArrival
  const found: Arrival[] = []
  for (const kind of kinds) found.push(...(await looks[kind](database, workspace, filter, timesOf(kind))))
  return found.sort((a, b) => b.at - a.at).slice(0, MOST)
}

/** Arrivals by the minute: the last hour, or where nothing came in it the hour up to the latest arrival. */
export async function arrivalsByMinute(
  database: Database,
  workspace: string,
  latest: number | undefined,
  now: number,
) {
  const until = latest === undefined || now - latest < HOUR_MS ? now : latest
  return { until, counts: await countByMinute(database, workspace, until) }
}
export type Minutes = Awaited<ReturnType<typeof arrivalsByMinute>>
