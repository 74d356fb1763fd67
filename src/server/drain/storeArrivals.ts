import type { Arrival, ArrivalOf } from '@/core/intake/arrival'
import { occurredAt } from '@/core/intake/occurred'
import { append } from '@/core/shared/append'
import type { Executor } from '@/data/connect'
import { clicks, events, hops } from '@/data/schema'
import { insertRows } from '@/data/store'
import { raiseVersion } from '@/data/workspace'
import { countryOf, readAgent } from './agents'
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

const stores: readonly Store[] = [
  storing('click', async (database, workspace, arrivals) => {
    const read = await clickReader(database, workspace)
    await insertRows(database, clicks, arrivals, read)
  }),
  storing('event', (database, workspace, arrivals) =>
    insertRows(
      database,
      events,
      arrivals,
      ({ id, from, agent, zone, visitor, click, transaction, rule, ...event }) => {
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
          attributes: { from, agent, ...(zone ? { zone } : {}), ...(rule ? { rule } : {}), ...facts },
        }
      },
    ),
  ),
  storing('hop', (database, workspace, arrivals) =>
    insertRows(database, hops, arrivals, ({ id, at, code, click, offer, visitor, from, agent }) => ({
      workspace,
      ...timesOf({ id, at }),
      hop_id: id,
      code,
      click_id: click,
      visitor_id: visitor,
      offer,
      bot: readAgent(agent).bot,
      attributes: { from, agent },
    })),
  ),
  storing('postback', storePostbacks),
]

/** Stores what the collector recorded, of whatever kind and workspace. Records already there change nothing. */
export async function storeArrivals(database: Executor, arrivals: readonly Arrival[]): Promise<void> {
  const byWorkspace = new Map<string, Arrival[]>()
  for (const arrival of arrivals) append(byWorkspace, arrival.workspace, arrival)
  for (const [workspace, own] of byWorkspace) {
    for (const store of stores) await store(database, workspace, own)
    await raiseVersion(database, workspace)
  }
}
