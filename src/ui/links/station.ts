import { type Account, readAccount } from '@/core/links/account'
import { type LinkChange, type Parameters, type PlanScope, scopeKey } from '@/core/links/change'
import type { LinkFinding } from '@/core/links/finding'
import {
  type AdArrivals,
  type AdState,
  type PlannedAd,
  type SurveyedAd,
  surveyAds,
} from '@/core/links/survey'
import type { StationData } from '@/server/links/station'

/** An ad with its findings, and its state once all ads are surveyed. */
export interface StationAd extends PlannedAd, Omit<SurveyedAd, 'state'> {
  state: AdState | null
  /** clicks of the last day, and which parameters arrived unresolved, empty, unknown or not at all */
  arrivals: AdArrivals | null
}

/** What the browser holds of the ads and their plans, as far as it was changed here. */
export interface HeldStation extends Omit<StationData, 'plans'>, Account {
  plans: ReadonlyMap<string, Parameters>
}
export interface LinkStation extends HeldStation {
  ads: StationAd[]
  nameFindings: NameFindings
}
export type NameFindings = ReadonlyMap<string, readonly LinkFinding[]>

export function openStation({ plans, ...rest }: StationData): HeldStation {
  return {
    ...rest,
    ...readAccount(rest.entities),
    plans: new Map(
      plans.map(([network, level, scope, parameters]) => [scopeKey({ network, level, scope }), parameters]),
    ),
  }
}

const NONE: Parameters = {}
export const ownParameters =
  (plans: ReadonlyMap<string, Parameters>) =>
  (scope: PlanScope): Parameters =>
    plans.get(scopeKey(scope)) ?? NONE

/** The station as changes leave it, before the server has stored them. */
export function withChanges(station: HeldStation, changes: readonly LinkChange[]): HeldStation {
  const plans = new Map(station.plans)
  const leads = new Map<string, Extract<LinkChange, { what: 'ad' }>['after']>()
  for (const change of changes)
    if (change.what === 'ad') leads.set(`${change.network}/${change.ad}`, change.after)
    else plans.set(scopeKey(change), change.after)
  const ads =
    leads.size === 0
      ? station.ads
      : station.ads.map(ad => ({ ...ad, ...leads.get(`${ad.network}/${ad.id}`) }))
  return { ...station, ads, plans }
}

/** The address of the tracking domain that leads on to where an ad leads. */
export const trackedOf = (
  { saved, tracked }: Pick<HeldStation, 'saved' | 'tracked'>,
  { network, id, landingPage }: Pick<PlannedAd, 'network' | 'id' | 'landingPage'>,
): string | null =>
  saved[`${network}/${id}`] ?? (landingPage ? (tracked[network]?.[landingPage] ?? null) : null)

/** Each field by itself: a spread of ten thousand objects takes as long as the survey. */
function stationAd(ad: PlannedAd, surveyed: SurveyedAd | null, arrivals: AdArrivals | null): StationAd {
  const { network, id, name, campaignId, adSetId, landingPage, straight, placed } = ad
  const { state, codes, worst } = surveyed ?? UNSURVEYED
  return {
    network,
    id,
    name,
    campaignId,
    adSetId,
    landingPage,
    straight,
    placed,
    state,
    codes,
    worst,
    arrivals,
  }
}
const UNSURVEYED = { state: null, codes: [], worst: null }
const NO_FINDINGS: NameFindings = new Map()
/** The station before its ads are surveyed: the tree is there at once. */
export const unsurveyed = (station: HeldStation): LinkStation => ({
  ...station,
  ads: station.ads.map(ad => stationAd(ad, null, null)),
  nameFindings: NO_FINDINGS,
})

/** All ads with their states and findings, as plans and arrivals are now. */
export function surveyStation(
  station: HeldStation,
  nameFindings: NameFindings,
  arrived: Record<string, AdArrivals>,
): LinkStation {
  const { ads, profiles, hosts } = station
  const surveyed = surveyAds({
    ads,
    nameFindings,
    profiles,
    ownOf: ownParameters(station.plans),
    tracked: ad => trackedOf(station, ad),
    hosts,
    arrivals: (network, ad) => arrived[`${network}/${ad}`],
  })
  return {
    ...station,
    nameFindings,
    ads: ads.map((ad, i) => stationAd(ad, surveyed[i]!, arrived[`${ad.network}/${ad.id}`] ?? null)),
  }
}
