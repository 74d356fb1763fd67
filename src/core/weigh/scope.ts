import type { Leaf } from '../intake/tree'

/** A part of the account: empty means all, lower IDs narrow it. */
export interface Scope {
  network?: string
  campaign?: string
  ad_set?: string
  ad?: string
  /** a part of names, as `level.part`, and what it says; empty where no name has it */
  part?: string
  value?: string
  /** only what stands under no ad at all */
  nowhere?: 'yes'
}

/** Whether a leaf is in a part of the account; undefined for what stands under no ad. */
export function inScope(leaf: Leaf | undefined, scope: Scope): boolean {
  if (scope.nowhere) return leaf === undefined
  if (scope.part !== undefined && (!leaf || (leaf.parts?.[scope.part] ?? '') !== (scope.value ?? '')))
    return false
  if (!scope.network) return true
  if (!leaf || leaf.network !== scope.network) return false
  return (
    (scope.campaign === undefined || leaf.campaign === scope.campaign) &&
    (scope.ad_set === undefined || leaf.adSet === scope.ad_set) &&
    (scope.ad === undefined || leaf.ad === scope.ad)
  )
}
