import { and, eq, sql } from 'drizzle-orm'
import type { OrderStatus } from '@/core/intake/records'
import { formatAmount } from '@/core/shared/money'
import type { Executor } from './connect'
import { keepBefore } from './importLog'
import { nextRevision } from './revision'
import { orders } from './schema'
import { oneOf } from './store'

/** What is held of some orders, amounts as decimals in their own currency. */
export async function heldOrders(database: Executor, workspace: string, ids: readonly string[]) {
  const found = await database
    .select({
      order_id: orders.order_id,
      status: orders.status,
      currency: orders.currency,
      total: orders.total,
      refunded: orders.refunded,
      tax: orders.tax,
      shipping: orders.shipping,
      ordered_at: orders.ordered_at,
      customer_id: orders.customer_id,
      landing_url: orders.landing_url,
      click_id: orders.click_id,
      visitor_id: orders.visitor_id,
      utm_source: orders.utm_source,
      utm_medium: orders.utm_medium,
      utm_campaign: orders.utm_campaign,
      utm_term: orders.utm_term,
      utm_content: orders.utm_content,
      channel: orders.channel,
      product_group: orders.product_group,
    })
    .from(orders)
    .where(and(eq(orders.workspace, workspace), oneOf(orders.order_id, ids)))
  return found.map(order => ({
    ...order,
    total: formatAmount(order.total, order.currency),
    refunded: formatAmount(order.refunded, order.currency),
    tax: formatAmount(order.tax, order.currency),
    shipping: formatAmount(order.shipping, order.currency),
  }))
}

/** The groups of products that orders name, with how many of each, the most first. */
export async function productGroups(
  database: Executor,
  workspace: string,
): Promise<{ name: string; orders: number }[]> {
  const named = sql<number>`count(*)::int`
  const rows = await database
    .select({ name: orders.product_group, orders: named })
    .from(orders)
    .where(and(eq(orders.workspace, workspace), sql`${orders.product_group} is not null`))
    .groupBy(orders.product_group)
    .orderBy(sql`count(*) desc`, orders.product_group)
    .limit(MOST_GROUPS)
  return rows.map(row => ({ name: row.name!, orders: row.orders }))
}
/** More are no groups, but products. */
const MOST_GROUPS = 60

/** The customers that orders name, and whose each order is. */
export async function heldCustomers(
  database: Executor,
  workspace: string,
): Promise<{ customers: Set<string>; ofOrder: Map<string, string> }> {
  const rows = await database
    .select({ order: orders.order_id, customer: orders.customer_id })
    .from(orders)
    .where(and(eq(orders.workspace, workspace), sql`${orders.customer_id} is not null`))
  return {
    customers: new Set(rows.map(row => row.customer!)),
    ofOrder: new Map(rows.map(row => [row.order, row.customer!])),
  }
}

/** What went back of an order, in minor units of its currency, and what it is then. */
export interface HeldRefund {
  order_id: string
  refunded: number
  status: OrderStatus
}

/** Settles what went back of orders; to be called in a transaction that raises the version. */
export async function saveRefunds(
  database: Executor,
  workspace: string,
  refunds: readonly HeldRefund[],
): Promise<void> {
  await keepBefore(
    database,
    orders,
    refunds.map(({ order_id }) => ({ workspace, order_id })),
  )
  const revision = await nextRevision(database, workspace)
  await database.execute(sql`
    update orders set refunded = r.refunded, status = r.status, revision = ${revision}::bigint
    from json_to_recordset(${JSON.stringify(refunds)}::json) as r(order_id text, refunded bigint, status text)
    where orders.workspace = ${workspace} and orders.order_id = r.order_id`)
}
