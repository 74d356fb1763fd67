import { type AssembledLink, assembleLink } from './assemble'
import type { Leads } from './change'
import type { LinkFinding } from './finding'
import type { Sample } from './linkInput'
import { resolvePlan, type TagPlan } from './plan'
import { type NetworkProfile, planLevels } from './profile'

/** Values that a real click would carry, for the preview; names and IDs are the ad's own. */
export const sampleValues: Readonly<Record<string, string>> = {
  placement: 'feed',
  keyword: 'table loom',
  match_type: 'phrase',
  device: 'phone',
  source: 's-104',
  topic: 'weaving',
  'click.id': 'x7k2m',
}

export interface AdLinkInput extends Leads {
  profile: NetworkProfile
  plan: TagPlan
  /** the address of the tracking domain that leads to the landing page */
  tracked: string | null
  sample?: Sample
  /** hosts that ads may lead to; empty means any */
  hosts: readonly string[]
  otherProfiles: readonly NetworkProfile[]
}

/** The names under which a network takes sub-IDs, in order. */
export const subIdNames = ({ sub_ids }: NetworkProfile): string[] =>
  Array.from({ length: sub_ids?.limit ?? 0 }, (_, i) => sub_ids?.names[i] ?? `sub${i + 1}`)

/** A plan without the network's sub-IDs, and those by their place. */
function splitSubIds(plan: TagPlan, names: readonly string[]): { plan: TagPlan; subIds: string[] } {
  if (names.length === 0) return { plan, subIds: [] }
  const set = new Map(resolvePlan(plan).parameters.map(p => [p.key, p.template]))
  const last = names.findLastIndex(name => set.has(name))
  return {
    plan: Object.fromEntries(
      planLevels.map(level => [
        level,
        Object.fromEntries(Object.entries(plan[level] ?? {}).filter(([key]) => !names.includes(key))),
      ]),
    ),
    subIds: names.slice(0, last + 1).map(name => set.get(name) ?? ''),
  }
}

/** The code of an address of the tracking domain. */
const codeIn = (tracked: string): string | undefined => /\/c\/([A-Za-z0-9_-]+)$/.exec(tracked)?.[1]

const sameFinding = (a: LinkFinding) => JSON.stringify([a.code, a.at])

/**
 * One ad's address: by way of the tracking domain, or straight to its landing page; then it carries the code, by
 * which the tag on the page records the click. What is checked is
 * the address that the shopper lands on in the end, whichever way leads there.
 */
export function adLink({ landingPage, straight, tracked, plan, hosts, ...rest }: AdLinkInput): AssembledLink {
  const input = { ...rest, ...splitSubIds(plan, subIdNames(rest.profile)) }
  const landing = { ...input, destination: landingPage ?? '', hosts }
  if (straight || !tracked) return assembleLink({ ...landing, code: tracked ? codeIn(tracked) : undefined })
  const landed = assembleLink(landing)
  const passed = assembleLink({ ...input, destination: tracked })
  const known = new Set(landed.findings.map(sameFinding))
  const tooLong = passed.findings.filter(f => f.code === 'too_long' && !known.has(sameFinding(f)))
  return { ...passed, findings: [...tooLong, ...landed.findings] }
}
