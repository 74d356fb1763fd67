import type { LinkChange } from './change'
import { levelsOf, type NetworkProfile, type PlanLevel, planLevels } from './profile'

/** A level at which a change sends ads to review at some networks, and the way round it. */
export interface Review {
  level: PlanLevel
  networks: NetworkProfile[]
  /** the lowest level above at which none of them reviews; null where there is none */
  instead: PlanLevel | null
}

/** What a change at a level sends to review; null when no network of these reviews there. */
export function reviewAt(level: PlanLevel, profiles: readonly NetworkProfile[]): Review | null {
  const networks = profiles.filter(p => p.review_levels.includes(level))
  if (networks.length === 0) return null
  const above = planLevels.slice(0, planLevels.indexOf(level))
  const free = (p: NetworkProfile, l: PlanLevel) => levelsOf(p).includes(l) && !p.review_levels.includes(l)
  const instead = above.findLast(l => networks.every(p => free(p, l))) ?? null
  return { level, networks, instead }
}

/** What changes send to review; where an ad leads is a part of the ad itself. Null when nothing is reviewed. */
export function reviewOf(changes: readonly LinkChange[], profiles: readonly NetworkProfile[]): Review | null {
  const levels = new Map<PlanLevel, Set<string>>()
  for (const change of changes) {
    const level = change.what === 'ad' ? 'ad' : change.level
    levels.set(level, (levels.get(level) ?? new Set()).add(change.network))
  }
  for (const level of planLevels.toReversed()) {
    const networks = levels.get(level)
    const found =
      networks &&
      reviewAt(
        level,
        profiles.filter(p => networks.has(p.id)),
      )
    // A landing page stands at the ad alone: no other level can hold it.
    if (found) return changes.some(c => c.what === 'ad') ? { ...found, instead: null } : found
  }
  return null
}
