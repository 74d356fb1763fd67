import type { OrderRow } from './records'
import type { Settings } from './settings'
import { type Leaf, leafFinder, type treeBuilder } from './tree'

/** Parameters of an order's landing address. */
export function landingParameters({ landing_url }: Pick<OrderRow, 'landing_url'>): URLSearchParams {
  return landing_url && URL.canParse(landing_url) ? new URL(landing_url).searchParams : new URLSearchParams()
}

/** The source that an order's own parameters name; null when they name none. */
export const sourceOf = (order: Pick<OrderRow, 'utm_source' | 'landing_url'>): string | null =>
  order.utm_source || landingParameters(order).get('utm_source') || null

/**
 * Finds the number of the leaf that an order's own parameters name, as deep as they are certain, among the
 * leaves that are there; -1 where they name none. A campaign or network alone is a leaf of its own.
 */
export function namedLeafFinder({ tree, leaf }: ReturnType<typeof treeBuilder>, settings: Settings) {
  const find = leafFinder(tree)
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
    const source = sourceOf(order)
    const found: Leaf | null = find(source && (settings.source_names[source.toLowerCase()] ?? source), {
      campaign: named(settings.campaign_key),
      ad_set: named(settings.ad_set_key),
      ad: named(settings.ad_key),
    })
    return found ? leaf(found.network, found.campaign, found.adSet, found.ad) : -1
  }
}
