import { randomBytes } from 'node:crypto'
import { and, eq } from 'drizzle-orm'
import { Webhook, WebhookVerificationError } from 'standardwebhooks'
import * as z from 'zod'
import { rowReader } from '@/core/intake/fields'
import { orderMessageSchema, rowOfMessage } from '@/core/intake/orderMessage'
import { exchangeFiles, type RecordOf } from '@/core/intake/records'
import { zoneClock } from '@/core/shared/days'
import { converter } from '@/core/shared/rates'
import type { Database, Executor } from '@/data/connect'
import { loadRates, storeRecords } from '@/data/exchange'
import { keepAside } from '@/data/intake'
import { markTestOrders } from '@/data/liveTests'
import { orders, secrets, webhookMessages } from '@/data/schema'
import { raiseVersion, type Workspace } from '@/data/workspace'

const NAME = 'orders_webhook'

/** The secret that the shop signs with, minted at first use. It leaves the database for nobody but its owner. */
export async function webhookSecret(database: Executor, workspace: string): Promise<string> {
  const fresh = `whsec_${randomBytes(24).toString('base64')}`
  await database.insert(secrets).values({ workspace, name: NAME, value: fresh }).onConflictDoNothing()
  const [row] = await database
    .select()
    .from(secrets)
    .where(and(eq(secrets.workspace, workspace), eq(secrets.name, NAME)))
  return row?.value ?? fresh
}

export type WebhookAnswer =
  | { status: 200 | 202; order: string; outcome: 'taken' | 'older' | 'set_aside' }
  | Refusal
type Refusal = { status: 400 | 401 | 409 | 422; error: string }

/**
 * Takes one signed message of the shop about an order (Standard Webhooks). A replay is refused, and a
 * message that is older than what is known of its order changes nothing.
 */
export async function takeOrderMessage(
  database: Database,
  workspace: Workspace,
  body: string,
  headers: Record<string, string>,
): Promise<WebhookAnswer> {
  try {
    new Webhook(await webhookSecret(database, workspace.id)).verify(body, headers)
  } catch (error) {
    if (!(error instanceof WebhookVerificationError)) return { status: 400, error: 'The body is not JSON.' }
    const timestamp = /timestamp/i.test(error.message)
    return { status: timestamp ? 400 : 401, error: `${error.message}. Nothing was taken in.` }
  }
  const read = readMessage(body)
  if ('error' in read) return read
  const id = headers['webhook-id'] ?? ''
  return database.transaction(async (transaction): Promise<WebhookAnswer> => {
    const fresh = await transaction
      .insert(webhookMessages)
      .values({ workspace: workspace.id, id, at: new Date() })
      .onConflictDoNothing()
    if (fresh.rowCount === 0) return { status: 409, error: `Message ${id} was taken already.` }
    const order = read.order.order_id
    const outcome = await storeOrderMessage(transaction, workspace, body)
    if (outcome) return { status: 200, order, outcome }
    const facts = { currency: read.order.currency }
    await keepAside(transaction, workspace.id, [
      { id, kind: 'order', at: new Date(), reason: 'no_rate', facts, raw: body },
    ])
    return { status: 202, order, outcome: 'set_aside' }
  })
}

function readMessage(body: string): Refusal | { order: RecordOf['orders']; changed: Date } {
  const message = orderMessageSchema.safeParse(JSON.parse(body))
  if (!message.success) return { status: 422, error: z.prettifyError(message.error) }
  const columns = Object.fromEntries(exchangeFiles.orders.columns.map(column => [column, null]))
  const read = rowReader(exchangeFiles.orders.schema)({ ...columns, ...rowOfMessage(message.data) })
  if (!('record' in read))
    return { status: 422, error: `data.${read.column}: ${read.reason.replaceAll('_', ' ')}.` }
  return { order: read.record as RecordOf['orders'], changed: new Date(message.data.timestamp) }
}

/** Stores the order of a message whose signature was good; null where its currency has no rate. */
export async function storeOrderMessage(
  database: Executor,
  workspace: Workspace,
  body: string,
): Promise<'taken' | 'older' | null> {
  const read = readMessage(body)
  if ('error' in read) throw new Error(read.error)
  const { order, changed } = read
  if (!(await hasRate(database, workspace, order))) return null
  const own = and(eq(orders.workspace, workspace.id), eq(orders.order_id, order.order_id))
  const [before] = await database.select({ changed: orders.changed_at }).from(orders).where(own)
  if (before?.changed && before.changed >= changed) return 'older'
  await storeRecords(database, workspace.id, 'orders', [order])
  await database.update(orders).set({ changed_at: changed }).where(own)
  await markTestOrders(database, workspace.id)
  await raiseVersion(database, workspace.id)
  return 'taken'
}

async function hasRate(database: Executor, { id, settings }: Workspace, order: RecordOf['orders']) {
  if (order.currency === settings.currency) return true
  const toOwn = converter(await loadRates(database, id))
  const { day } = zoneClock(settings.time_zone)(order.ordered_at)
  return toOwn(order.total, order.currency, settings.currency, day) !== null
}
