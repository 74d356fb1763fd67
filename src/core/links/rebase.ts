import { pathKey } from '../shared/path'
import { type Leads, type LinkChange, type Parameters, sameParameters, scopeKey } from './change'

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

/**
 * Changes as they are to be applied to what is held now. Two screens may change the same thing: what the
 * other changed since stays, unless it is the very parameter that is changed here.
 *
 * @param held is brought up to date with the changes
 * @returns how many of them met something else than what they were made from
 */
export function rebase(
  changes: readonly LinkChange[],
  held: HeldNow,
): { changes: LinkChange[]; met: number } {
  let met = 0
  const rebased = changes.map((change): LinkChange => {
    if (change.what === 'plan') {
      const key = scopeKey(change)
      const theirs = held.plans.get(key) ?? {}
      const alike = sameParameters(theirs, change.before)
      if (!alike) met += 1
      const after = alike ? change.after : mergeParameters(theirs, change.before, change.after)
      held.plans.set(key, after)
      return { ...change, before: theirs, after }
    }
    const key = adTarget(change.network, change.ad)
    const theirs = held.leads.get(key) ?? change.before
    if (!sameLeads(theirs, change.before)) met += 1
    const after = {
      landingPage: put(theirs.landingPage, change.before.landingPage, change.after.landingPage),
      straight: put(theirs.straight, change.before.straight, change.after.straight),
    }
    held.leads.set(key, after)
    return { ...change, before: theirs, after }
  })
  return { changes: rebased, met }
}
