import type { ClickArrival } from '@/core/intake/arrival'
import { LONGEST_ID } from '@/core/intake/fields'
import { occurredAt } from '@/core/intake/occurred'
import { settingsSchema } from '@/core/intake/settings'
import { entityKey } from '@/core/links/account'
import { type LinkReading, linkReader, networkFinder } from '@/core/links/readLink'
import type { SavedLink } from '@/core/links/savedLink'
import { cleanText, readParameters } from '@/core/shared/text'
import { APART, isOnHosts, type Misfit } from '@/core/signals/mayTell'
import { placeClicks, unreadClicks } from '@/data/clicks'
import type { Executor } from '@/data/connect'
import { listFormerNames } from '@/data/entities'
import { listSavedLinks } from '@/data/savedLinks'
import { findWorkspace, listEntities, listPlanVersions, listProfiles } from '@/data/workspace'
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

/** A tag tells of a click once more whose redirect lost our click ID on the way: the shopper is there within this time. */
const ARRIVAL_MS = 120_000
const redirected = new Map<string, number>()

/** Whether a click that a tag tells of came by the tracking domain, which recorded it already. */
function isKnownRedirect(arrival: ClickArrival, ad: string, at: number): boolean {
  const key = `${arrival.workspace} ${ad} ${arrival.from} ${arrival.agent}`
  if (!isStraight(arrival)) {
    redirected.delete(key)
    redirected.set(key, at)
    if (redirected.size > MOST_VISITORS) redirected.delete(redirected.keys().next().value ?? '')
    return false
  }
  const before = redirected.get(key)
  return before !== undefined && at >= before && at - before < ARRIVAL_MS
}

/** Whether the tag on the landing page tells of a click, which names no code: then its parameters say what it is of. */
const isStraight = ({ network, code }: ClickArrival) => network === '' && code === ''

/** What reads the addresses of a workspace: its plans in the course of time, its ads by all their names. */
export async function readersOf(database: Executor, workspace: string) {
  const [profiles, plans, entities, former, found] = [
    await listProfiles(database, workspace),
    await listPlanVersions(database, workspace),
    await listEntities(database, workspace),
    await listFormerNames(database, workspace),
    await findWorkspace(database, workspace),
  ]
  const settings = found?.settings ?? settingsSchema.parse({})
  const names = new Map(
    entities.map(({ network, level, id, name }) => {
      const key = entityKey(network, level, id)
      return [key, [...(former[key] ?? []), name]]
    }),
  )
  const readerOf = linkReader({
    profiles,
    plans,
    ads: entities.map(({ network, level, id, campaignId, adSetId }) => ({
      network,
      campaign: campaignId,
      adSet: level === 'ad_set' ? id : level === 'ad' ? adSetId : '',
      ad: level === 'ad' ? id : '',
    })),
    namesOf: (network, level, id) => names.get(entityKey(network, level, id)) ?? [],
    usual: { campaign: settings.campaign_key, ad_set: settings.ad_set_key, ad: settings.ad_key },
  })
  const networkOf = networkFinder(
    plans,
    settings.source_names,
    profiles.map(p => p.id),
  )
  return { profiles, readerOf, networkOf, hosts: settings.hosts }
}

/**
 * Reads of each click which ad it is of, by the code of its link, else by its parameters and the plan of its
 * time. Null for what a tag tells of a page that no ad led to.
 */
export async function clickReader(database: Executor, workspace: string) {
  const { profiles, readerOf, networkOf, hosts } = await readersOf(database, workspace)
  const profileOf = new Map(profiles.map(p => [p.id, p]))
  const saved = new Map(
    (await listSavedLinks(database, workspace)).flatMap(({ code, link }) =>
      [code, ...link.former_codes].map(c => [c, pathOfLink(link)] as const),
    ),
  )
  /** Networks name their own clicks by a parameter of their own. */
  const byClickId = (parameters: URLSearchParams) => {
    const own = profiles.filter(
      p =>
        p.click_id_parameter && (parameters.get(p.click_id_parameter) ?? '').length >= LEAST_NETWORK_CLICK_ID,
    )
    return own.length === 1 ? own[0]!.id : null
  }
  return (arrival: ClickArrival) => {
    const parameters = readParameters(arrival.query)
    const given = (key: string) => parameters.get(key)
    const straight = isStraight(arrival)
    const network = straight ? (networkOf(given) ?? byClickId(parameters)) : arrival.network
    if (network === null) return null
    const at = new Date(occurredAt(arrival.id, arrival.at)).toISOString()
    const reading = readerOf(network).read(given, Date.parse(at), saved.get(arrival.code) ?? null)
    if (straight && !reading.campaign) return null
    const value = (token: string) => reading.tokens.get(token) ?? null
    const { bot, device } = readAgent(arrival.agent)
    const networkParameter = profileOf.get(network)?.click_id_parameter
    const own = (networkParameter && cleanText(given(networkParameter) ?? '', LONGEST_ID)) || null
    const ad = `${network} ${reading.campaign} ${reading.adSet} ${reading.ad}`
    const elsewhere = arrival.by === 'page' && !isOnHosts(arrival.landing, hosts)
    const again = isKnownRedirect(arrival, ad, Date.parse(at))
    return {
      workspace,
      day: at.slice(0, 10),
      click_id: arrival.id,
      clicked_at: at,
      network,
      campaign_id: reading.campaign || null,
      ad_set_id: reading.adSet || null,
      ad_id: reading.ad || null,
      visitor_id: arrival.visitor,
      network_click_id: own ?? value('click.id'),
      landing_url: arrival.landing,
      device: value('device') ?? device,
      placement: value('placement'),
      keyword: value('keyword'),
      match_type: value('match_type'),
      source: value('source'),
      country: countryOf(arrival.zone),
      bot: bot || elsewhere,
      repeated: again || isRepeat(arrival, Date.parse(at)),
      attributes: {
        code: arrival.code,
        query: arrival.query,
        from: arrival.from,
        agent: arrival.agent,
        ...(arrival.by && { told_by: arrival.by }),
        ...(elsewhere && !bot && { [APART]: 'other_host' satisfies Misfit }),
        ...(reading.by && { read_by: reading.by }),
        ...(reading.unknown.length > 0 && { unknown: unknownText(reading.unknown) }),
        ...cleanedFacts(arrival),
      },
    }
  }
}

/** Shorter values of a network's parameter are no click ID. */
const LEAST_NETWORK_CLICK_ID = 6

const pathOfLink = ({ network, campaign, ad_set, ad }: SavedLink) => ({
  network,
  campaign: campaign.id,
  adSet: ad_set.id,
  ad: ad.id,
})
/** Values that name nothing known, as attributes keep them: JSON of level and value. */
const unknownText = (unknown: LinkReading['unknown']): string =>
  JSON.stringify(unknown.map(({ level, value }) => [level, value]))

/**
 * Reads clicks again that carried values nobody knew, once somebody has named what they may be of.
 *
 * @returns how many are known better now
 */
export async function readUnknownClicks(database: Executor, workspace: string): Promise<number> {
  const waiting = await unreadClicks(database, workspace, MOST_READ_AGAIN)
  if (waiting.length === 0) return 0
  const { readerOf } = await readersOf(database, workspace)
  const better = waiting.flatMap(({ day, click_id, at, network, query, depth }) => {
    const parameters = readParameters(query)
    const { campaign, adSet, ad, by, unknown } = readerOf(network).read(key => parameters.get(key), at)
    return [campaign, adSet, ad].filter(Boolean).length > depth
      ? [
          {
            day,
            click_id,
            campaign,
            ad_set: adSet,
            ad,
            by,
            unknown: unknownText(unknown),
            all: unknown.length === 0,
          },
        ]
      : []
  })
  await placeClicks(database, workspace, better)
  return better.length
}
/** Of more, the latest. */
const MOST_READ_AGAIN = 50_000
