import { and, desc, eq } from 'drizzle-orm'
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
  // The few first, then their names: joined first, every click would be.
  const latest = database
    .select()
    .from(clicks)
    .where(and(eq(clicks.workspace, workspace), network ? eq(clicks.network, network) : undefined))
    .orderBy(desc(clicks.day), desc(clicks.clicked_at))
    .limit(most)
    .as('latest')
  return database
    .select({ ...latest._.selectedFields, campaign: campaigns.name, ad: ads.name })
    .from(latest)
    .leftJoin(campaigns, and(eq(campaigns.network, latest.network), eq(campaigns.id, latest.campaign_id)))
    .leftJoin(ads, and(eq(ads.network, latest.network), eq(ads.id, latest.ad_id)))
    .orderBy(desc(latest.clicked_at))
}

export const latestOrders = (database: Executor, workspace: string, most: number) =>
  database
    .select()
    .from(orders)
    .where(eq(orders.workspace, workspace))
    .orderBy(desc(orders.ordered_at))
    .limit(most)
