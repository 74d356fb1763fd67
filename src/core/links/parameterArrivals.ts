import { pathKey } from '../shared/path'
import type { Parameters, PlanScope } from './change'
import { foreignToken } from './check'
import { resolvePlan } from './plan'
import { type NetworkProfile, type PlanLevel, spellings } from './profile'
import type { AdArrivals } from './survey'
import { planOfAd } from './survey'
import { parseTemplate, type Segment } from './template'

export const arrivedAs = ['resolved', 'unresolved', 'empty', 'unknown', 'missing'] as const
/**
 * How a parameter of the plan arrived: with a value, as the network's unfilled token, empty, with a value
 * that fits nothing known, or not at all.
 */
export type ArrivedAs = (typeof arrivedAs)[number]

export interface ArrivedClick {
  network: string
  campaignId: string
  adSetId: string
  adId: string
  /** epoch ms */
  at: number
  /** the query as it came, without its question mark */
  query: string
}

/** One value that arrived, how often, and from where. */
export interface ArrivedValue {
  as: ArrivedAs
  value: string
  count: number
  /** the ad of the latest click that brought it, and the level that sets the parameter for it */
  ad: string
  level: PlanLevel
  /** ID of the campaign, ad set or ad that the value names */
  names: string | null
}

export interface ParameterArrivals {
  network: string
  key: string
  /** the token that it carries, where it carries one alone */
  token: string | null
  counts: Record<ArrivedAs, number>
  /** the most frequent of each kind first */
  values: ArrivedValue[]
}

interface Known {
  profiles: readonly NetworkProfile[]
  /** what a scope set when a click came */
  ownOf: (scope: PlanScope, at: number) => Parameters
  /** a number that is another one whenever a network's plans had changed */
  stateAt: (network: string, at: number) => number
  /** the ID of what a name or an ID means at a level of a network; null when nobody knows it */
  find: (network: string, level: 'campaign' | 'ad_set' | 'ad', value: string) => string | null
}

const ENTITY_TOKEN = /^(campaign|ad_set|ad)\.(id|name)$/
const MOST_VALUES = 12

/** Parameters of a click's plan, with what each should hold. */
interface Expected {
  key: string
  segments: Segment[]
  level: PlanLevel
  /** what a value must begin and end with */
  head: string
  tail: string
  token: string | null
}

function expectedOf(click: ArrivedClick, profile: NetworkProfile, ownOf: Known['ownOf']): Expected[] {
  const plan = planOfAd({ ...click, id: click.adId }, scope => ownOf(scope, click.at))
  return resolvePlan(plan).parameters.map(({ key, template, origin }) => {
    const segments = parseTemplate(template, profile.dialect)
    const literal = (segment: Segment | undefined) => (segment?.kind === 'literal' ? segment.text : '')
    const [only] = segments
    return {
      key,
      segments,
      level: origin,
      head: literal(segments[0]),
      tail: segments.length > 1 ? literal(segments.at(-1)) : '',
      token: segments.length === 1 && only?.kind === 'token' ? only.token : null,
    }
  })
}

/** How one value of a parameter arrived, and what it names. */
export function arrival(
  value: string | null,
  expected: Expected,
  profile: NetworkProfile,
  network: string,
  { profiles, find }: Pick<Known, 'profiles' | 'find'>,
): { as: ArrivedAs; names: string | null } {
  const plainly = (as: ArrivedAs) => ({ as, names: null })
  if (value === null) return plainly('missing')
  const { segments, head, tail, token } = expected
  if (segments.every(s => s.kind === 'literal'))
    return plainly(value === head ? 'resolved' : value === '' ? 'empty' : 'unknown')
  if (value === '' || (head + tail !== '' && value === head + tail)) return plainly('empty')
  const unfilled =
    spellings(profile.dialect).some(([spelling]) => value.includes(spelling)) ||
    parseTemplate(value).some(s => s.kind === 'token') ||
    foreignToken(value, profiles, profile) !== null
  if (unfilled) return plainly('unresolved')
  const entity = token && ENTITY_TOKEN.exec(token)
  if (entity) {
    const names = find(network, entity[1] as 'campaign' | 'ad_set' | 'ad', value)
    return { as: names === null ? 'unknown' : 'resolved', names }
  }
  return plainly(value.startsWith(head) && value.endsWith(tail) ? 'resolved' : 'unknown')
}

/**
 * What really arrived of every planned parameter, from clicks: in all, and by ad. Each click is held against the
 * plan of its time; one whose ad is not known, against its network's account alone.
 *
 * @param dayStart clicks from this instant on (epoch ms) count as the last day's
 */
export function readArrivals(
  clicks: Iterable<ArrivedClick>,
  known: Known,
  dayStart: number,
): { clicks: number; parameters: ParameterArrivals[]; ads: Map<string, AdArrivals> } {
  const profileOf = new Map(known.profiles.map(p => [p.id, p]))
  const expectedBy = new Map<string, Expected[]>()
  const parameters = new Map<string, ParameterArrivals & { byValue: Map<string, ArrivedValue> }>()
  const ads = new Map<string, AdArrivals>()
  let count = 0
  for (const click of clicks) {
    const profile = profileOf.get(click.network)
    if (!profile) continue
    count += 1
    const adKey = `${click.network}/${click.adId}`
    const planKey = `${adKey}/${click.campaignId}/${known.stateAt(click.network, click.at)}`
    let expected = expectedBy.get(planKey)
    if (!expected) expectedBy.set(planKey, (expected = expectedOf(click, profile, known.ownOf)))
    let ad = ads.get(adKey)
    if (!ad) ads.set(adKey, (ad = { lastDay: 0, unresolved: [], empty: [], unknown: [], missing: [] }))
    if (click.at >= dayStart) ad.lastDay += 1
    const query = new URLSearchParams(click.query)
    for (const wanted of expected) {
      const value = query.get(wanted.key)
      const { as, names } = arrival(value, wanted, profile, click.network, known)
      if (as !== 'resolved' && !ad[as].includes(wanted.key)) ad[as].push(wanted.key)
      const key = pathKey(click.network, wanted.key)
      let parameter = parameters.get(key)
      if (!parameter)
        parameters.set(
          key,
          (parameter = {
            network: click.network,
            key: wanted.key,
            token: wanted.token,
            counts: { resolved: 0, unresolved: 0, empty: 0, unknown: 0, missing: 0 },
            values: [],
            byValue: new Map(),
          }),
        )
      parameter.counts[as] += 1
      const valueKey = `${as} ${wanted.level} ${value}`
      const seen = parameter.byValue.get(valueKey)
      if (seen) {
        seen.count += 1
        seen.ad = click.adId
      } else
        parameter.byValue.set(valueKey, {
          as,
          value: value ?? '',
          count: 1,
          ad: click.adId,
          level: wanted.level,
          names,
        })
    }
  }
  return {
    clicks: count,
    ads,
    parameters: [...parameters.values()].map(({ byValue, ...parameter }) => ({
      ...parameter,
      values: arrivedAs.flatMap(as =>
        [...byValue.values()]
          .filter(v => v.as === as)
          .sort((a, b) => b.count - a.count)
          .slice(0, MOST_VALUES),
      ),
    })),
  }
}
