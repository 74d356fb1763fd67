import { DAY_MS, HOUR_MS } from '@/core/shared/days'
import { networkEventId } from '@/core/signals/fillCode'
import type { OutgoingValues, Try } from '@/core/signals/outgoing'
import type { Database } from '@/data/connect'
import { rememberRelayed } from '@/data/relays'
import { hops, relays } from '@/data/schema'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { storeArrivals } from '@/server/drain/storeArrivals'
import { importFile } from '@/server/import/importFile'

type Row = Record<string, string | number>

/** Takes in what the partner told by postback, as if it had come one after the other. */
export const fillPostbacks = (
  database: Database,
  workspace: string,
  postbacks: readonly { at: number; query: string }[],
) =>
  storeArrivals(
    database,
    postbacks.map(({ at, query }, i) => ({
      kind: 'postback' as const,
      id: `demo-postback-${i}`,
      at,
      workspace,
      from: '192.0.2.0',
      agent: 'corvane/1',
      partner: 'corvane',
      query,
    })),
  )

/** For each who bought a course, so many others looked at the offer as well. */
const LOOKERS = 9

/** Who went on from a landing page to the offer of the course: those who bought it, and others who did not. */
export async function fillHops(
  database: Database,
  workspace: string,
  postbacks: readonly { at: number; query: string }[],
  clicks: readonly Row[],
  partner: string,
): Promise<void> {
  const bought = new Set(postbacks.map(({ query }) => new URLSearchParams(query).get('p1') ?? ''))
  const others = Math.max(1, Math.floor(clicks.length / (bought.size * LOOKERS)))
  const gone = clicks.filter((click, i) => bought.has(String(click.click_id)) || i % others === 0)
  const rows = gone.map(click => {
    const at = new Date(Date.parse(String(click.clicked_at)) + 40_000)
    return {
      workspace,
      day: at.toISOString().slice(0, 10),
      hop_id: `h${click.click_id}`,
      at,
      code: 'course',
      click_id: String(click.click_id),
      visitor_id: String(click.visitor_id),
      offer: `${partner}/offer/course`,
    }
  })
  for (let i = 0; i < rows.length; i += 500)
    await database
      .insert(hops)
      .values(rows.slice(i, i + 500))
      .onConflictDoNothing()
}

/** What came wrong and waits in Intake: a rate that is missing, a status that nobody knows, an amount that is none. */
export async function fillSetAside(database: Database, workspace: Workspace, now: number): Promise<void> {
  const at = (ago: number) => new Date(now - ago * HOUR_MS).toISOString()
  const orders = [
    'order_id,ordered_at,status,currency,total',
    `T-fair-12,${at(30)},paid,GBP,61.00`,
    `T-9917,${at(26)},on its way,EUR,149.00`,
  ]
  await importFile(database, workspace, 'orders', `${orders.join('\n')}\n`, { file: 'craft fair.csv' })
  await fillPostbacks(database, workspace.id, [
    { at: now - 5 * HOUR_MS, query: 'deal=D7900&amount=eighty&cur=EUR&state=ok' },
  ])
}

const TOLD_DAYS = 3
/** What a network answers, as the practice networks do. */
const answers = {
  taken: { status: 200, said: '{"received":1}' },
  refused: { status: 422, said: '{"error":"the event is older than the account allows"}' },
  late: { status: 503, said: 'busy, come again' },
}

/*/** What the server told networks of the last days' orders: mostly taken, some refused, the latest still waiting. */
export async function fillRelays(
  database: Database,
  workspace: string,
  slots: Readonly<Record<string, string>>,
  orders: readonly Row[],
  clicks: readonly Row[],
  now: number,
): Promise<void> {
  const clickOf = new Map(clicks.map(click => [String(click.click_id), click]))
  const told = orders.filter(order => {
    const ago = now - Date.parse(String(order.ordered_at))
    return ago > 0 && ago < TOLD_DAYS * DAY_MS && (order.status === 'paid' || order.status === '')
  })
  const rows = Object.entries(slots).flatMap(([network, slot], n) =>
    told.map((order, i) => {
      const at = Date.parse(String(order.ordered_at))
      const click = clickOf.get(String(order.click_id))
      const own = click?.network === network ? String(click.network_click_id ?? '') : ''
      const wants = (i * 7 + n * 3) % 40
      const state = !own
        ? ('no_click' as const)
        : now - at < 4 * HOUR_MS && wants % 3 === 0
          ? ('waiting' as const)
          : wants === 0
            ? ('refused' as const)
            : ('taken' as const)
      const eventId = networkEventId('order', String(order.order_id), '')
      const facts: OutgoingValues = {
        event: slot,
        event_id: eventId,
        at_seconds: String(Math.floor(at / 1000)),
        value: String(order.total),
        currency: 'EUR',
        transaction: String(order.order_id),
        at: new Date(at).toISOString(),
        ...(own && { click_id: own }),
      }
      const tries: Try[] =
        state === 'no_click'
          ? []
          : state === 'waiting'
            ? [
                { at: at + 2000, ...answers.late },
                { at: at + 14_000, ...answers.late },
              ]
            : [{ at: at + 2000, ...(state === 'refused' ? answers.refused : answers.taken) }]
      return {
        workspace,
        network,
        event_id: eventId,
        result: 'order',
        at: new Date(at),
        facts,
        state,
        next_at: new Date(state === 'waiting' ? now + 5 * HOUR_MS : at),
        tries,
      }
    }),
  )
  for (let i = 0; i < rows.length; i += 500)
    await database
      .insert(relays)
      .values(rows.slice(i, i + 500))
      .onConflictDoNothing()
  // What the demo is filled with is told already.
  const version = (await findWorkspace(database, workspace))?.version ?? 0
  await rememberRelayed(database, workspace, version)
}
