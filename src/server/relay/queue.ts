import type { ArrivalOf } from '@/core/intake/arrival'
import { orderWorth } from '@/core/intake/orderWorth'
import { countsAsOrder } from '@/core/intake/records'
import type { NetworkProfile } from '@/core/links/profile'
import { DAY_MS } from '@/core/shared/days'
import { formatAmount } from '@/core/shared/money'
import { networkEventId, TEST_MARK, worthTold } from '@/core/signals/fillCode'
import { hasPlace } from '@/core/signals/outgoing'
import { type ResultDefinition, usualWorth } from '@/core/signals/result'
import { findClicks } from '@/data/arrivals'
import type { Database } from '@/data/connect'
import {
  eventsArrived,
  ordersArrived,
  queueRelays,
  type Reached,
  type Relay,
  relayedIds,
  relayedUntil,
  rememberRelayed,
  testsArrived,
} from '@/data/relays'
import { listDefinitions, listSlots } from '@/data/signals'
import { findWorkspace, listProfiles, type Workspace } from '@/data/workspace'

/** Networks take nothing that is older. */
const OLDEST_DAYS = 7
/** What arrived in a transaction that ended late is seen by looking back so far. */
const OVERLAP_MS = 60_000

/** Something that networks are to hear of, whoever told us: the tag, or the shop. */
interface Happened {
  result: string
  id: string
  at: number
  transaction: string | null
  click: string | null
  page: string | null
  /** decimal */
  value: string | null
  currency: string | null
  test: string | null
}

/**
 * Queues for every network with a relay what arrived since the last time: results by the tag's rules, and
 * orders, also those that no browser told of. Under the same event ID nothing is queued twice.
 */
export async function queueArrived(database: Database, workspace: string, now: number): Promise<void> {
  const profiles = (await listProfiles(database, workspace)).filter(p => p.outgoing && p.relayed_since)
  const found = await findWorkspace(database, workspace)
  if (profiles.length === 0 || !found) return
  const since = new Date(((await relayedUntil(database, workspace))?.getTime() ?? now) - OVERLAP_MS)
  const oldest = new Date(now - OLDEST_DAYS * DAY_MS)
  const known = {
    profiles,
    slots: await listSlots(database, workspace),
    definitions: await listDefinitions(database, workspace),
  }
  await queueHappened(database, workspace, known, await testsHappened(database, workspace, since), now)
  // A page at a time, however much a file brought at once.
  for (const arrived of [eventsHappened, ordersHappened])
    for (let place: Reached | null = { at: since.toISOString(), id: '' }; place; ) {
      const page: Page = await arrived(database, found, place, oldest)
      await queueHappened(database, workspace, known, page.happened, now)
      place = page.next
    }
  await rememberRelayed(database, workspace, new Date(now))
}

interface Known {
  profiles: readonly NetworkProfile[]
  slots: Awaited<ReturnType<typeof listSlots>>
  definitions: readonly ResultDefinition[]
}

async function queueHappened(
  database: Database,
  workspace: string,
  { profiles, slots, definitions }: Known,
  happened: readonly Happened[],
  now: number,
): Promise<void> {
  if (happened.length === 0) return
  const idOf = (h: Happened) => networkEventId(h.result, h.transaction, h.id)
  const known = await relayedIds(database, workspace, happened.map(idOf))
  const wanted = profiles.flatMap(profile =>
    happened.flatMap(h => {
      const slot = slots.find(s => s.network === profile.id && s.result === h.result)?.slot
      // Code of the site knows no event ID of ours but a transaction's: the same event would count twice.
      if (profile.placed_by === 'site' && profile.tag && h.transaction === null) return []
      const fresh = h.at >= Date.parse(profile.relayed_since!) && !known.has(`${profile.id} ${idOf(h)}`)
      return slot && fresh ? [{ profile, h, slot }] : []
    }),
  )
  const clicks = new Map(
    (
      await findClicks(
        database,
        workspace,
        wanted.flatMap(w => w.h.click ?? []),
      )
    ).map(c => [c.click_id, c]),
  )
  const rows = wanted.map(({ profile, h, slot }) => {
    const click = h.click === null ? undefined : clicks.get(h.click)
    const reference = click?.network === profile.id ? (click.network_click_id ?? '') : ''
    const definition = definitions.find(d => d.id === h.result)
    const usual = definition ? usualWorth(definition) : { value: '', currency: '' }
    const testable = h.test === null || hasPlace(profile.outgoing!, 'test')
    const placed = reference !== '' || !hasPlace(profile.outgoing!, 'click_id')
    const state: Relay['state'] = placed || (h.test !== null && testable) ? 'waiting' : 'no_click'
    return {
      workspace,
      network: profile.id,
      event_id: idOf(h),
      result: h.result,
      at: h.at,
      facts: {
        event: slot,
        event_id: idOf(h),
        transaction: h.transaction ?? '',
        ...worthTold(h.value, h.currency, usual),
        click_id: reference,
        page: h.page ?? '',
        at: new Date(h.at).toISOString(),
        at_seconds: String(Math.floor(h.at / 1000)),
        test: h.test === null ? '' : TEST_MARK,
      },
      state: testable ? state : ('held_back' as const),
      test: h.test,
    }
  })
  await queueRelays(database, rows, now)
}

interface Page {
  happened: Happened[]
  /** where the next page begins; null behind the last */
  next: Reached | null
}
const nextOf = (last: { reached: string } | undefined, id: string | undefined): Reached | null =>
  last && id !== undefined ? { at: last.reached, id } : null

async function eventsHappened(
  database: Database,
  { id: workspace }: Workspace,
  place: Reached,
  oldest: Date,
): Promise<Page> {
  const told = await eventsArrived(database, workspace, place, oldest)
  const happened = told.map(e => ({
    result: e.name,
    id: e.event_id,
    at: e.at.getTime(),
    transaction: e.transaction_id,
    click: e.click_id,
    page: e.page,
    value: e.value,
    currency: e.currency,
    test: null,
  }))
  return { happened, next: nextOf(told.at(-1), told.at(-1)?.event_id) }
}

async function ordersHappened(
  database: Database,
  { id: workspace, settings }: Workspace,
  place: Reached,
  oldest: Date,
): Promise<Page> {
  const arrived = await ordersArrived(database, workspace, place, oldest)
  const happened = arrived
    .filter(o => countsAsOrder(o.status))
    .map(o => ({
      result: o.result,
      id: o.order_id,
      at: o.ordered_at.getTime(),
      transaction: o.order_id,
      click: o.click_id,
      page: null,
      value: formatAmount(orderWorth(o, settings.order_value), o.currency),
      currency: o.currency,
      test: null,
    }))
  return { happened, next: nextOf(arrived.at(-1), arrived.at(-1)?.order_id) }
}

const testsHappened = async (database: Database, workspace: string, since: Date) =>
  (await testsArrived(database, workspace, since)).flatMap(({ token, record }): Happened[] => {
    const e = record as ArrivalOf<'event'>
    if (!e.rule) return []
    return [
      {
        result: e.name,
        id: e.id,
        at: e.at,
        transaction: e.transaction ?? null,
        click: e.click ?? null,
        page: e.page ?? null,
        value: e.value ?? null,
        currency: e.currency ?? null,
        test: token,
      },
    ]
  })
