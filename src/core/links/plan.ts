import * as z from 'zod'
import { type PlanLevel, planLevels } from './profile'

const parameters = z.record(z.string().min(1), z.string())

/** The parameters of one network by level; an empty value removes the key that a level above set. */
export const tagPlanSchema = z.object({
  account: parameters.optional(),
  campaign: parameters.optional(),
  ad_set: parameters.optional(),
  ad: parameters.optional(),
})
export type TagPlan = z.infer<typeof tagPlanSchema>

export interface PlannedParameter {
  key: string
  template: string
  origin: PlanLevel
}

/**
 * What holds at the ad: the lowest level that sets a key wins and keeps the place where the key first
 * stood; an explicit empty value removes it. `removed` names the level that did.
 *
 * @example
 * resolvePlan({ account: { a: '1', b: '2' }, ad: { a: '3', b: '' } })
 * // parameters: [{ key: 'a', template: '3', origin: 'ad' }], removed: { b: 'ad' }
 */
export function resolvePlan(plan: TagPlan): {
  parameters: PlannedParameter[]
  removed: Record<string, PlanLevel>
} {
  const byKey = new Map<string, PlannedParameter>()
  for (const level of planLevels) {
    for (const [key, template] of Object.entries(plan[level] ?? {})) {
      byKey.set(key, { key, template, origin: level })
    }
  }
  const all = [...byKey.values()]
  return {
    parameters: all.filter(p => p.template !== ''),
    removed: Object.fromEntries(all.filter(p => p.template === '').map(p => [p.key, p.origin])),
  }
}
