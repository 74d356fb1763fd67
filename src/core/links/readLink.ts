import { pathKey, perPath } from '../shared/path'
import { cleanText } from '../shared/text'
import { type Parameters, type PlanScope, scopeKey } from './change'
import { resolvePlan } from './plan'
import { levelsOf, type NetworkProfile, type PlanLevel, planLevels, spellings } from './profile'
import { parseTemplate, type Segment } from './template'

/** What a level of a network's plan set, from an instant on (epoch ms) until the next one of the same level. */
export interface PlanVersion extends PlanScope {
  parameters: Parameters
  since: number
}

export type EntityLevel = 'campaign' | 'ad_set' | 'ad'
const entityLevels = ['campaign', 'ad_set', 'ad'] as const

/** One ad, or a part of a campaign that nobody broke down further: then the lower IDs are empty. */
export interface AdPath {
  network: string
  campaign: string
  adSet: string
  ad: string
}

/** By what a campaign, ad set or ad was recognised, the surest first. */
export const readBy = ['code', 'id', 'name', 'label'] as const
export type ReadBy = (typeof readBy)[number]

export interface LinkReading extends AdPath {
  /** how sure the deepest level is that was read; null where none was */
  by: ReadBy | null
  /** values that should name a campaign, ad set or ad, and name none that is known */
  unknown: { level: EntityLevel; value: string }[]
  /** what the other dynamic values held: keyword, placement, device … */
  tokens: ReadonlyMap<string, string>
}

/** All that addresses are read by. */
export interface KnownLinks {
  profiles: readonly NetworkProfile[]
  plans: readonly PlanVersion[]
  ads: Iterable<AdPath>
  /** every name of a campaign, ad set or ad, present and former */
  namesOf: (network: string, level: EntityLevel, id: string) => readonly string[]
  /** the parameters that name campaign, ad set and ad where no plan says what a parameter holds */
  usual: Readonly<Record<EntityLevel, string>>
}

/** The value of a parameter, decoded; null or empty where it is not there. */
export type Given = (key: string) => string | null

const ENTITY_TOKEN = /^(campaign|ad_set|ad)\.(id|name)$/
const LONGEST_VALUE = 500
/** Of more candidates than these only what they have in common is looked for. */
const MOST_CANDIDATES = 400
const idAt = { campaign: 'campaign', ad_set: 'adSet', ad: 'ad' } as const

interface Parsed {
  segments: readonly Segment[]
  /** what it says of the levels, where it holds such a token */
  entities: readonly { level: EntityLevel; is: 'id' | 'name'; token: string }[]
}
interface Template extends Parsed {
  key: string
  origin: PlanLevel
}

interface Candidate {
  path: AdPath
  /** how it is named by what something below it sets; null where it is not */
  below: ReadBy | null
}

/** How well a plan explains some parameters for one ad. */
interface Fit {
  score: number
  held: boolean
  by: ReadBy | null
  templates: readonly Template[]
}

/**
 * Reads which campaign, ad set and ad the parameters of an address name, and what its other dynamic values
 * held: by the plans that ads had, each as it stood at the time and before, since links that were pasted stay
 * as they are. Only what somebody named is found; a value that names nothing is told as unknown.
 *
 * @returns the reader of a network, made when it is first asked for
 * @example
 * linkReader(known)('norrfeed').read(key => query.get(key), clickedAt)
 * // { campaign: 'nf1', adSet: 'nf11', ad: 'na111', by: 'id', unknown: [], tokens: Map { 'placement' → 'feed' } }
 */
export function linkReader(known: KnownLinks) {
  const profileOf = new Map(known.profiles.map(p => [p.id, p]))
  return perPath(id => networkReader(id!, profileOf.get(id!), known))
}

/**
 * Finds the network that parameters are of: the one that their source names, else the only one whose account
 * sets all the fixed values that they carry.
 *
 * @param sourceNames sources in lower case, and the network that each is; empty for one that is no ad
 * @param networks the IDs of those that are known
 */
export function networkFinder(
  plans: readonly PlanVersion[],
  sourceNames: Readonly<Record<string, string>>,
  networks: readonly string[],
): (given: Given) => string | null {
  const byName = new Map(networks.map(id => [id.toLowerCase(), id]))
  const fixed = plans.flatMap(({ network, level, parameters }) => {
    const own = Object.entries(parameters).filter(([, value]) => value !== '' && !value.includes('{'))
    return level === 'account' && own.length > 0 ? [{ network, own }] : []
  })
  return given => {
    const source = given('utm_source')
    const named = source && (sourceNames[source.toLowerCase()] ?? source)
    const found = named === null ? undefined : byName.get(named.toLowerCase())
    if (found !== undefined || named === '') return found ?? null
    const fits = new Set(
      fixed.filter(({ own }) => own.every(([key, value]) => given(key) === value)).map(f => f.network),
    )
    return fits.size === 1 ? [...fits][0]! : null
  }
}

function networkReader(network: string, profile: NetworkProfile | undefined, known: KnownLinks) {
  const plans = planHistory(network, profile, known.plans)
  const index = adIndex(network, known)
  const unfilled = unfilledIn(profile)
  const value = (given: Given, key: string): string | null => {
    const text = given(key)
    return text && !unfilled(text) ? text : null
  }

  /** The plan of a path that best explains the parameters: what held at the time before what held before or after. */
  function fitOf(path: AdPath, level: EntityLevel | 'account', given: Given, at: number): Fit {
    let best: Fit | null = null
    for (const { templates, held } of plans.of(path, level, at)) {
      let score = 0
      let by: ReadBy | null = null
      for (const template of templates) {
        const text = value(given, template.key)
        if (text === null) continue
        const match = explain(template, text, path)
        score += match ? 1 : -2
        if (match && level !== 'account' && names(template, level)) by = surer(by, match.by)
      }
      if (!best || score > best.score) best = { score, held, by, templates }
    }
    return best ?? { score: 0, held: true, by: null, templates: [] }
  }

  /** How a value is what a template makes of a path, and what its other tokens hold; null where it is not. */
  function explain({ segments, entities }: Parsed, text: string, path: AdPath) {
    const [only] = entities
    if (only && segments.length === 1) {
      const id = path[idAt[only.level]]
      if (!id) return { by: 'label' as const, bound: new Map([[only.token, text]]) }
      // A link may have been written by hand with a name where the plan has the ID: that is less sure.
      const isName = index.isName(only.level, id, text)
      const byName = only.is === 'name' ? 'name' : index.pathOf(only.level, text) ? null : 'label'
      const by: ReadBy | null = text === id ? 'id' : isName ? byName : null
      return by && { by, bound: new Map<string, string>() }
    }
    for (const { by, filled } of filledIn(segments, path)) {
      const bound = bind(filled, text)
      if (bound) return { by, bound }
    }
    return null
  }
  /** A template with the names of a path in it, each in turn. */
  function filledIn(segments: readonly Segment[], path: AdPath) {
    let all: { by: ReadBy; filled: Segment[] }[] = [{ by: 'label', filled: [] }]
    for (const segment of segments) {
      const entity = segment.kind === 'token' ? ENTITY_TOKEN.exec(segment.token) : null
      const level = entity?.[1] as EntityLevel | undefined
      const id: string = level ? path[idAt[level]] : ''
      const texts: string[] =
        !level || !id ? [] : entity![2] === 'id' ? [id] : [id, ...known.namesOf(network, level, id)]
      if (texts.length === 0) for (const one of all) one.filled.push(segment)
      else
        all = all.flatMap(({ by, filled }) =>
          texts.map(text => ({
            by: surer(by, text === id ? 'id' : 'name'),
            filled: [...filled, { kind: 'literal' as const, text }],
          })),
        )
    }
    return all
  }

  /** Paths at a level whose ID or name stands in some parameter, by a plan that anybody ever had there. */
  function namedIn(level: EntityLevel, given: Given): Candidate[] {
    const found = new Map<string, Candidate>()
    for (const key of plans.keys) {
      const text = value(given, key)
      if (text === null) continue
      for (const template of plans.templatesOf(key)) {
        const { segments, entities, scopes } = template
        if (!entities.some(e => e.level === level)) continue
        for (const part of segments.length === 1 ? [text] : partsOf(segments, text))
          for (const path of index.named(level, part)) {
            // What an ad sets itself may name what stands above it.
            const by = scopes.some(scope => isBelow(scope, path, level))
              ? explain(template, text, path)
              : null
            const below = by?.by || found.get(path[idAt[level]])?.below || null
            found.set(path[idAt[level]], { path, below })
          }
      }
    }
    return [...found.values()]
  }
  /** Paths at a level for which some parameter was set to just this value. */
  function labelledBy(level: EntityLevel, given: Given): Candidate[] {
    const found = new Map<string, Candidate>()
    for (const key of plans.keys) {
      const text = value(given, key)
      if (text === null) continue
      for (const { segments, scopes } of plans.templatesOf(key))
        if (segments.every(s => s.kind === 'literal') && bind(segments, text))
          for (const scope of scopes) {
            const path = scope.level === level ? index.pathOf(level, scope.scope) : undefined
            if (path) found.set(scope.scope, { path, below: null })
          }
    }
    return [...found.values()]
  }
  const isBelow = ({ level, scope }: PlanScope, path: AdPath, above: EntityLevel): boolean =>
    level !== 'account' &&
    planLevels.indexOf(level) > planLevels.indexOf(above) &&
    index.pathOf(level, scope)?.[idAt[above]] === path[idAt[above]]

  /** What the best of some candidates have in common, and how sure that is. */
  function best(
    level: EntityLevel,
    given: Given,
    at: number,
  ): { path: AdPath; by: ReadBy; fit: Fit | null } | null {
    const fitting = (some: readonly Candidate[]) =>
      some.length > MOST_CANDIDATES
        ? []
        : some.flatMap(({ path, below }) => {
            const fit = fitOf(path, level, given, at)
            const by = fit.by ?? below
            const isWrong = by !== 'id' && fit.score <= 0 && fit.by !== null
            return by === null || isWrong ? [] : [{ path, fit, by }]
          })
    const fits = fitting(namedIn(level, given))
    // Where an ID is told, no label that many ads may share tells more.
    if (!fits.some(({ by }) => by === 'id')) {
      const labelled = labelledBy(level, given)
      if (labelled.length > MOST_CANDIDATES && fits.length === 0)
        return common(
          labelled.map(({ path }) => path),
          'label',
        )
      fits.push(...fitting(labelled))
    }
    if (fits.length === 0) return null
    const order = (a: (typeof fits)[number], b: (typeof fits)[number]) =>
      b.fit.score - a.fit.score ||
      Number(b.fit.held) - Number(a.fit.held) ||
      readBy.indexOf(a.by) - readBy.indexOf(b.by)
    fits.sort(order)
    const first = fits[0]!
    const top = fits.filter(one => order(one, first) === 0)
    return top.length === 1
      ? first
      : common(
          top.map(({ path }) => path),
          first.by,
        )
  }
  function common(paths: readonly AdPath[], by: ReadBy) {
    const path: AdPath = { network, campaign: '', adSet: '', ad: '' }
    for (const level of entityLevels) {
      const id: string = paths[0]![idAt[level]]
      if (!paths.every(p => p[idAt[level]] === id)) break
      path[idAt[level]] = id
    }
    return path.campaign ? { path, by, fit: null } : null
  }

  /** What the usual parameters name below what is read already, as deep as that is certain. */
  function byUsualKeys(given: Given, above: AdPath): { path: AdPath; by: ReadBy | null } {
    let paths: readonly AdPath[] | null = above.campaign ? index.below(above) : null
    let by: ReadBy | null = null
    for (const level of entityLevels) {
      if (above[idAt[level]]) continue
      const key = known.usual[level]
      if (plans.meansOther(key, level)) continue
      const text = value(given, key)
      const list = text === null ? [] : index.leavesNamed(level, text)
      const within: readonly AdPath[] = paths ? list.filter(path => paths!.includes(path)) : list
      if (within.length === 0) continue
      paths = within
      by = within.some(path => path[idAt[level]] === text) ? 'id' : 'name'
    }
    const found = paths && by !== null ? common(paths, by) : null
    return found ?? { path: above, by: null }
  }

  function read(given: Given, at: number, code: AdPath | null): LinkReading {
    let path: AdPath = { network, campaign: '', adSet: '', ad: '' }
    let by: ReadBy | null = null
    let fit: Fit | null = null
    for (const level of ['ad', 'ad_set', 'campaign'] as const) {
      const found = best(level, given, at)
      if (!found) continue
      const deeper = depth(found.path) > depth(path)
      if (!path.campaign) ({ path, by, fit } = found)
      else if (deeper && found.path.campaign === path.campaign) ({ path, by, fit } = found)
      // A name is not taken where another parameter names another campaign.
      else if (found.path.campaign !== path.campaign && by !== 'id' && level === 'campaign')
        ({ path, by, fit } = found)
    }
    if (code && (!path.ad || by !== 'id')) {
      path = code
      by = 'code'
      fit = null
    }
    if (!path.ad) {
      const usual = byUsualKeys(given, path)
      if (usual.by !== null) {
        path = usual.path
        by = usual.by
        fit = null
      }
    }
    const level = path.ad ? 'ad' : path.adSet ? 'ad_set' : path.campaign ? 'campaign' : 'account'
    const { templates } = fit ?? fitOf(path, level, given, at)
    return { ...path, by, ...valuesOf(templates, given, path) }
  }

  /** What a plan's other tokens held, and which values should name what is not read. */
  function valuesOf(templates: readonly Template[], given: Given, path: AdPath) {
    const tokens = new Map<string, string>()
    const unknown: LinkReading['unknown'] = []
    for (const template of templates) {
      const text = value(given, template.key)
      const explained = text === null ? null : explain(template, text, path)
      if (!explained) continue
      for (const [token, said] of explained.bound) {
        const entity = ENTITY_TOKEN.exec(token)
        if (!said) continue
        if (!entity) tokens.set(token, cleanText(said, LONGEST_VALUE))
        else if (!path[idAt[entity[1] as EntityLevel]])
          unknown.push({ level: entity[1] as EntityLevel, value: cleanText(said, LONGEST_VALUE) })
      }
    }
    return { tokens, unknown }
  }

  return {
    /** @param code the ad that the link's code stands for, where it stands for one */
    read: (given: Given, at: number, code: AdPath | null = null) => read(given, at, code),
    /** the parameters that anything is read from */
    keys: [...new Set([...plans.keys, ...Object.values(known.usual)])],
    /** a number that is another one whenever a plan of the network had changed */
    stateAt: (at: number): number => plans.times.filter(time => time <= at).length,
  }
}

const depth = (path: AdPath) => entityLevels.filter(level => path[idAt[level]]).length
const surer = (a: ReadBy | null, b: ReadBy): ReadBy =>
  a !== null && readBy.indexOf(a) <= readBy.indexOf(b) ? a : b

/** Whether a parameter tells something at a level: by its token, or by a value that was set just there. */
const names = ({ entities, origin, segments }: Template, level: EntityLevel): boolean =>
  entities.some(e => e.level === level) || (origin === level && segments.every(s => s.kind === 'literal'))

/** Whether a value still holds what the network should have filled in. */
function unfilledIn(profile: NetworkProfile | undefined): (text: string) => boolean {
  if (!profile) return () => false
  const { open, close } = profile.dialect
  const spelled = spellings(profile.dialect).map(([spelling]) => spelling)
  return text =>
    (open !== '' && text.startsWith(open) && text.endsWith(close)) || spelled.some(s => text.includes(s))
}

/** The campaigns, ad sets and ads of one network, by ID and by every name, whatever its case. */
function adIndex(network: string, { ads, namesOf }: KnownLinks) {
  const leaves: AdPath[] = []
  const byName = new Map<string, AdPath[]>()
  const byId = new Map<string, AdPath>()
  const key = (level: EntityLevel, text: string) => pathKey(level, text.toLowerCase())
  for (const path of ads) {
    if (path.network !== network) continue
    leaves.push(path)
    for (const level of entityLevels) {
      const id = path[idAt[level]]
      if (!id) continue
      const own = pathKey(level, id)
      if (!byId.has(own))
        byId.set(own, {
          network,
          campaign: path.campaign,
          adSet: level === 'campaign' ? '' : path.adSet,
          ad: level === 'ad' ? id : '',
        })
      for (const text of new Set([id, ...namesOf(network, level, id)].map(t => key(level, t)))) {
        const list = byName.get(text)
        if (list) list.push(path)
        else byName.set(text, [path])
      }
    }
  }
  const leavesNamed = (level: EntityLevel, text: string): readonly AdPath[] =>
    byName.get(key(level, text)) ?? []
  const pathOf = (level: EntityLevel, id: string) => byId.get(pathKey(level, id))
  return {
    leavesNamed,
    pathOf,
    /** the leaves of a campaign or ad set */
    below: ({ campaign, adSet }: AdPath) =>
      leaves.filter(l => l.campaign === campaign && (!adSet || l.adSet === adSet)),
    named: (level: EntityLevel, text: string): AdPath[] => {
      const exact = pathOf(level, text)
      const ids = new Set(leavesNamed(level, text).map(leaf => leaf[idAt[level]]))
      if (exact) ids.add(text)
      return [...ids].map(id => pathOf(level, id)!)
    },
    isName: (level: EntityLevel, id: string, text: string): boolean =>
      leavesNamed(level, text).some(leaf => leaf[idAt[level]] === id),
  }
}

/** Every template that stood at a key, with the scopes that set it. */
interface KeyTemplate extends Parsed {
  scopes: PlanScope[]
}

/** A network's plans in the course of time. */
function planHistory(network: string, profile: NetworkProfile | undefined, plans: readonly PlanVersion[]) {
  const levels = profile ? levelsOf(profile) : planLevels
  const own = plans.filter(plan => plan.network === network).sort((a, b) => a.since - b.since)
  const versionsOf = new Map<string, PlanVersion[]>()
  const byKey = new Map<string, Map<string, KeyTemplate>>()
  const parse = perPath(template => parsed(template!, profile))
  for (const version of own) {
    const at = scopeKey(version)
    const list = versionsOf.get(at)
    if (list) list.push(version)
    else versionsOf.set(at, [version])
    for (const [key, template] of Object.entries(version.parameters)) {
      if (template === '') continue
      const templates = byKey.get(key) ?? new Map<string, KeyTemplate>()
      byKey.set(key, templates)
      const known = templates.get(template)
      if (known) known.scopes.push(version)
      else templates.set(template, { ...parse(template), scopes: [version] })
    }
  }
  const scopesOf = (path: AdPath, level: EntityLevel | 'account'): string[] => {
    const ids = { account: '', campaign: path.campaign, ad_set: path.adSet, ad: path.ad }
    return levels
      .slice(0, levels.indexOf(level) < 0 ? levels.length : levels.indexOf(level) + 1)
      .filter(l => l === 'account' || ids[l])
      .map(l => scopeKey({ network, level: l, scope: ids[l] }))
  }
  const resolved = new Map<string, readonly Template[]>()
  const texts = new Map(own.map(version => [version, JSON.stringify(version.parameters)]))
  const known = new Map<string, { since: number; templates: readonly Template[] }[]>()

  return {
    keys: [...byKey.keys()],
    times: [...new Set(own.map(version => version.since))],
    templatesOf: (key: string) => byKey.get(key)!.values(),
    /** Whether a plan says that a parameter holds something else than what names a level. */
    meansOther: (key: string, level: EntityLevel): boolean => {
      const templates = byKey.get(key)
      if (!templates) return false
      return ![...templates.values()].some(
        ({ entities, segments }) =>
          entities.some(e => e.level === level) || segments.every(s => s.kind === 'literal'),
      )
    },
    /** The plans that held for a path, what held at an instant first, then earlier ones, then later ones. */
    of: (path: AdPath, level: EntityLevel | 'account', at: number) => {
      const scopes = scopesOf(path, level).filter(scope => versionsOf.has(scope))
      const name = scopes.join('\n')
      let all = known.get(name)
      if (!all) {
        const lists = scopes.map(scope => versionsOf.get(scope)!)
        const times = [...new Set(lists.flat().map(version => version.since))].sort((a, b) => a - b)
        all = times.map(since => ({
          since,
          templates: resolvedAt(
            lists.flatMap(list => list.findLast(version => version.since <= since) ?? []),
          ),
        }))
        known.set(name, all)
      }
      const now = all.findLastIndex(version => version.since <= at)
      return [...all.slice(0, now + 1).reverse(), ...all.slice(now + 1)].map(({ templates }, i) => ({
        templates,
        held: i === 0 && now >= 0,
      }))
    },
  }

  /** Ads that share what stands above them share what comes of it. */
  function resolvedAt(versions: readonly PlanVersion[]): readonly Template[] {
    const name = pathKey(...versions.flatMap(version => [version.level, texts.get(version)!]))
    let templates = resolved.get(name)
    if (!templates) {
      const plan = Object.fromEntries(versions.map(({ level, parameters }) => [level, { ...parameters }]))
      templates = resolvePlan(plan).parameters.map(
        ({ key, template, origin }): Template => ({ key, origin, ...parse(template) }),
      )
      resolved.set(name, templates)
    }
    return templates
  }
}

function parsed(template: string, profile: NetworkProfile | undefined): Parsed {
  const segments = parseTemplate(template, profile?.dialect)
  const entities = segments.flatMap(segment => {
    const found = segment.kind === 'token' ? ENTITY_TOKEN.exec(segment.token) : null
    return found ? [{ level: found[1] as EntityLevel, is: found[2] as 'id' | 'name', token: found[0] }] : []
  })
  return { segments, entities }
}

/**
 * What the tokens of a template hold in a value; null where the value is not of that form. A token ends where what
 * is written after it begins first.
 */
function bind(segments: readonly Segment[], text: string): Map<string, string> | null {
  const held = new Map<string, string>()
  let from = 0
  for (const [i, segment] of segments.entries()) {
    if (segment.kind === 'literal') {
      if (!text.startsWith(segment.text, from)) return null
      from += segment.text.length
      continue
    }
    const next = segments[i + 1]
    const literal = next?.kind === 'literal' ? next.text : ''
    const end = i >= segments.length - 2 ? text.length - literal.length : text.indexOf(literal, from)
    if (end < from) return null
    held.set(segment.token, text.slice(from, end))
    from = end
  }
  return from === text.length ? held : null
}

/** Where several tokens stand in one value, each part of it that may be one of them: names hold such marks too. */
const MOST_CUTS = 24
function partsOf(segments: readonly Segment[], text: string): string[] {
  const [begins, ends] = [new Set([0]), new Set([text.length])]
  for (const segment of segments)
    if (segment.kind === 'literal' && segment.text)
      for (let at = text.indexOf(segment.text); at >= 0; at = text.indexOf(segment.text, at + 1)) {
        ends.add(at)
        begins.add(at + segment.text.length)
        if (begins.size > MOST_CUTS) break
      }
  return [...begins].flatMap(begin => [...ends].filter(end => end > begin).map(end => text.slice(begin, end)))
}
