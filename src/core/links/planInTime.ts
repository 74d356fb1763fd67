import { type Parameters, type PlanScope, scopeKey } from './change'
import type { PlanVersion } from './readLink'

const NONE: Parameters = {}

/** What each scope of the tag plans set itself at an instant (epoch ms), and how often a network's plans had changed. */
export function planInTime(versions: readonly PlanVersion[]) {
  const byScope = new Map<string, PlanVersion[]>()
  const times = new Map<string, number[]>()
  for (const version of versions.toSorted((a, b) => a.since - b.since)) {
    const key = scopeKey(version)
    byScope.set(key, [...(byScope.get(key) ?? []), version])
    times.set(version.network, [...(times.get(version.network) ?? []), version.since])
  }
  return {
    ownOf: (scope: PlanScope, at: number): Parameters =>
      byScope.get(scopeKey(scope))?.findLast(version => version.since <= at)?.parameters ?? NONE,
    stateAt: (network: string, at: number): number =>
      times.get(network)?.filter(time => time <= at).length ?? 0,
  }
}
