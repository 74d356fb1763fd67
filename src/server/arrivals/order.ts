import { and, asc, eq } from 'drizzle-orm'
import { orderWorth } from '@/core/intake/orderWorth'
import { countsAsOrder } from '@/core/intake/records'
import { zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import { findClicks } from '@/data/arrivals'
import type { Database } from '@/data/connect'
import { listDecisions } from '@/data/decisions'
import { loadRates } from '@/data/loadRecords'
import { orders } from '@/data/schema'
import type { Workspace } from '@/data/workspace'
import { ask } from '../compute/ask'
import { weekdays } from './latest'

type OrderRow = typeof orders.$inferSelect

/** One order with every touch of whoever placed it, the claims on it, and the customer's other orders. */
export async function describeOrder(database: Database, workspace: Workspace, orderId: string) {
  const own = and(eq(orders.workspace, workspace.id), eq(orders.order_id, orderId))
  const [order] = await database.select().from(orders).where(own)
  if (!order) return null
  const evidence = await ask(workspace.id, 'order', orderId)
  const clicks = new Map(
    (await findClicks(database, workspace.id, evidence?.touches.map(t => t.clickId) ?? [])).map(c => [
      c.click_id,
      c,
    ]),
  )
  const localTime = zoneClock(workspace.settings.time_zone)
  const timed = (at: number) => {
    const { weekday, hour } = localTime(at)
    return { at, weekday: weekdays[weekday - 1]!, hour }
  }
  const { workspace: _, attributes, arrived_at, changed_at, ...row } = order
  return {
    order: {
      ...row,
      ...timed(order.ordered_at.getTime()),
      counts: countsAsOrder(order.status),
    },
    attributes: attributes ?? {},
    line: evidence?.line ?? null,
    touches: (evidence?.touches ?? []).map(touch => {
      const click = clicks.get(touch.clickId)
      return {
        ...touch,
        ...timed(touch.at),
        landing: click?.landing_url ?? null,
        parameters:
          click?.landing_url && URL.canParse(click.landing_url)
            ? [...new URL(click.landing_url).searchParams]
            : [],
        device: click?.device ?? null,
        placement: click?.placement ?? null,
        keyword: click?.keyword ?? null,
        country: click?.country ?? null,
        counted: click ? !click.bot && !click.repeated : true,
      }
    }),
    claims: evidence?.claims ?? [],
    decisions: (await listDecisions(database, workspace.id)).filter(decided =>
      decided.about === 'customers'
        ? order.customer_id !== null && decided.customers.includes(order.customer_id)
        : decided.order === order.order_id,
    ),
    customer: order.customer_id === null ? null : await describeCustomer(database, workspace, order),
  }
}
export type DescribedOrder = NonNullable<Awaited<ReturnType<typeof describeOrder>>>

/** All orders of an order's customer, and what they come to in the workspace's currency, refunds taken off. */
async function describeCustomer(database: Database, { id, settings }: Workspace, order: OrderRow) {
  const all = await database
    .select()
    .from(orders)
    .where(and(eq(orders.workspace, id), eq(orders.customer_id, order.customer_id!)))
    .orderBy(asc(orders.ordered_at))
  const toOwn = converter(await loadRates(database, id))
  const localTime = zoneClock(settings.time_zone)
  const inOwn = (row: OrderRow, units: number) =>
    toOwn(minor(units), row.currency, settings.currency, localTime(row.ordered_at.getTime()).day) ?? 0
  const counting = all.filter(row => countsAsOrder(row.status))
  const lifetime = counting.reduce((sum, row) => sum + inOwn(row, orderWorth(row, settings.order_value)), 0)
  const refundOf = (row: OrderRow) => (row.status === 'refunded' ? row.refunded || row.total : row.refunded)
  return {
    id: order.customer_id!,
    currency: settings.currency,
    counting: counting.length,
    lifetime,
    average: counting.length > 0 ? Math.round(lifetime / counting.length) : null,
    refunded: all.reduce((sum, row) => sum + inOwn(row, refundOf(row)), 0),
    orders: all.map(row => ({
      id: row.order_id,
      at: row.ordered_at.getTime(),
      status: row.status,
      result: row.result,
      total: row.total,
      currency: row.currency,
    })),
  }
}
