import { and, desc, eq } from 'drizzle-orm'
import type { Executor } from './connect'
import { adEntities, clicks, type events, type hops, orders, type postbacks } from './schema'

/** The latest clicks, each with the names of its campaign and ad. */
export async function latestClicks(
  database: Executor,
  workspace: string,
  network: string | null,
  most: number,
) {
  const campaigns = database
    .select()
    .from(adEntities)
    .where(and(eq(adEntities.workspace, workspace), eq(adEntities.level, 'campaign')))
    .as('campaigns')
  const ads = database
    .select()
    .from(adEntities)
    .where(and(eq(adEntities.workspace, workspace), eq(adEntities.level, 'ad')))
    .as('ads')
  // The few first, then their names: joined first, every click would be.
  const newest = database
    .select()
    .from(clicks)
    .where(and(eq(clicks.workspace, workspace), network ? eq(clicks.network, network) : undefined))
    .orderBy(desc(clicks.day), desc(clicks.clicked_at))
    .limit(most)
    .as('latest')
  return database
    .select({ ...newest._.selectedFields, campaign: campaigns.name, ad: ads.name })
    .from(newest)
    .leftJoin(campaigns, and(eq(campaigns.network, newest.network), eq(campaigns.id, newest.campaign_id)))
    .leftJoin(ads, and(eq(ads.network, newest.network), eq(ads.id, newest.ad_id)))
    .orderBy(desc(newest.clicked_at))
}

export const latestOrders = (database: Executor, workspace: string, most: number) =>
  database
    .select()
    .from(orders)
    .where(eq(orders.workspace, workspace))
    .orderBy(desc(orders.ordered_at))
    .limit(most)

type Dated = typeof events | typeof hops | typeof postbacks
/** The latest rows of a table that is keyed by day. */
export const latest = <Table extends Dated>(
  database: Executor,
  workspace: string,
  table: Table,
  most: number,
): Promise<Table['$inferSelect'][]> =>
  database
    .select()
    .from(table as Dated)
    .where(eq(table.workspace, workspace))
    .orderBy(desc(table.day), desc(table.at))
    .limit(most) as Promise<Table['$inferSelect'][]>
