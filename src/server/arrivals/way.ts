import { and, eq } from 'drizzle-orm'
import type { Database } from '@/data/connect'
import { clicks, events, hops, orders, postbacks } from '@/data/schema'

/** One step of a click's way: from the ad over pages and offers to a sale or an order. */
export interface Step {
  kind: 'click' | 'event' | 'hop' | 'postback' | 'order'
  id: string
  /** epoch ms */
  at: number
  /** a click's network, an event's name, a hop's code, a postback's or order's status */
  what: string
  /** the page, the offer, or the partner and deal */
  where: string
}

/** All that one click led to, in order of time. */
export async function wayOf(database: Database, workspace: string, click: string): Promise<Step[]> {
  const own = (table: typeof clicks | typeof events | typeof hops | typeof postbacks | typeof orders) =>
    and(eq(table.workspace, workspace), eq(table.click_id, click))
  const steps: Step[] = [
    ...(await database.select().from(clicks).where(own(clicks))).map(
      (c): Step => ({
        kind: 'click',
        id: c.click_id,
        at: c.clicked_at.getTime(),
        what: c.network,
        where: c.landing_url ?? '',
      }),
    ),
    ...(await database.select().from(events).where(own(events))).map(
      (e): Step => ({ kind: 'event', id: e.event_id, at: e.at.getTime(), what: e.name, where: e.page ?? '' }),
    ),
    ...(await database.select().from(hops).where(own(hops))).map(
      (h): Step => ({ kind: 'hop', id: h.hop_id, at: h.at.getTime(), what: h.code, where: h.offer }),
    ),
    ...(await database.select().from(postbacks).where(own(postbacks))).map(
      (p): Step => ({
        kind: 'postback',
        id: p.postback_id,
        at: p.at.getTime(),
        what: p.status ?? 'set aside',
        where: `${p.partner} ${p.deal ?? ''}`.trim(),
      }),
    ),
    ...(await database.select().from(orders).where(own(orders))).map(
      (o): Step => ({
        kind: 'order',
        id: o.order_id,
        at: o.ordered_at.getTime(),
        what: o.status.replace('_', ' '),
        where: o.order_id,
      }),
    ),
  ]
  return steps.sort((a, b) => a.at - b.at)
}
