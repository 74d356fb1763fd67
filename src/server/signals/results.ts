import { countsAsOrder, type OrderStatus } from '@/core/intake/records'
import { DAY_MS, parseDay, startOfDay, zoneClock } from '@/core/shared/days'
import { minor, parseAmount } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import { type PulseReading, pulseOf } from '@/core/signals/pulse'
import { countResults, type LeftOut, type Occurrence, type ResultDefinition } from '@/core/signals/result'
import type { Database } from '@/data/connect'
import { loadRates } from '@/data/exchange'
import {
  claimsSince,
  lastServedDays,
  listDefinitions,
  listRules,
  listSlots,
  ordersSince,
  resultEvents,
} from '@/data/signals'
import { listProfiles, type Workspace } from '@/data/workspace'

const PREVIEW_DAYS = 7
/** The longest time a pulse looks back. */
const PULSE_DAYS = 35

export interface Counted {
  results: number
  /** minor units */
  worth: number
  leftOut: Partial<Record<LeftOut, number>>
}

type Rows = {
  events: Awaited<ReturnType<typeof resultEvents>>
  orders: Awaited<ReturnType<typeof ordersSince>>
}

/** What may have been results: the shop's orders, and what rules told. One transaction told by both counts once. */
async function occurrences(
  database: Database,
  workspace: Workspace,
  { events, orders }: Rows,
): Promise<(result: string, currency: string) => Occurrence[]> {
  const convert = converter(await loadRates(database, workspace.id))
  const clock = zoneClock(workspace.settings.time_zone)
  return (result, currency) => [
    ...orders
      .filter(o => o.result === result && countsAsOrder(o.status as OrderStatus))
      .map((o): Occurrence => {
        const at = o.ordered_at.getTime()
        const left = minor(o.total - o.refunded)
        return {
          id: o.order_id,
          at,
          click: o.click_id,
          visitor: o.visitor_id,
          transaction: o.order_id,
          value: convert(left, o.currency, currency, clock(at).day),
        }
      }),
    ...events
      .filter(e => e.name === result)
      .map((e): Occurrence => {
        const at = e.at.getTime()
        const from = e.currency ?? currency
        const amount = e.value === null ? null : parseAmount(e.value, from)
        return {
          id: e.event_id,
          at,
          click: e.click_id,
          visitor: e.visitor_id,
          transaction: e.transaction_id,
          value: amount === null ? null : convert(amount, from, currency, clock(at).day),
        }
      }),
  ]
}

function sumUp(definition: ResultDefinition, found: readonly Occurrence[]): Counted {
  const counted: Counted = { results: 0, worth: 0, leftOut: {} }
  for (const worth of countResults(definition, found).values()) {
    if (typeof worth === 'number') {
      counted.results += 1
      counted.worth += worth
    } else counted.leftOut[worth] = (counted.leftOut[worth] ?? 0) + 1
  }
  return counted
}

async function rowsSince(database: Database, workspace: string, since: Date): Promise<Rows> {
  return {
    events: await resultEvents(database, workspace, since),
    orders: await ordersSince(database, workspace, since),
  }
}

/** What a definition would count and be worth on the last week before an instant. */
export async function previewResult(
  database: Database,
  workspace: Workspace,
  definition: ResultDefinition,
  now: number,
): Promise<Counted> {
  const rows = await rowsSince(database, workspace.id, new Date(now - PREVIEW_DAYS * DAY_MS))
  const found = await occurrences(database, workspace, rows)
  return sumUp(definition, found(definition.id, definition.currency))
}

export interface SignalCell {
  receiver: string
  /** how this receiver hears of the result: the network's slot, our tag, the shop's orders */
  by: string | null
  reading: PulseReading
  /** results that share the slot with this one */
  shares: string[]
}

/** Every result with what it counted last week, and how each receiver hears of it. */
export async function describeResults(database: Database, workspace: Workspace, now: number) {
  const definitions = await listDefinitions(database, workspace.id)
  const rows = await rowsSince(database, workspace.id, new Date(now - PULSE_DAYS * DAY_MS))
  const claims = await claimsSince(database, workspace.id, new Date(now - PULSE_DAYS * DAY_MS))
  const slots = await listSlots(database, workspace.id)
  const rules = await listRules(database, workspace.id)
  const found = await occurrences(database, workspace, rows)
  const zone = workspace.settings.time_zone
  const mapped = (network: string) => slots.filter(s => s.network === network).length
  const networks = (await listProfiles(database, workspace.id))
    .map(p => p.id)
    .sort((a, b) => mapped(b) - mapped(a) || a.localeCompare(b))
  const lastWeek = now - PREVIEW_DAYS * DAY_MS
  // A network is known as far as its reports reach: behind that is no silence of its own.
  const served = await lastServedDays(database, workspace.id)
  const reportedUntil = (network: string, last: number): number => {
    const day = parseDay(served.get(network) ?? '')
    return Math.min(now, Math.max(last + 1, day === null ? 0 : startOfDay(day + 1, zone)))
  }

  const cells = (definition: ResultDefinition): SignalCell[] => {
    const own = found(definition.id, definition.currency)
    const told = rows.events.filter(e => e.name === definition.id)
    const byRule = rules.filter(r => r.result === definition.id).length
    const ours: SignalCell = {
      receiver: 'Aequant',
      by:
        byRule > 0
          ? `tag, ${byRule} ${byRule === 1 ? 'rule' : 'rules'}`
          : own.length > told.length
            ? 'the shop’s orders'
            : null,
      reading: pulseOf(
        own.map(o => ({ at: o.at, transaction: o.transaction })),
        now,
        zone,
      ),
      shares: [],
    }
    return [
      ours,
      ...networks.map((network): SignalCell => {
        const slot = slots.find(s => s.network === network && s.result === definition.id)?.slot ?? null
        const heard = claims.filter(c => c.network === network && c.conversion === slot)
        return {
          receiver: network,
          by: slot,
          reading: pulseOf(
            heard.map(c => ({ at: c.at.getTime(), transaction: c.transaction })),
            reportedUntil(
              network,
              heard.reduce((latest, c) => Math.max(latest, c.at.getTime()), 0),
            ),
            zone,
          ),
          shares: slot
            ? slots
                .filter(s => s.network === network && s.slot === slot && s.result !== definition.id)
                .map(s => s.result)
            : [],
        }
      }),
    ]
  }
  return {
    networks,
    results: definitions
      .map(definition => ({
        definition,
        lastWeek: sumUp(
          definition,
          found(definition.id, definition.currency).filter(o => o.at >= lastWeek),
        ),
        cells: cells(definition),
      }))
      .sort(
        (a, b) => b.lastWeek.worth - a.lastWeek.worth || a.definition.name.localeCompare(b.definition.name),
      ),
    /** conversions that networks report and nobody has mapped */
    unmapped: [...new Set(claims.map(c => `${c.network}\u001f${c.conversion}`))]
      .map(key => key.split('\u001f') as [string, string])
      .filter(([network, conversion]) => !slots.some(s => s.network === network && s.slot === conversion))
      .map(([network, conversion]) => ({ network, conversion })),
  }
}
export type DescribedResults = Awaited<ReturnType<typeof describeResults>>
