import type { ArrivalOf } from '@/core/intake/arrival'
import { orderWorth } from '@/core/intake/orderWorth'
import { countsAsOrder } from '@/core/intake/records'
import type { NetworkProfile } from '@/core/links/profile'
import { DAY_MS } from '@/core/shared/days'
import { formatAmount, type Minor, minor } from '@/core/shared/money'
import { networkEventId, TEST_MARK, worthTold } from '@/core/signals/fillCode'
import { type Signs, signOf, signsOf, type ToldResult } from '@/core/signals/outcomes'
import { hasPlace } from '@/core/signals/outgoing'
import { type ResultDefinition, usualWorth } from '@/core/signals/result'
import { findClicks } from '@/data/arrivals'
import type { Database } from '@/data/connect'
import {
  eventsWritten,
  noteCorrected,
  ordersCalled,
  ordersWritten,
  queueRelays,
  type Reached,
  type Relay,
  relayedAs,
  relayedUpTo,
  rememberRelayed,
  signsOfOrders,
  testsArrived,
} from '@/data/relays'
import { listDefinitions, listSlots, resultsOfShop } from '@/data/signals'
import { findWorkspace, listProfiles, type Workspace } from '@/data/workspace'

/** Live tests are looked at so far back, which no difference of clocks reaches; what is known is not queued again. */
const TESTS_MS = DAY_MS

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
  /** whether it is booked: what a browser alone tells of a result of which the shop tells is not */
  confirmed: boolean
  /** whether it counts; what does not is told only to whoever heard that it does */
  counts: boolean
  /** the revision of the row that tells of it */
  revision: number
}

/** What is known while a workspace's networks are told. */
interface Known {
  workspace: Workspace
  profiles: readonly NetworkProfile[]
  slots: Awaited<ReturnType<typeof listSlots>>
  definitions: readonly ResultDefinition[]
  /** since when the shop tells of each result */
  ofShop: ReadonlyMap<string, number>
  oldest: Date
}

/**
 * Queues for every network with a relay what was written since the last time: results by the tag's rules, and orders,
 * also those that no browser told of. Under the same event ID nothing is queued twice. Where the shop tells of a
 * result, a browser's word waits for the shop's, and adds to it whose click it was (docs/decisions/038).
 *
 * @param beat hears after each page that it goes on
 */
export async function queueArrived(
  database: Database,
  workspaceId: string,
  now: number,
  beat: () => void = () => {},
): Promise<void> {
  const profiles = (await listProfiles(database, workspaceId)).filter(p => p.outgoing && p.relayed_since)
  const workspace = await findWorkspace(database, workspaceId)
  if (profiles.length === 0 || !workspace) return
  const since = await relayedUpTo(database, workspaceId)
  const longest = Math.max(...profiles.map(p => p.confirmed_within_days))
  const known: Known = {
    workspace,
    profiles,
    slots: await listSlots(database, workspaceId),
    definitions: await listDefinitions(database, workspaceId),
    ofShop: await resultsOfShop(database, workspaceId),
    oldest: new Date(now - longest * DAY_MS),
  }
  await queueHappened(database, known, await testsHappened(database, known, now))
  // A page at a time, however much a file brought at once.
  for (const written of [eventsHappened, ordersHappened])
    for (let place: Reached | null = { revision: since, id: '' }; place; ) {
      const page: Page = await written(database, known, place)
      await queueHappened(database, known, page.happened)
      beat()
      place = page.next
    }
  // Whatever is written from now on bears a later revision than this version.
  await rememberRelayed(database, workspaceId, workspace.version)
}

async function queueHappened(database: Database, known: Known, happened: readonly Happened[]): Promise<void> {
  if (happened.length === 0) return
  const workspace = known.workspace.id
  const idOf = (h: Happened) => networkEventId(h.result, h.transaction, h.id)
  const heard = await relayedAs(database, workspace, happened.map(idOf))
  const wanted = known.profiles.flatMap(profile =>
    happened.flatMap(h => {
      const slot = known.slots.find(s => s.network === profile.id && s.result === h.result)?.slot
      // Code of the site knows no event ID of ours but a transaction's: the same event would count twice.
      if (profile.placed_by === 'site' && profile.tag && h.transaction === null) return []
      const before = heard.get(`${profile.id} ${idOf(h)}`)
      return slot && h.at >= Date.parse(profile.relayed_since!) ? [{ profile, h, slot, before }] : []
    }),
  )
  const isOpen = (before: Pick<Relay, 'state'> | undefined) =>
    !before || before.state === 'no_click' || before.state === 'unconfirmed'
  const first = wanted.filter(({ h, before }) => h.counts && isOpen(before))
  const clicks = new Map(
    (
      await findClicks(
        database,
        workspace,
        first.flatMap(w => w.h.click ?? []),
      )
    ).map(c => [c.click_id, c]),
  )
  const rows = first.map(({ profile, h, slot }) => {
    const click = h.click === null ? undefined : clicks.get(h.click)
    const reference = click?.network === profile.id ? (click.network_click_id ?? '') : ''
    const definition = known.definitions.find(d => d.id === h.result)
    const usual = definition ? usualWorth(definition) : { value: '', currency: '' }
    const testable = h.test === null || hasPlace(profile.outgoing!, 'test')
    const placed = reference !== '' || !hasPlace(profile.outgoing!, 'click_id')
    const state: Relay['state'] = !h.confirmed
      ? 'unconfirmed'
      : placed || (h.test !== null && testable)
        ? 'waiting'
        : 'no_click'
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
  // Of two signs of one transaction one statement takes one.
  await queueRelays(database, [...new Map(rows.map(row => [`${row.network} ${row.event_id}`, row])).values()])
  for (const { profile, h, before } of wanted)
    if (before?.state === 'taken' && h.confirmed && hasPlace(profile.outgoing!, 'correction'))
      await queueCorrection(database, profile.id, h, { workspace, event_id: idOf(h), before })
}

/** Tells a network what an order that it heard of is now. */
async function queueCorrection(
  database: Database,
  network: string,
  h: Happened,
  { workspace, event_id, before }: { workspace: string; event_id: string; before: Pick<Relay, 'facts'> },
): Promise<void> {
  const now = h.counts
    ? { value: h.value ?? '', currency: h.currency ?? '' }
    : { value: '0', currency: before.facts.currency ?? '' }
  const stood = before.facts.correction === 'cancelled'
  if (h.counts ? !stood && now.value === before.facts.value : stood) return
  const facts = { ...now, correction: h.counts ? 'changed' : 'cancelled' }
  await database.transaction(async transaction => {
    await queueRelays(transaction, [
      {
        workspace,
        network,
        event_id: `${event_id}~${h.revision}`,
        result: h.result,
        at: h.at,
        facts: { ...before.facts, ...facts },
        state: 'waiting',
        test: null,
      },
    ])
    await noteCorrected(transaction, { workspace, network, event_id }, facts)
  })
}

interface Page {
  happened: Happened[]
  /** where the next page begins; null behind the last */
  next: Reached | null
}
type EventRow = Awaited<ReturnType<typeof eventsWritten>>[number]
type OrderRow = Awaited<ReturnType<typeof ordersWritten>>[number]

/** What rules told; and the orders whose sign came after them. */
async function eventsHappened(database: Database, known: Known, place: Reached): Promise<Page> {
  const told = await eventsWritten(database, known.workspace.id, place, known.oldest)
  const named = told.flatMap(e => (known.ofShop.has(e.name) ? (e.transaction_id ?? []) : []))
  const orders = await ordersCalled(database, known.workspace.id, named)
  const booked = new Set(orders.map(order => order.order_id))
  const happened = told
    .filter(e => e.transaction_id === null || !booked.has(e.transaction_id))
    .map(e => ({
      result: e.name,
      id: e.event_id,
      at: e.at.getTime(),
      transaction: e.transaction_id,
      click: e.click_id,
      page: e.page,
      value: e.value,
      currency: e.currency,
      test: null,
      confirmed: !known.ofShop.has(e.name),
      counts: true,
      revision: e.revision,
    }))
  const last = told.at(-1)
  return {
    happened: [...happened, ...(await asHappened(database, known, orders))],
    next: last ? { revision: last.revision, id: last.event_id } : null,
  }
}

async function ordersHappened(database: Database, known: Known, place: Reached): Promise<Page> {
  const written = await ordersWritten(database, known.workspace.id, place, known.oldest)
  const last = written.at(-1)
  return {
    happened: await asHappened(database, known, written),
    next: last ? { revision: last.revision, id: last.order_id } : null,
  }
}

/** Orders, each with the click that a browser's sign of it tells. */
async function asHappened(
  database: Database,
  { workspace: { id, settings }, oldest }: Known,
  orders: readonly OrderRow[],
): Promise<Happened[]> {
  const rows = await signsOfOrders(
    database,
    id,
    orders.map(o => o.order_id),
    oldest,
  )
  const told = rows.map((row: EventRow): ToldResult & { page: string | null } => ({
    ...row,
    at: row.at.getTime(),
  }))
  const pages = new Map(told.map(({ event_id, page }) => [event_id, page]))
  const signs = new Map<string, Signs>()
  return orders.map(o => {
    let own = signs.get(o.result)
    if (!own) signs.set(o.result, (own = signsOf(told, o.result)))
    const amounts = amountsOf(o)
    const sign = signOf({ ...o, ...amounts, ordered_at: o.ordered_at.getTime() }, own)
    return {
      result: o.result,
      id: o.order_id,
      at: o.ordered_at.getTime(),
      transaction: o.order_id,
      click: o.click_id ?? sign?.click_id ?? null,
      page: sign ? (pages.get(sign.event_id) ?? null) : null,
      value: formatAmount(orderWorth({ ...o, ...amounts }, settings.order_value), o.currency),
      currency: o.currency,
      test: null,
      confirmed: true,
      counts: countsAsOrder(o.status),
      revision: o.revision,
    }
  })
}
const amountsOf = (o: OrderRow): Record<'total' | 'tax' | 'shipping' | 'refunded', Minor> => ({
  total: minor(o.total),
  tax: minor(o.tax),
  shipping: minor(o.shipping),
  refunded: minor(o.refunded),
})

const testsHappened = async (database: Database, { workspace }: Known, now: number) =>
  (await testsArrived(database, workspace.id, new Date(now - TESTS_MS))).flatMap(
    ({ token, record }): Happened[] => {
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
          confirmed: true,
          counts: true,
          revision: 0,
        },
      ]
    },
  )
