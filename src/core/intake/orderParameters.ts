import { entityKey, type FormerNames } from '../links/account'
import { type KnownLinks, linkReader, networkFinder } from '../links/readLink'
import { pathKey } from '../shared/path'
import type { NamedClicks } from './clicks'
import type { OrderRow } from './records'
import type { Settings } from './settings'
import { nameKey, type treeBuilder } from './tree'

const NONE = new URLSearchParams()

/** What begins with a parameter, and is no address. */
const BARE_QUERY = /^[^/?#&=\s:]+=/

/**
 * Parameters of an order's landing address. Shops write it whole, from the path on, without its scheme, or as the
 * parameters alone.
 */
export function landingParameters({ landing_url }: Pick<OrderRow, 'landing_url'>): URLSearchParams {
  if (!landing_url) return NONE
  const [address = ''] = landing_url.split('#', 1)
  const at = address.indexOf('?')
  // What has blanks before its parameters is a sentence.
  if (at >= 0) return /\s/.test(address.slice(0, at)) ? NONE : new URLSearchParams(address.slice(at + 1))
  return BARE_QUERY.test(address) ? new URLSearchParams(address) : NONE
}

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

/** What plans and profiles say of the parameters that addresses carry. */
export interface PlansKnown extends Pick<KnownLinks, 'profiles' | 'plans'> {
  /** names that campaigns, ad sets and ads had before, or are met under, by `network/level/id` */
  formerNames: FormerNames
}

/**
 * Finds the number of the leaf that an order's own parameters name, as deep as they are certain, among the
 * leaves that are there; -1 where they name none. A campaign or network alone is a leaf of its own.
 */
export function namedLeafFinder(
  { tree, leaf }: Pick<ReturnType<typeof treeBuilder>, 'tree' | 'leaf'>,
  settings: Settings,
  { profiles, plans, formerNames }: PlansKnown,
) {
  const { campaign_key: campaign, ad_set_key: ad_set, ad_key: ad } = settings
  const readerOf = linkReader({
    profiles,
    plans,
    ads: [...tree.leaves],
    namesOf: (network, level, id) => [
      ...(tree.names.get(nameKey(network, level, id)) ?? []),
      ...(formerNames[entityKey(network, level, id)] ?? []),
    ],
    usual: { campaign, ad_set, ad },
  })
  const networkOf = networkFinder(plans, settings.source_names, tree.networks)
  // Orders carry few different parameters.
  const known = new Map<string, number>()
  return (order: OrderRow): number => {
    const parameters = landingParameters(order)
    const columns: Record<string, string | null> = {
      utm_source: order.utm_source,
      utm_medium: order.utm_medium,
      utm_campaign: order.utm_campaign,
      utm_term: order.utm_term,
      utm_content: order.utm_content,
    }
    const given = (key: string) => columns[key] || parameters.get(key) || null
    const network = networkOf(given)
    if (network === null) return -1
    const reader = readerOf(network)
    const key = pathKey(
      network,
      String(reader.stateAt(order.ordered_at)),
      ...reader.keys.map(name => given(name) ?? ''),
    )
    let number = known.get(key)
    if (number === undefined) {
      const found = reader.read(given, order.ordered_at)
      // What the source does not say, the fixed values of a plan say only with a campaign.
      const sure = found.campaign !== '' || sourceOf(order, parameters) !== null
      number = sure ? leaf(network, found.campaign, found.adSet, found.ad) : -1
      known.set(key, number)
    }
    return number
  }
}
