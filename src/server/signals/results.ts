import { inWindow } from '@/core/evidence/window'
import { type Settings, settingsFor } from '@/core/intake/settings'
import { DAY_MS, parseDay, startOfDay, zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import { type OutcomeFacts, outcomesOf, type ToldResult, tellsSince } from '@/core/signals/outcomes'
import { type PulseReading, pulseOf } from '@/core/signals/pulse'
import type { BringingClick, LeftOut, ResultDefinition } from '@/core/signals/result'
import { findClicks } from '@/data/arrivals'
import type { Database } from '@/data/connect'
import { loadRates } from '@/data/loadRecords'
import { lastServedDays, listDefinitions, orderStatuses, resultsOfShop } from '@/data/signals'
import type { Workspace } from '@/data/workspace'
import { type ArrivedRows, gatherHeard, type HeardSignal, rowsSince } from './heard'

const PREVIEW_DAYS = 7
/** The rows of the week before an instant. */
const lastWeekOf = ({ events, orders }: ArrivedRows, now: number): ArrivedRows => {
  const within = (at: Date) => at.getTime() >= now - PREVIEW_DAYS * DAY_MS && at.getTime() <= now
  return { events: events.filter(e => within(e.at)), orders: orders.filter(o => within(o.ordered_at)) }
}
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

/** Every time that a result may have come about since these rows begin. */
async function outcomeFinder(database: Database, workspace: Workspace, { events, orders }: ArrivedRows) {
  const { settings, id } = workspace
  const clock = zoneClock(settings.time_zone)
  const told = events.map(event => ({ ...event, at: event.at.getTime() }))
  const booked = orders.map(order => ({
    ...order,
    ordered_at: order.ordered_at.getTime(),
    total: minor(order.total),
    tax: minor(order.tax),
    shipping: minor(order.shipping),
    refunded: minor(order.refunded),
  }))
  const transactions = told.flatMap(e => e.transaction_id ?? [])
  const statuses = await orderStatuses(database, id, transactions)
  const clicks = await findClicks(
    database,
    id,
    [...told, ...booked].flatMap(one => one.click_id ?? []),
  )
  const clickOf = new Map(
    clicks.map((c): [string, BringingClick] => [
      c.click_id,
      { network: c.network, campaign: c.campaign_id, at: c.clicked_at.getTime() },
    ]),
  )
  const facts: OutcomeFacts = {
    settings,
    convert: converter(await loadRates(database, id)),
    dayOf: at => clock(at).day,
    clickOf: click => clickOf.get(click) ?? null,
    statusOf: transaction => statuses.get(transaction),
    shopTells: tellsSince(await resultsOfShop(database, id)),
  }
  return (definition: ResultDefinition): Counted => sumUp(definition, booked, told, facts, settings)
}

/** What a definition counted in a week. */
function sumUp(
  definition: ResultDefinition,
  orders: Parameters<typeof outcomesOf>[1],
  told: readonly ToldResult[],
  facts: OutcomeFacts,
  settings: Settings,
): Counted {
  const windowMs = settingsFor(settings, definition).click_window_days * DAY_MS
  const counted: Counted = { results: 0, worth: 0, byAds: 0, leftOut: {} }
  for (const { left, worth, click, at } of outcomesOf(definition, orders, told, facts)) {
    if (left !== null) {
      counted.leftOut[left] = (counted.leftOut[left] ?? 0) + 1
      continue
    }
    counted.results += 1
    counted.worth += worth ?? 0
    const by = click === null ? null : facts.clickOf(click)
    if (by && inWindow(by.at, at, windowMs)) counted.byAds += 1
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
  return (await outcomeFinder(database, workspace, lastWeekOf(rows, now)))(definition)
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
  const countedOf = await outcomeFinder(database, workspace, lastWeekOf(rows, now))
  const { networks, signalsOf, unmapped } = await gatherHeard(
    database,
    workspace.id,
    definitions,
    rows,
    since,
    workspace.settings.time_zone,
  )
  const until = await reportedUntil(database, workspace, now)
  return {
    networks,
    unmapped,
    results: definitions
      .map(definition => ({
        definition,
        lastWeek: countedOf(definition),
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
