import { randomBytes } from 'node:crypto'
import { and, eq, sql } from 'drizzle-orm'
import type { OrderArrival } from '@/core/intake/arrival'
import { LONGEST_ID } from '@/core/intake/fields'
import { type ReadOrder, readOrderMessage } from '@/core/intake/orderMessage'
import type { OrderSecret } from '@/core/intake/routing'
import { DAY_MS, zoneClock } from '@/core/shared/days'
import { converter } from '@/core/shared/rates'
import type { Database, Executor } from '@/data/connect'
import { keepAside, keepSecret, noteMessages } from '@/data/intake'
import { markTestOrders } from '@/data/liveTests'
import { loadRates } from '@/data/loadRecords'
import { orders, secrets } from '@/data/schema'
import { upsertRows } from '@/data/store'
import { rowsOf } from '@/data/storeRecords'
import { findWorkspace, raiseVersion, type Workspace } from '@/data/workspace'
import { checkSignature } from '@/formats/signedMessage'

const NAME = 'orders_webhook'
const FORMER = 'orders_webhook.former'
/** How long a replaced secret is taken beside the new one. */
const FORMER_DAYS = 2

const mintSecret = () => `whsec_${randomBytes(24).toString('base64')}`

/** What a shop's messages may be signed with: the secret that is given out, minted at first use, and one that it replaced. */
export async function orderSecrets(database: Executor, workspace: string): Promise<OrderSecret[]> {
  const value = await keepSecret(database, workspace, NAME, mintSecret)
  const former = await database
    .select()
    .from(secrets)
    .where(and(eq(secrets.workspace, workspace), eq(secrets.name, FORMER)))
  return [{ value, until: null }, ...former.map(f => ({ value: f.value, until: f.until?.getTime() ?? 0 }))]
}

/** The secret that is given out. It leaves the database for nobody but its owner and the collector. */
export const webhookSecret = (database: Executor, workspace: string): Promise<string> =>
  keepSecret(database, workspace, NAME, mintSecret)

/** Gives out a new secret; the one before it is taken for two days more. */
export async function replaceOrderSecret(database: Database, workspace: string, now: number): Promise<void> {
  await database.transaction(async transaction => {
    const value = await webhookSecret(transaction, workspace)
    const until = new Date(now + FORMER_DAYS * DAY_MS)
    await transaction
      .insert(secrets)
      .values({ workspace, name: FORMER, value, until })
      .onConflictDoUpdate({ target: [secrets.workspace, secrets.name], set: { value, until } })
    await transaction
      .update(secrets)
      .set({ value: mintSecret() })
      .where(and(eq(secrets.workspace, workspace), eq(secrets.name, NAME)))
  })
}

export type WebhookAnswer =
  | { status: 200 | 202; order: string; outcome: 'taken' | 'older' | 'again' | 'set_aside' }
  | { status: 400 | 401 | 422; error: string }

/** Takes one signed message of the shop about an order (Standard Webhooks) from a caller on this machine. */
export async function takeOrderMessage(
  database: Database,
  workspace: Workspace,
  body: string,
  headers: Record<string, string>,
): Promise<WebhookAnswer> {
  const problem = checkSignature(body, headers, await orderSecrets(database, workspace.id), Date.now())
  if (problem) return problem
  const id = headers['webhook-id'] ?? ''
  if (id.length > LONGEST_ID)
    return { status: 400, error: `A webhook-id has at most ${LONGEST_ID} characters.` }
  const read = readOrderMessage(body)
  if ('error' in read) return { status: 422, error: read.error }
  const order = read.order.order_id
  const outcome = await database.transaction(async transaction => {
    const { again, aside, stored } = await storeMessages(transaction, workspace, [
      { id, at: Date.now(), message: body, read },
    ])
    return again > 0 ? 'again' : aside > 0 ? 'set_aside' : stored > 0 ? 'taken' : 'older'
  })
  return { status: outcome === 'set_aside' ? 202 : 200, order, outcome }
}

/** Takes what the collector took of a shop's signed messages, in the order in which they came. */
export async function takeOrderMessages(
  database: Executor,
  workspaceId: string,
  arrivals: readonly OrderArrival[],
): Promise<void> {
  const workspace = await findWorkspace(database, workspaceId)
  if (!workspace) throw new Error(`There is no workspace ${workspaceId}.`)
  await storeMessages(
    database,
    workspace,
    arrivals.map(({ id, at, message }) => {
      const read = readOrderMessage(message)
      if ('error' in read) throw new Error(read.error)
      return { id, at, message, read }
    }),
  )
}

interface Message extends Pick<OrderArrival, 'id' | 'at' | 'message'> {
  read: ReadOrder
}

/** Stores each message once: sent again it changes nothing, and one without a rate waits aside. */
async function storeMessages(database: Executor, workspace: Workspace, messages: readonly Message[]) {
  const first = new Map([...messages].reverse().map(message => [message.id, message]))
  const fresh = new Set(
    await noteMessages(
      database,
      workspace.id,
      [...first.values()].map(({ id, at }) => ({ id, at })),
    ),
  )
  const taken = messages.filter(message => fresh.has(message.id) && first.get(message.id) === message)
  const hasRate = await rateFinder(database, workspace, taken)
  const aside = taken.filter(({ read }) => !hasRate(read.order))
  await keepAside(
    database,
    workspace.id,
    aside.map(({ id, at, message, read }) => ({
      id,
      kind: 'order',
      at: new Date(at),
      reason: 'no_rate',
      facts: { currency: read.order.currency },
      raw: message,
    })),
  )
  const good = taken.filter(({ read }) => hasRate(read.order)).map(({ read }) => read)
  const stored = await storeOrders(database, workspace, good)
  return { again: messages.length - taken.length, aside: aside.length, stored }
}

/** Stores the order of a message that was set aside; null where its currency still has no rate. */
export async function storeOrderMessage(
  database: Executor,
  workspace: Workspace,
  body: string,
): Promise<'taken' | 'older' | null> {
  const read = readOrderMessage(body)
  if ('error' in read) throw new Error(read.error)
  const hasRate = await rateFinder(database, workspace, [{ read }])
  if (!hasRate(read.order)) return null
  return (await storeOrders(database, workspace, [read])) > 0 ? 'taken' : 'older'
}

/**
 * Stores orders as messages have them. Whether what is held is newer is decided in the statement that
 * would replace it, so that of two at once the newer holds; what became so at the same time is not older.
 *
 * @returns how many were new or changed
 */
async function storeOrders(
  database: Executor,
  workspace: Workspace,
  read: readonly ReadOrder[],
): Promise<number> {
  if (read.length === 0) return 0
  // Of several about one order the newest holds, of those of one time the last.
  const latest = new Map(
    [...read].sort((a, b) => a.changed - b.changed).map(one => [one.order.order_id, one]),
  )
  const rows = [...latest.values()].flatMap(({ order, changed }) =>
    rowsOf(workspace.id, 'orders', [order]).map(row => ({
      ...row,
      changed_at: new Date(changed).toISOString(),
    })),
  )
  const stored = await upsertRows(database, orders, rows, {
    unless: sql`${orders.changed_at} > excluded.changed_at`,
  })
  if (stored > 0) {
    await markTestOrders(database, workspace.id)
    await raiseVersion(database, workspace.id)
  }
  return stored
}

/** Says of orders whether their amounts can be brought into the workspace's currency. */
async function rateFinder(
  database: Executor,
  { id, settings }: Workspace,
  messages: readonly Pick<Message, 'read'>[],
): Promise<(order: ReadOrder['order']) => boolean> {
  const isOwn = ({ currency }: ReadOrder['order']) => currency === settings.currency
  if (messages.every(({ read }) => isOwn(read.order))) return () => true
  const toOwn = converter(await loadRates(database, id))
  const clock = zoneClock(settings.time_zone)
  return order =>
    isOwn(order) ||
    toOwn(order.total, order.currency, settings.currency, clock(order.ordered_at).day) !== null
}
