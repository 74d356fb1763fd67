import { inWindow } from '@/core/evidence/window'
import { orderWorth } from '@/core/intake/orderWorth'
import { countsAsOrder } from '@/core/intake/records'
import { type Settings, settingsFor } from '@/core/intake/settings'
import { DAY_MS, parseDay, startOfDay, zoneClock } from '@/core/shared/days'
import { parseAmount } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import { type PulseReading, pulseOf } from '@/core/signals/pulse'
import {
  type BringingClick,
  countResults,
  isFor,
  type LeftOut,
  type Occurrence,
  type ResultDefinition,
} from '@/core/signals/result'
import { findClicks } from '@/data/arrivals'
import type { Database } from '@/data/connect'
import { loadRates } from '@/data/loadRecords'
import { lastServedDays, listDefinitions, orderStatuses } from '@/data/signals'
import type { Workspace } from '@/data/workspace'
import { type ArrivedRows, gatherHeard, type HeardSignal, rowsSince } from './heard'

const PREVIEW_DAYS = 7
const inWeekBefore =
  (now: number) =>
  ({ at }: Found): boolean =>
    at >= now - PREVIEW_DAYS * DAY_MS && at <= now
/** The longest time a pulse looks back. */
const PULSE_DAYS = 35

export interface Counted {
  results: number
  /** minor units */
  worth: number
  /** how many of them came within the click window of an ad click */
  byAds: number
  leftOut: Partial<Record<LeftOut, number>>
}

/** What may have been a result, and why it is none where that is known before anything is counted. */
type Found = Occurrence & { left?: LeftOut }

/**
 * What may have been results: the shop's orders, and what rules told. Where both tell of one transaction the
 * shop's word holds: what it is worth, and whether it counts at all.
 */
async function occurrences(
  database: Database,
  workspace: Workspace,
  { events, orders }: ArrivedRows,
): Promise<(result: string, currency: string) => Found[]> {
  const { order_value, time_zone } = workspace.settings
  const convert = converter(await loadRates(database, workspace.id))
  const clock = zoneClock(time_zone)
  const transactions = events.flatMap(e => e.transaction_id ?? [])
  const statuses = await orderStatuses(database, workspace.id, transactions)
  const toldOf = new Map(events.map(e => [`${e.name} ${e.transaction_id}`, e]))
  return (result, currency) => [
    ...orders
      .filter(o => o.result === result)
      .map((o): Found => {
        const at = o.ordered_at.getTime()
        const told = toldOf.get(`${result} ${o.order_id}`)
        const worth = orderWorth(o, order_value)
        return {
          id: o.order_id,
          at,
          click: o.click_id ?? told?.click_id ?? null,
          visitor: o.visitor_id ?? told?.visitor_id ?? null,
          transaction: o.order_id,
          value: convert(worth, o.currency, currency, clock(at).day),
          ...(countsAsOrder(o.status) ? {} : { left: 'does_not_count' }),
        }
      }),
    ...events
      .filter(e => e.name === result)
      .map((e): Found => {
        const at = e.at.getTime()
        const from = e.currency ?? currency
        const amount = e.value === null ? null : parseAmount(e.value, from)
        const status = e.transaction_id === null ? undefined : statuses.get(e.transaction_id)
        return {
          id: e.event_id,
          at,
          click: e.click_id,
          visitor: e.visitor_id,
          transaction: e.transaction_id,
          value: amount === null ? null : convert(amount, from, currency, clock(at).day),
          ...(status === undefined
            ? {}
            : { left: countsAsOrder(status) ? 'same_transaction' : 'does_not_count' }),
        }
      }),
  ]
}

type ClickOf = (occurrence: Occurrence) => BringingClick | null
/** The ad clicks that occurrences name. */
async function clickFinder(
  database: Database,
  workspace: string,
  found: readonly Occurrence[],
): Promise<ClickOf> {
  const clicks = await findClicks(
    database,
    workspace,
    found.flatMap(o => o.click ?? []),
  )
  const byId = new Map(
    clicks.map((c): [string, BringingClick] => [
      c.click_id,
      { network: c.network, campaign: c.campaign_id, at: c.clicked_at.getTime() },
    ]),
  )
  return ({ click }) => (click === null ? null : (byId.get(click) ?? null))
}

function sumUp(
  definition: ResultDefinition,
  settings: Settings,
  all: readonly Found[],
  clickOf: ClickOf,
): Counted {
  const windowMs = settingsFor(settings, definition).click_window_days * DAY_MS
  const counted: Counted = { results: 0, worth: 0, byAds: 0, leftOut: {} }
  const leave = (why: LeftOut, times = 1) => {
    counted.leftOut[why] = (counted.leftOut[why] ?? 0) + times
  }
  for (const { left } of all) if (left) leave(left)
  const found = all.filter(one => !one.left)
  const meant = new Map(found.filter(o => isFor(definition, clickOf(o))).map(o => [o.id, o]))
  if (meant.size < found.length) leave('not_for_it', found.length - meant.size)
  for (const [id, worth] of countResults(definition, [...meant.values()])) {
    if (typeof worth !== 'number') {
      leave(worth)
      continue
    }
    counted.results += 1
    counted.worth += worth
    const one = meant.get(id)!
    const click = clickOf(one)
    if (click && inWindow(click.at, one.at, windowMs)) counted.byAds += 1
  }
  return counted
}

/** What a definition would count and be worth on the last week before an instant. */
export async function previewResult(
  database: Database,
  workspace: Workspace,
  definition: ResultDefinition,
  now: number,
): Promise<Counted> {
  const rows = await rowsSince(database, workspace.id, new Date(now - PREVIEW_DAYS * DAY_MS))
  const found = (await occurrences(database, workspace, rows))(definition.id, definition.currency).filter(
    inWeekBefore(now),
  )
  return sumUp(definition, workspace.settings, found, await clickFinder(database, workspace.id, found))
}

export interface SignalCell extends Omit<HeardSignal, 'heard'> {
  reading: PulseReading
}

/** Until when a pulse can be read: behind a network's reports, or the shop's files, there is no silence. */
export async function reportedUntil(database: Database, workspace: Workspace, now: number) {
  const served = await lastServedDays(database, workspace.id)
  const zone = workspace.settings.time_zone
  return ({ receiver, heard, through }: Pick<HeardSignal, 'receiver' | 'heard' | 'through'>): number => {
    if (through === 'tag' || through === 'shop') return now
    const last = heard.reduce((latest, h) => Math.max(latest, h.at), 0)
    if (through === 'files') return Math.min(now, last + 1)
    const day = parseDay(served.get(receiver) ?? '')
    return Math.min(now, Math.max(last + 1, day === null ? 0 : startOfDay(day + 1, zone)))
  }
}

/** Every result with what it counted last week, and how each receiver hears of it. */
export async function describeResults(database: Database, workspace: Workspace, now: number) {
  const definitions = await listDefinitions(database, workspace.id)
  const since = new Date(now - PULSE_DAYS * DAY_MS)
  const rows = await rowsSince(database, workspace.id, since)
  const found = await occurrences(database, workspace, rows)
  const { networks, signalsOf, unmapped } = await gatherHeard(
    database,
    workspace.id,
    definitions,
    rows,
    since,
  )
  const until = await reportedUntil(database, workspace, now)
  const ofLastWeek = new Map(definitions.map(d => [d.id, found(d.id, d.currency).filter(inWeekBefore(now))]))
  const clickOf = await clickFinder(database, workspace.id, [...ofLastWeek.values()].flat())
  return {
    networks,
    unmapped,
    results: definitions
      .map(definition => ({
        definition,
        lastWeek: sumUp(definition, workspace.settings, ofLastWeek.get(definition.id) ?? [], clickOf),
        cells: signalsOf(definition).map((signal): SignalCell => {
          const { heard, ...cell } = signal
          return { ...cell, reading: pulseOf(heard, until(signal), workspace.settings.time_zone) }
        }),
      }))
      .sort(
        (a, b) => b.lastWeek.worth - a.lastWeek.worth || a.definition.name.localeCompare(b.definition.name),
      ),
  }
}
export type DescribedResults = Awaited<ReturnType<typeof describeResults>>
