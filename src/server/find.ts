import { and, asc, eq, ilike, or, sql } from 'drizzle-orm'
import type { Database } from '@/data/connect'
import { orders, savedLinks } from '@/data/schema'
import { listDefinitions, listRules } from '@/data/signals'
import { searchAds } from '@/data/workspace'

/** Something that was found by a few letters. */
export type Found =
  | { kind: 'ad'; network: string; id: string; name: string; campaign: string }
  | { kind: 'order'; id: string; status: string }
  | { kind: 'link'; code: string; title: string }
  | { kind: 'rule'; id: string; result: string }

const MOST_ADS = 40
const MOST_OTHERS = 12

/** Ads, orders, saved links and rules by a part of their name or ID. */
export async function findByText(database: Database, workspace: string, text: string): Promise<Found[]> {
  const part = `%${text.replace(/[\\%_]/g, '\\$&')}%`
  const title = sql<string>`${savedLinks.link}->>'title'`
  const [ads, foundOrders, links, tagRules, definitions] = await Promise.all([
    searchAds(database, workspace, text, MOST_ADS),
    database
      .select({ id: orders.order_id, status: orders.status })
      .from(orders)
      .where(and(eq(orders.workspace, workspace), ilike(orders.order_id, part)))
      .orderBy(sql`${orders.ordered_at} desc`)
      .limit(text === '' ? 0 : MOST_OTHERS),
    database
      .select({ code: savedLinks.code, title })
      .from(savedLinks)
      .where(and(eq(savedLinks.workspace, workspace), or(ilike(savedLinks.code, part), ilike(title, part))))
      .orderBy(asc(savedLinks.code))
      .limit(MOST_OTHERS),
    listRules(database, workspace),
    listDefinitions(database, workspace),
  ])
  const nameOf = new Map(definitions.map(d => [d.id, d.name]))
  return [
    ...ads.map(ad => ({ kind: 'ad' as const, ...ad })),
    ...foundOrders.map(order => ({ kind: 'order' as const, ...order })),
    ...links.map(link => ({ kind: 'link' as const, ...link })),
    ...tagRules
      .map(rule => ({ kind: 'rule' as const, id: rule.id, result: nameOf.get(rule.result) ?? rule.result }))
      .filter(rule => `${rule.id} ${rule.result}`.toLowerCase().includes(text.toLowerCase()))
      .slice(0, MOST_OTHERS),
  ]
}
