import { type Parameters, type PlanScope, scopeKey } from '@/core/links/change'
import type { StoredPlan } from '@/data/workspace'

const NONE: Parameters = {}

/** What each scope of the tag plans sets itself. */
export function plansByScope(plans: readonly StoredPlan[]): (scope: PlanScope) => Parameters {
  const byScope = new Map(plans.map(plan => [scopeKey(plan), plan.parameters]))
  return scope => byScope.get(scopeKey(scope)) ?? NONE
}
