import { pathKey } from '../shared/path'
import { type Leads, type LinkChange, type Parameters, sameParameters, scopeKey } from './change'
import type { PlanLevel } from './profile'

/** What two things have become from the same beginning, put together; where both changed, ours holds. */
const put = <Value>(theirs: Value, before: Value, ours: Value): Value => (ours === before ? theirs : ours)

/** One level's parameters with our change on top of what somebody else made of them meanwhile. */
export function mergeParameters(theirs: Parameters, before: Parameters, ours: Parameters): Parameters {
  const keys = new Set([...Object.keys(ours), ...Object.keys(theirs)])
  return Object.fromEntries(
    [...keys].flatMap(key => {
      const value = put(theirs[key], before[key], ours[key])
      return value === undefined ? [] : [[key, value]]
    }),
  )
}

const sameLeads = (a: Leads, b: Leads) => a.landingPage === b.landingPage && a.straight === b.straight

/** What is held at the moment of what changes are about: plans by `scopeKey`, where ads lead by `adTarget`. */
export interface HeldNow {
  plans: Map<string, Parameters>
  leads: Map<string, Leads>
}
export const adTarget = (network: string, ad: string): string => pathKey(network, ad)

/** One entity that somebody else had changed since, as it was found. */
export type Met =
  | {
      what: 'plan'
      network: string
      level: PlanLevel
      scope: string
      key: string
      theirs: string | null
      /** whether it was changed here too, so that it is replaced */
      replaced: boolean
    }
  | { what: 'ad'; network: string; ad: string; theirs: Leads; replaced: boolean }

/**
 * Changes as they are to be applied to what is held now. Two screens may change the same entity: what the
 * other changed since stays, unless it is the very parameter that is changed here.
 *
 * @returns with all that was found otherwise than the changes were made from
 */
export function rebase(changes: readonly LinkChange[], held: HeldNow): { changes: LinkChange[]; met: Met[] } {
  const plans = new Map(held.plans)
  const leads = new Map(held.leads)
  const met: Met[] = []
  const rebased = changes.map((change): LinkChange => {
    if (change.what === 'plan') {
      const key = scopeKey(change)
      const theirs = plans.get(key) ?? {}
      met.push(...metInPlan(change, theirs))
      const alike = sameParameters(theirs, change.before)
      const after = alike ? change.after : mergeParameters(theirs, change.before, change.after)
      plans.set(key, after)
      return { ...change, before: theirs, after }
    }
    const { network, ad, before } = change
    const key = adTarget(network, ad)
    const theirs = leads.get(key) ?? before
    const after = {
      landingPage: put(theirs.landingPage, before.landingPage, change.after.landingPage),
      straight: put(theirs.straight, before.straight, change.after.straight),
    }
    if (!sameLeads(theirs, before))
      met.push({ what: 'ad', network, ad, theirs, replaced: theirs.landingPage !== after.landingPage })
    leads.set(key, after)
    return { ...change, before: theirs, after }
  })
  return { changes: rebased, met }
}

function metInPlan(change: Extract<LinkChange, { what: 'plan' }>, theirs: Parameters): Met[] {
  const { network, level, scope, before, after } = change
  const keys = [...new Set([...Object.keys(before), ...Object.keys(theirs)])]
  return keys
    .filter(key => theirs[key] !== before[key])
    .map(key => ({
      what: 'plan' as const,
      network,
      level,
      scope,
      key,
      theirs: theirs[key] ?? null,
      replaced: after[key] !== before[key] && after[key] !== theirs[key],
    }))
}

/**
 * A change as it is to be undone after it met what somebody else had made: what was theirs is given back to
 * them, not what stood there before both.
 */
export function onTopOf(change: LinkChange, met: readonly Met[]): LinkChange {
  if (change.what === 'ad') {
    const own = met.find(m => m.what === 'ad' && m.network === change.network && m.ad === change.ad)
    return own?.what === 'ad' ? { ...change, before: own.theirs } : change
  }
  const before = { ...change.before }
  for (const m of met)
    if (m.what === 'plan' && scopeKey(m) === scopeKey(change)) {
      if (m.theirs === null) delete before[m.key]
      else before[m.key] = m.theirs
    }
  return { ...change, before }
}
