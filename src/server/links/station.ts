import type { Settings } from '@/core/intake/settings'
import { type EntityRow, entityKey } from '@/core/links/account'
import { adLink } from '@/core/links/adLink'
import type { Parameters } from '@/core/links/change'
import type { NamingRule } from '@/core/links/naming'
import type { NetworkProfile, PlanLevel } from '@/core/links/profile'
import { PLACEMENTS } from '@/core/links/savedLink'
import { planOfAd } from '@/core/links/survey'
import type { Database, Executor } from '@/data/connect'
import { listFormerNames } from '@/data/entities'
import { listLandingPages, stationRows } from '@/data/links'
import { listNamingRules } from '@/data/namingRules'
import { listSavedLinks } from '@/data/savedLinks'
import { type AdEntity, listEntities, listPlans, listProfiles, type Workspace } from '@/data/workspace'
import { isPractised } from '../practice'
import { type PageCodes, pageCodes, trackingOrigin } from '../routes'
import { plansByScope } from './plans'

export type PlanRow = [network: string, level: PlanLevel, scope: string, parameters: Parameters]

/** All that the tag plan's screen works on; what follows from it, the browser works out with the same core. */
export interface StationData {
  entities: EntityRow[]
  /** names that entities had before, oldest first, by `network/level/id` */
  formerNames: Record<string, string[]>
  plans: PlanRow[]
  profiles: NetworkProfile[]
  hosts: string[]
  /** which parameters of an order name its campaign, ad set and ad */
  keys: Pick<Settings, 'campaign_key' | 'ad_set_key' | 'ad_key'>
  /** addresses of the tracking domain, by network and landing page */
  tracked: Record<string, Record<string, string>>
  /** addresses of the tracking domain of ads whose links are saved, by `network/ad` */
  saved: Record<string, string>
  namingRules: NamingRule[]
  practised: string[]
}

async function savedAddresses(database: Executor, workspace: string): Promise<Record<string, string>> {
  const saved = await listSavedLinks(database, workspace)
  return Object.fromEntries(
    saved
      .filter(s => !s.link.archived)
      .map(s => [`${s.link.network}/${s.link.ad.id}`, `${trackingOrigin()}/c/${s.code}`]),
  )
}

/** What ads' links are made from. */
export async function readStation(database: Executor, { id, settings }: Workspace) {
  const entities = await listEntities(database, id)
  const plans = await listPlans(database, id)
  const names: Record<string, string> = {}
  for (const e of entities) names[entityKey(e.network, e.level, e.id)] = e.name
  return {
    entities,
    names,
    plans,
    profiles: await listProfiles(database, id),
    hosts: settings.hosts,
    saved: await savedAddresses(database, id),
    codes: await pageCodes(database, id),
  }
}

/** Which address of the tracking domain leads on to an ad's landing page. */
const trackedBy =
  (saved: Readonly<Record<string, string>>, codes: PageCodes) =>
  (ad: { network: string; id: string; landingPage: string | null }): string | null =>
    saved[`${ad.network}/${ad.id}`] ?? (ad.landingPage ? codes.addressOf(ad.network, ad.landingPage) : null)

/** Assembles ads' links as they stand, each with its network's profile; null for an ad of an unknown network. */
export function linksOf({ plans, profiles, saved, codes, hosts }: Awaited<ReturnType<typeof readStation>>) {
  const [ownOf, trackedOf] = [plansByScope(plans), trackedBy(saved, codes)]
  const profileOf = new Map(profiles.map(p => [p.id, p]))
  return (ad: AdEntity) => {
    const profile = profileOf.get(ad.network)
    if (!profile) return null
    const { landingPage, straight } = ad
    const plan = planOfAd(ad, ownOf)
    const tracked = trackedOf(ad)
    return {
      profile,
      link: adLink({ landingPage, straight, tracked, profile, plan, hosts, otherProfiles: profiles }),
    }
  }
}

/** The station's data as JSON text: what there are ten thousand of comes as text from the database. */
export async function stationText(database: Database, { id, settings }: Workspace): Promise<string> {
  // Placements of our own are tagged in the library.
  const profiles = (await listProfiles(database, id)).filter(p => p.id !== PLACEMENTS)
  const tracked: StationData['tracked'] = {}
  const { addressOf } = await pageCodes(database, id)
  for (const { network, page } of await listLandingPages(database, id))
    (tracked[network] ??= {})[page] = addressOf(network, page)
  const { campaign_key, ad_set_key, ad_key } = settings
  const few: Omit<StationData, 'entities' | 'plans'> = {
    formerNames: await listFormerNames(database, id),
    profiles,
    hosts: settings.hosts,
    keys: { campaign_key, ad_set_key, ad_key },
    tracked,
    saved: await savedAddresses(database, id),
    namingRules: await listNamingRules(database, id),
    practised: profiles.map(p => p.id).filter(isPractised),
  }
  const { entities, plans } = await stationRows(database, id)
  return `${JSON.stringify(few).slice(0, -1)},"entities":${entities},"plans":${plans}}`
}
