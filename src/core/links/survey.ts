import type { Severity } from '../shared/finding'
import { severityRank } from '../shared/finding'
import { pathKey } from '../shared/path'
import { adLink } from './adLink'
import type { AssembledLink } from './assemble'
import { type Parameters, type PlanScope, scopeKey, scopeOf } from './change'
import type { LinkFinding } from './finding'
import type { Sample } from './linkInput'
import type { TagPlan } from './plan'
import { type NetworkProfile, planLevels } from './profile'
import { takeApart } from './takeApart'

/** An ad as the station knows it. */
export interface PlannedAd {
  network: string
  id: string
  name: string
  campaignId: string
  adSetId: string
  landingPage: string | null
  straight: boolean
  /** the address that stands at the network, where it is known */
  placed: string | null
}

/** What has arrived of an ad's parameters in the last days. */
export interface AdArrivals {
  lastDay: number
  /** parameters that came unresolved, empty, with a value that nobody knows, or not at all */
  unresolved: string[]
  empty: string[]
  unknown: string[]
  missing: string[]
}

export const adStates = ['tagged', 'differs', 'untagged'] as const
/** Whether a click on the ad will name where it came from, as planned, otherwise than planned, or not at all. */
export type AdState = (typeof adStates)[number]

export interface SurveyedAd {
  state: AdState
  /** codes of its findings, the gravest first, each once */
  codes: LinkFinding['code'][]
  worst: Severity | null
}

export interface SurveyInput {
  ads: readonly PlannedAd[]
  /** findings about names by the scope that has the name */
  nameFindings: ReadonlyMap<string, readonly LinkFinding[]>
  profiles: readonly NetworkProfile[]
  ownOf: (scope: PlanScope) => Parameters
  /** the address of the tracking domain that leads on to where the ad leads */
  tracked: (ad: PlannedAd) => string | null
  hosts: readonly string[]
  arrivals: (network: string, ad: string) => AdArrivals | undefined
}

export const planOfAd = (
  ad: Pick<PlannedAd, 'network' | 'id' | 'campaignId' | 'adSetId'>,
  ownOf: (scope: PlanScope) => Parameters,
): TagPlan => Object.fromEntries(planLevels.map(level => [level, { ...ownOf(scopeOf(ad, level)) }]))

/** Whether two addresses name the same page and give the same parameters in the same order. */
function sameAddress(a: string, b: string, profile: NetworkProfile): boolean {
  if (a === b) return true
  const read = (text: string) => takeApart(text, { profiles: [profile] })
  const [left, right] = [read(a), read(b)]
  const told = (taken: typeof left) =>
    JSON.stringify([
      taken?.destination,
      taken?.parameters.filter(p => p.belongs !== 'click_id').map(p => [p.key, p.template]),
    ])
  return left !== null && told(left) === told(right)
}

const NAMES_TOO: Sample = {}
const NO_FINDINGS: readonly LinkFinding[] = []

/** What was worked out for the last ad set: ads of one stand together in the tree. */
function rememberLast<Result>(work: (network: string, campaignId: string, adSetId: string) => Result) {
  let last: { of: [string, string, string]; result: Result } | null = null
  return (...of: [network: string, campaignId: string, adSetId: string]): Result => {
    if (!last || of.some((id, i) => id !== last?.of[i])) last = { of, result: work(...of) }
    return last.result
  }
}

/**
 * The state and findings of every ad. Ads that share their plan and landing page are assembled once, so
 * that ten thousand take no longer than the plans they have.
 *
 * @returns in the order of the ads
 */
export function surveyAds(input: SurveyInput): SurveyedAd[] {
  const { profiles, ownOf, tracked, hosts, arrivals, nameFindings: named } = input
  const profileOf = new Map(profiles.map(p => [p.id, p]))
  const assembled = new Map<string, { link: AssembledLink; told: SurveyedAd }>()
  const above = rememberLast((network: string, campaignId: string, adSetId: string) => {
    const scopes = (
      [
        ['account', ''],
        ['campaign', campaignId],
        ['ad_set', adSetId],
      ] as const
    ).map(([level, scope]): PlanScope => ({ network, level, scope }))
    return {
      plan: JSON.stringify(scopes.map(ownOf)),
      findings: scopes.flatMap(scope => named.get(scopeKey(scope)) ?? []),
    }
  })
  return input.ads.map(ad => {
    const profile = profileOf.get(ad.network)
    if (!profile) return { state: 'untagged', codes: [], worst: null }
    const { landingPage, straight } = ad
    const way = tracked(ad)
    const scope = scopeOf(ad, 'ad')
    const shared = above(ad.network, ad.campaignId, ad.adSetId)
    const plan = pathKey(shared.plan, JSON.stringify(ownOf(scope)))
    const key = pathKey(ad.network, String(straight), String(landingPage), String(way), plan)
    let known = assembled.get(key)
    if (!known) {
      const link = adLink({
        landingPage,
        straight,
        tracked: way,
        profile,
        plan: planOfAd(ad, ownOf),
        sample: NAMES_TOO,
        hosts,
        otherProfiles: profiles,
      })
      known = { link, told: told(stateOf(link), link.findings) }
      assembled.set(key, known)
    }
    const { link, told: alike } = known
    const arrived = arrivals(ad.network, ad.id)
    const ofName = named.get(scopeKey(scope)) ?? NO_FINDINGS
    // Most ads are as all that share their link: nothing of their own is to be told.
    if (ad.placed === null && !arrived && shared.findings.length + ofName.length === 0) return alike
    const state = stateOf(link, { placed: ad.placed, profile, arrived })
    return told(state, [...link.findings, ...shared.findings, ...ofName])
  })
}

const told = (state: AdState, findings: readonly LinkFinding[]): SurveyedAd => {
  const ranked = findings.toSorted((a, b) => severityRank[a.severity] - severityRank[b.severity])
  return { state, codes: [...new Set(ranked.map(f => f.code))], worst: ranked[0]?.severity ?? null }
}

/** By its link alone, or by what is known of the ad itself. */
function stateOf(
  link: AssembledLink,
  own?: { placed: string | null; profile: NetworkProfile; arrived: AdArrivals | undefined },
): AdState {
  if (link.address === '' || link.parameters.length === 0) return 'untagged'
  if (!own) return 'tagged'
  if (own.placed !== null && !sameAddress(own.placed, link.address, own.profile)) return 'differs'
  return own.arrived && own.arrived.missing.length > 0 ? 'differs' : 'tagged'
}
