import { type LinkChange, type Parameters, type PlanScope, scopeKey } from './change'
import { resolvePlan, type TagPlan } from './plan'
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
  ownOf: (scope: PlanScope) => Parameters,
): Ad[] {
  const changed = new Map(
    changes.flatMap(change => (change.what === 'plan' ? [[scopeKey(change), change.after] as const] : [])),
  )
  const networks = new Set(changes.map(change => change.network))
  const after = (scope: PlanScope) => changed.get(scopeKey(scope)) ?? ownOf(scope)
  return ads.filter(
    ad => networks.has(ad.network) && identifiesAd(planOfAd(ad, ownOf)) && !identifiesAd(planOfAd(ad, after)),
  )
}
