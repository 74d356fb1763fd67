import type { Arrival, ArrivalOf } from '@/core/intake/arrival'
import { occurredAt } from '@/core/intake/occurred'
import { append } from '@/core/shared/append'
import { APART, misfitOf, NAMED_RULE } from '@/core/signals/mayTell'
import type { Executor } from '@/data/connect'
import { keepTestRecords, markTestOrders, type TestRecord } from '@/data/liveTests'
import { clicks, events, hops } from '@/data/schema'
import { listRules } from '@/data/signals'
import { insertRows } from '@/data/store'
import { findWorkspace, raiseShown, raiseVersion } from '@/data/workspace'
import { takeOrderMessages } from '../orderWebhook'
import { countryOf, readAgent } from './agents'
import { cleanedFacts } from './cleanedFacts'
import { clickReader } from './clickReader'
import { storePostbacks } from './storePostbacks'

type Store = (database: Executor, workspace: string, arrivals: readonly Arrival[]) => Promise<unknown>
const storing =
  <Kind extends Arrival['kind']>(
    kind: Kind,
    store: (database: Executor, workspace: string, arrivals: readonly ArrivalOf<Kind>[]) => Promise<unknown>,
  ): Store =>
  async (database, workspace, arrivals) => {
    const own = arrivals.filter((a): a is ArrivalOf<Kind> => a.kind === kind)
    if (own.length > 0) await store(database, workspace, own)
  }

/** The day and time of a record, as its table keys them. */
const timesOf = ({ id, at }: { id: string; at: number }) => {
  const instant = new Date(occurredAt(id, at)).toISOString()
  return { day: instant.slice(0, 10), at: instant }
}

/** What an event tells: the rule by which it tells a result, or why it tells none though it names one. */
async function tellerOf(database: Executor, workspace: string, events: readonly ArrivalOf<'event'>[]) {
  if (!events.some(event => event.rule)) return () => ({})
  const rules = await listRules(database, workspace)
  const hosts = (await findWorkspace(database, workspace))?.settings.hosts ?? []
  return ({ rule, name, page, visitor }: ArrivalOf<'event'>): Record<string, string> => {
    if (!rule) return {}
    const misfit = misfitOf({ rule, name, page, visitor }, rules, hosts)
    return misfit ? { [NAMED_RULE]: rule, [APART]: misfit } : { rule }
  }
}

async function storeEvents(database: Executor, workspace: string, arrivals: readonly ArrivalOf<'event'>[]) {
  const teller = await tellerOf(database, workspace, arrivals)
  await insertRows(database, events, arrivals, arrival => {
    const { id, from, agent, zone, visitor, click, transaction, origin, cleaned, ...event } = arrival
    const { bot, ...facts } = readAgent(agent)
    return {
      workspace,
      ...timesOf({ id, at: event.at }),
      event_id: id,
      name: event.name,
      page: event.page ?? null,
      referrer: event.referrer ?? null,
      visitor_id: visitor ?? null,
      click_id: click ?? null,
      value: event.value ?? null,
      currency: event.currency ?? null,
      transaction_id: transaction ?? null,
      country: countryOf(zone),
      bot,
      attributes: {
        from,
        agent,
        ...(zone ? { zone } : {}),
        ...(origin ? { origin } : {}),
        ...teller(arrival),
        ...facts,
        ...cleanedFacts({ cleaned }),
      },
    }
  })
}

const stores: readonly Store[] = [
  storing('click', async (database, workspace, arrivals) => {
    const read = await clickReader(database, workspace)
    // A page that no ad led to is told of by its own event.
    const rows = arrivals.map(read)
    await insertRows(
      database,
      clicks,
      rows.filter(row => row !== null),
      row => row,
    )
  }),
  storing('event', storeEvents),
  storing('hop', (database, workspace, arrivals) =>
    insertRows(database, hops, arrivals, ({ id, at, code, click, offer, visitor, from, agent, cleaned }) => ({
      workspace,
      ...timesOf({ id, at }),
      hop_id: id,
      code,
      click_id: click,
      visitor_id: visitor,
      offer,
      bot: readAgent(agent).bot,
      attributes: { from, agent, ...cleanedFacts({ cleaned }) },
    })),
  ),
  storing('postback', storePostbacks),
  storing('order', takeOrderMessages),
]

/** Stores what the collector recorded, of whatever kind and workspace. Records already there change nothing. */
export async function storeArrivals(database: Executor, arrivals: readonly Arrival[]): Promise<void> {
  const byWorkspace = new Map<string, Arrival[]>()
  for (const arrival of arrivals) append(byWorkspace, arrival.workspace, arrival)
  // Each in the same order as everybody takes them: who writes holds a workspace's revision until the end.
  for (const [workspace, own] of [...byWorkspace].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const counted = own.filter(a => testOf(a) === null)
    for (const store of stores) await store(database, workspace, counted)
    const marked = await storeTests(database, workspace, own)
    if (marked > 0 || counted.some(bearsFigures)) await raiseVersion(database, workspace)
    else if (counted.length > 0) await raiseShown(database, workspace)
  }
}

/** Whether figures stand on an arrival: on what brings a result, and on what tells one. */
const bearsFigures = (arrival: Arrival): boolean =>
  arrival.kind === 'event' ? Boolean(arrival.rule) : arrival.kind !== 'hop'

/** The live test that an arrival belongs to; null for one that counts. */
const testOf = (arrival: Arrival): string | null =>
  arrival.kind === 'observation' ? arrival.seen.test : 'test' in arrival ? (arrival.test ?? null) : null

/** What belongs to live tests is kept apart. Gives how many orders proved to be tests by it. */
async function storeTests(database: Executor, workspace: string, arrivals: readonly Arrival[]) {
  const rows = arrivals.flatMap((arrival): TestRecord[] => {
    const token = testOf(arrival)
    if (token === null || arrival.kind === 'hop' || arrival.kind === 'postback' || arrival.kind === 'order')
      return []
    const at = new Date(occurredAt(arrival.id, arrival.at))
    const own = { workspace, token, at, kind: arrival.kind }
    if (arrival.kind === 'observation') return [{ ...own, id: arrival.seen.view, record: arrival.seen }]
    const transaction_id = arrival.kind === 'event' ? (arrival.transaction ?? null) : null
    return [{ ...own, id: arrival.id, record: arrival, transaction_id }]
  })
  if (rows.length === 0) return 0
  await keepTestRecords(database, rows)
  return markTestOrders(database, workspace)
}
