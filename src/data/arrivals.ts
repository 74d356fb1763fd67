import { and, desc, eq, getTableColumns } from 'drizzle-orm'
import type { Executor } from './connect'
import { adEntities, clicks, orders } from './schema'

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
  return database
    .select({ ...getTableColumns(clicks), campaign: campaigns.name, ad: ads.name })
    .from(clicks)
    .leftJoin(campaigns, and(eq(campaigns.network, clicks.network), eq(campaigns.id, clicks.campaign_id)))
    .leftJoin(ads, and(eq(ads.network, clicks.network), eq(ads.id, clicks.ad_id)))
    .where(and(eq(clicks.workspace, workspace), network ? eq(clicks.network, network) : undefined))
    .orderBy(desc(clicks.day), desc(clicks.clicked_at))
    .limit(most)
}

export const latestOrders = (database: Executor, workspace: string, most: number) =>
  database
    .select()
    .from(orders)
    .where(eq(orders.workspace, workspace))
    .orderBy(desc(orders.ordered_at))
    .limit(most)
