import { perPath } from '../shared/path'
import type { NamedClicks } from './clicks'
import type { OrderRow } from './records'
import type { Settings } from './settings'
import { type Leaf, leafFinder, type treeBuilder } from './tree'

const NONE = new URLSearchParams()

/** Parameters of an order's landing address. */
export const landingParameters = ({ landing_url }: Pick<OrderRow, 'landing_url'>): URLSearchParams =>
  landing_url?.includes('?') && URL.canParse(landing_url) ? new URL(landing_url).searchParams : NONE

/** Shorter values of a parameter are no click ID. */
const LEAST_ID = 6

/** What of an order's landing address may be a click ID, ours or a network's. */
export const idsOnLanding = (order: Pick<OrderRow, 'landing_url'>): string[] =>
  [...landingParameters(order).values()].filter(value => value.length >= LEAST_ID)

/** What outcomes can name of clicks: by ID, by visitor, or by what stands in their landing address. */
export function namedClicks(
  orders: readonly Pick<OrderRow, 'click_id' | 'visitor_id' | 'landing_url'>[],
  told: readonly { click_id: string | null; visitor_id: string | null }[] = [],
): NamedClicks {
  const [clickIds, networkClickIds, visitors] = [new Set<string>(), new Set<string>(), new Set<string>()]
  for (const { click_id, visitor_id } of [...orders, ...told]) {
    if (click_id !== null) clickIds.add(click_id)
    if (visitor_id !== null) visitors.add(visitor_id)
  }
  for (const order of orders)
    for (const id of idsOnLanding(order)) {
      clickIds.add(id)
      networkClickIds.add(id)
    }
  return { clickIds, networkClickIds, visitors }
}

/** The source that an order's own parameters name; null when they name none. */
export const sourceOf = (
  order: Pick<OrderRow, 'utm_source' | 'landing_url'>,
  parameters = landingParameters(order),
): string | null => order.utm_source || parameters.get('utm_source') || null

/**
 * Finds the number of the leaf that an order's own parameters name, as deep as they are certain, among the
 * leaves that are there; -1 where they name none. A campaign or network alone is a leaf of its own.
 */
export function namedLeafFinder(
  { tree, leaf }: Pick<ReturnType<typeof treeBuilder>, 'tree' | 'leaf'>,
  settings: Settings,
) {
  const find = leafFinder(tree)
  // Orders carry few different parameters.
  const leafNamed = perPath((source, campaign, ad_set, ad): number => {
    const network = settings.source_names[source!.toLowerCase()] ?? source!
    const found: Leaf | null = find(network, {
      campaign: campaign || null,
      ad_set: ad_set || null,
      ad: ad || null,
    })
    return found ? leaf(found.network, found.campaign, found.adSet, found.ad) : -1
  })
  return (order: OrderRow): number => {
    const parameters = landingParameters(order)
    const columns: Record<string, string | null> = {
      utm_source: order.utm_source,
      utm_medium: order.utm_medium,
      utm_campaign: order.utm_campaign,
      utm_term: order.utm_term,
      utm_content: order.utm_content,
    }
    const named = (key: string) => columns[key] || parameters.get(key) || null
    const source = sourceOf(order, parameters)
    return source === null
      ? -1
      : leafNamed(
          source,
          named(settings.campaign_key) ?? '',
          named(settings.ad_set_key) ?? '',
          named(settings.ad_key) ?? '',
        )
  }
}
