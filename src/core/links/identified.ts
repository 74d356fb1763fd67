import { type LinkChange, type Parameters, type PlanScope, scopeKey, scopeOf } from './change'
import { resolvePlan, type TagPlan } from './plan'
import { planLevels } from './profile'
import { type AdPath, type KnownLinks, linkReader, type PlanVersion } from './readLink'
import { type PlannedAd, planOfAd } from './survey'
import { parseTemplate } from './template'

const AD_TOKEN = /^ad\.(id|name)$/

/** Whether something in an ad's address tells it from others: its ID or name, or a value that is set just for it. */
export const identifiesAd = (plan: TagPlan): boolean =>
  resolvePlan(plan).parameters.some(({ template, origin }) => {
    const segments = parseTemplate(template)
    return (
      segments.some(s => s.kind === 'token' && AD_TOKEN.test(s.token)) ||
      (origin === 'ad' && segments.every(s => s.kind === 'literal'))
    )
  })

/**
 * Ads that their address identifies now, and would not once some changes are made: their orders could be tied to
 * them by a click ID alone.
 */
export function noLongerIdentified<Ad extends PlannedAd>(
  changes: readonly LinkChange[],
  ads: readonly Ad[],
  ownOf: OwnOf,
): Ad[] {
  const networks = new Set(changes.map(change => change.network))
  const after = plansAfter(changes, ownOf)
  return ads.filter(
    ad => networks.has(ad.network) && identifiesAd(planOfAd(ad, ownOf)) && !identifiesAd(planOfAd(ad, after)),
  )
}

type OwnOf = (scope: PlanScope) => Parameters
function plansAfter(changes: readonly LinkChange[], ownOf: OwnOf): OwnOf {
  const changed = new Map(
    changes.flatMap(change => (change.what === 'plan' ? [[scopeKey(change), change.after] as const] : [])),
  )
  return scope => changed.get(scopeKey(scope)) ?? ownOf(scope)
}

/** Of more ads than these the first are looked at: a warning names one of them. */
const MOST_READ = 400
const [BEFORE, CHANGED, LATER] = [0, 1, 2]

/**
 * Ads whose links, as they are pasted at the network now, would be read otherwise once some changes are made: as
 * another ad, as less than the ad, or with a value that names nothing. What a plan had before stays readable, so
 * that this is rare: a parameter that held something else, for one, and is to name an ad set from now on.
 */
export function readOtherwise<Ad extends PlannedAd>(
  changes: readonly LinkChange[],
  ads: readonly Ad[],
  ownOf: OwnOf,
  known: Pick<KnownLinks, 'profiles' | 'namesOf' | 'usual'>,
): Ad[] {
  const networks = new Set(changes.map(change => change.network))
  const concerned = ads.filter(ad => networks.has(ad.network))
  const after = plansAfter(changes, ownOf)
  const affected = concerned
    .filter(ad => JSON.stringify(planOfAd(ad, ownOf)) !== JSON.stringify(planOfAd(ad, after)))
    .slice(0, MOST_READ)
  if (affected.length === 0) return []
  const scopes = new Map(
    concerned
      .flatMap(ad => planLevels.map(level => scopeOf(ad, level)))
      .map(scope => [scopeKey(scope), scope]),
  )
  const plans = [...scopes.values()].flatMap((scope): PlanVersion[] => {
    const [now, then] = [ownOf(scope), after(scope)]
    return [
      { ...scope, parameters: now, since: BEFORE },
      ...(now === then ? [] : [{ ...scope, parameters: then, since: CHANGED }]),
    ]
  })
  const paths = concerned.map(pathOfAd)
  const readerOf = linkReader({ ...known, plans, ads: paths })
  const readerBefore = linkReader({ ...known, plans: plans.filter(p => p.since === BEFORE), ads: paths })
  return affected.filter(ad => {
    const given = pastedValues(ad, ownOf, known.namesOf)
    const [now, then] = [readerBefore, readerOf].map(reader =>
      reader(ad.network).read(key => given.get(key) ?? null, LATER),
    )
    const isOther = (['campaign', 'adSet', 'ad'] as const).some(level => now![level] !== then![level])
    return isOther || then!.unknown.length > now!.unknown.length
  })
}

const pathOfAd = ({ network, campaignId, adSetId, id }: PlannedAd): AdPath => ({
  network,
  campaign: campaignId,
  adSet: adSetId,
  ad: id,
})

/** What an ad's link carries as it is pasted: its own IDs and names, and something in place of what clicks differ in. */
function pastedValues(ad: PlannedAd, ownOf: OwnOf, namesOf: KnownLinks['namesOf']): Map<string, string> {
  const ids = { campaign: ad.campaignId, ad_set: ad.adSetId, ad: ad.id }
  const filled = (token: string): string => {
    const [level, is] = token.split('.') as [keyof typeof ids, string]
    const id = ids[level]
    if (!id) return 'something'
    return is === 'id' ? id : (namesOf(ad.network, level, id).at(-1) ?? id)
  }
  return new Map(
    resolvePlan(planOfAd(ad, ownOf)).parameters.map(({ key, template }) => [
      key,
      parseTemplate(template)
        .map(s => (s.kind === 'token' ? filled(s.token) : s.text))
        .join(''),
    ]),
  )
}
