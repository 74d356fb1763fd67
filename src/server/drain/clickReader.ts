import type { ClickArrival } from '@/core/intake/arrival'
import { readTokens, tokensByKey } from '@/core/intake/clickTokens'
import { LONGEST_ID } from '@/core/intake/fields'
import { occurredAt } from '@/core/intake/occurred'
import type { NetworkProfile } from '@/core/links/profile'
import { append } from '@/core/shared/append'
import { pathKey } from '@/core/shared/path'
import { cleanText, readParameters } from '@/core/shared/text'
import type { Executor } from '@/data/connect'
import { listSavedLinks } from '@/data/savedLinks'
import { type AdEntity, listEntities, listPlans, listProfiles } from '@/data/workspace'
import { countryOf, readAgent } from './agents'
import { cleanedFacts } from './cleanedFacts'

/** The same visitor on the same link again within this time is a repeat: a double click, a reload. */
const REPEAT_MS = 10_000
const MOST_VISITORS = 50_000
const lastSeen = new Map<string, { id: string; at: number; repeated: boolean }>()

function isRepeat(arrival: ClickArrival, at: number): boolean {
  if (!arrival.visitor) return false
  const key = `${arrival.workspace} ${arrival.code} ${arrival.visitor}`
  const before = lastSeen.get(key)
  // Read once more after a failure, it is what it was.
  if (before?.id === arrival.id) return before.repeated
  const repeated = before !== undefined && at >= before.at && at - before.at < REPEAT_MS
  lastSeen.delete(key)
  lastSeen.set(key, { id: arrival.id, at, repeated })
  if (lastSeen.size > MOST_VISITORS) lastSeen.delete(lastSeen.keys().next().value ?? '')
  return repeated
}

/** Reads a click's parameters by the network's tag plan, and its ad by ID or by name. */
export async function clickReader(database: Executor, workspace: string) {
  const [profiles, plans, entities] = [
    await listProfiles(database, workspace),
    await listPlans(database, workspace),
    await listEntities(database, workspace),
  ]
  const profileOf = new Map(profiles.map(p => [p.id, p]))
  const tokensOf = new Map(
    profiles.map(p => [
      p.id,
      tokensByKey(
        plans.filter(plan => plan.network === p.id).flatMap(plan => Object.entries(plan.parameters)),
        p,
      ),
    ]),
  )
  const find = entityFinder(entities)
  const saved = new Map(
    (await listSavedLinks(database, workspace)).flatMap(({ code, link }) =>
      [code, ...link.former_codes].map(c => [c, link] as const),
    ),
  )
  return (arrival: ClickArrival) => {
    const profile: NetworkProfile | undefined = profileOf.get(arrival.network)
    const values = profile
      ? readTokens(arrival.query, tokensOf.get(arrival.network) ?? new Map(), profile)
      : new Map<string, string>()
    const value = (token: string) => values.get(token) ?? null
    // A saved link's code says which ad it is for, where the click itself does not.
    const link = saved.get(arrival.code)
    const ad = find(arrival.network, 'ad', value('ad.id') ?? link?.ad.id ?? null, value('ad.name'))
    const adSet = find(arrival.network, 'ad_set', ad?.adSetId ?? value('ad_set.id'), value('ad_set.name'))
    const campaign = find(
      arrival.network,
      'campaign',
      ad?.campaignId ?? adSet?.campaignId ?? value('campaign.id'),
      value('campaign.name'),
    )
    const networkParameter = profile?.click_id_parameter
    const { bot, device } = readAgent(arrival.agent)
    const at = new Date(occurredAt(arrival.id, arrival.at)).toISOString()
    return {
      workspace,
      day: at.slice(0, 10),
      click_id: arrival.id,
      clicked_at: at,
      network: arrival.network,
      campaign_id: campaign?.id ?? value('campaign.id'),
      ad_set_id: adSet?.id ?? value('ad_set.id'),
      ad_id: ad?.id ?? value('ad.id'),
      visitor_id: arrival.visitor,
      network_click_id:
        (networkParameter &&
          cleanText(readParameters(arrival.query).get(networkParameter) ?? '', LONGEST_ID)) ||
        value('click.id'),
      landing_url: arrival.landing,
      device: value('device') ?? device,
      placement: value('placement'),
      keyword: value('keyword'),
      match_type: value('match_type'),
      source: value('source'),
      country: countryOf(arrival.zone),
      bot,
      repeated: isRepeat(arrival, Date.parse(at)),
      attributes: {
        code: arrival.code,
        query: arrival.query,
        from: arrival.from,
        agent: arrival.agent,
        ...cleanedFacts(arrival),
      },
    }
  }
}

/** Finds a campaign, ad set or ad by its ID, or by a name that only one of them has. */
function entityFinder(entities: readonly AdEntity[]) {
  const byId = new Map<string, AdEntity>()
  const byName = new Map<string, AdEntity[]>()
  const key = (network: string, level: string, text: string) => pathKey(network, level, text)
  for (const entity of entities) {
    byId.set(key(entity.network, entity.level, entity.id), entity)
    append(byName, key(entity.network, entity.level, entity.name), entity)
  }
  return (
    network: string,
    level: AdEntity['level'],
    id: string | null,
    name: string | null,
  ): AdEntity | undefined => {
    const named = name ? (byName.get(key(network, level, name)) ?? []) : []
    return (id ? byId.get(key(network, level, id)) : undefined) ?? (named.length === 1 ? named[0] : undefined)
  }
}
