import * as z from 'zod'
import { CODE_PARAMETER } from '../intake/routing'
import { checkLink } from './check'
import { parseDestination, spellOrDrop } from './destination'
import type { LinkFinding } from './finding'
import { type LinkInput, type LinkParameter, type Sample, sampleSchema } from './linkInput'
import { nameFindings } from './names'
import { resolvePlan, tagPlanSchema } from './plan'
import { type PlanLevel, profileSchema, spell } from './profile'
import { encodeLiteral, parseTemplate, type Segment } from './template'

/** What `link --spec` reads: the profile is given whole or by the ID of a known one. */
export const linkSpecSchema = z.object({
  profile: z.union([z.string(), profileSchema]),
  destination: z.string(),
  plan: tagPlanSchema.default({}),
  sub_ids: z.array(z.string()).default([]),
  sample: sampleSchema.default({}),
  hosts: z.array(z.string()).default([]),
  /** the code that an address stands for which does not pass the tracking domain */
  code: z.string().optional(),
})

export interface AssembledLink {
  /** by the profile's field IDs */
  fields: Record<string, string>
  address: string
  /** the address with sample values, as a click would carry it */
  preview: string
  origin: Record<string, PlanLevel>
  parameters: LinkParameter[]
  findings: LinkFinding[]
}

/** The sample value of a neutral token; an unknown one is empty. */
export function sampleValue(sample: Sample, token: string): string {
  const direct = sample[token]
  const value =
    direct ?? token.split('.').reduce<unknown>((at, step) => (isRecord(at) ? at[step] : undefined), sample)
  return typeof value === 'string' || typeof value === 'number' ? String(value) : ''
}
const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null

const encodeValue = (value: string) => encodeLiteral(value)

/**
 * Assembles an ad's address from its destination and tag plan, split into the fields the network has,
 * with the origin of every value and all findings (docs/computation.md, Links).
 */
export function assembleLink(input: LinkInput): AssembledLink {
  const { profile, sample = {} } = input
  const { dialect } = profile
  const { parameters: planned } = resolvePlan(input.plan)
  const origin = Object.fromEntries(planned.map(p => [p.key, p.origin]))
  const asWritten = spellOrDrop(dialect)
  const asSampled = (token: string) =>
    spell(dialect, token) === null ? '' : encodeValue(sampleValue(sample, token))
  const write = (segments: readonly Segment[], token: (name: string) => string) =>
    segments.map(s => (s.kind === 'literal' ? encodeLiteral(s.text, dialect) : token(s.token))).join('')

  const parameters: LinkParameter[] = planned.map(p => {
    const segments = parseTemplate(p.template, dialect)
    const resolved = segments
      .map(s =>
        s.kind === 'literal' ? s.text : spell(dialect, s.token) === null ? '' : sampleValue(sample, s.token),
      )
      .join('')
    return { ...p, segments, written: write(segments, asWritten), resolved }
  })

  const planKeys = new Set(planned.map(p => p.key))
  const parsed = parseDestination(input.destination, dialect, planKeys)
  if (!parsed) {
    const text = input.destination
    return {
      fields: Object.fromEntries(profile.fields.map(f => [f.id, ''])),
      address: '',
      preview: '',
      origin,
      parameters,
      findings: [{ code: 'not_an_address', severity: 'error', at: { part: 'destination' }, text }],
    }
  }

  const { destination, restore } = parsed
  const own = destination.query.filter(q => !planKeys.has(restore(q.key, asWritten)))
  const limit = profile.sub_ids?.limit ?? 0
  const subIds = (input.subIds ?? []).slice(0, limit).map(t => parseTemplate(t, dialect))
  const subNames = subIds.map((_, i) => profile.sub_ids?.names[i] ?? `sub${i + 1}`)

  const build = (token: (name: string) => string) => {
    const inPath = profile.sub_ids?.in === 'path' ? subIds.map(s => `/${write(s, token)}`) : []
    const inQuery =
      profile.sub_ids?.in === 'query'
        ? subIds.map((s, i) => `${encodeLiteral(subNames[i]!, dialect)}=${write(s, token)}`)
        : []
    const head = restore(destination.base, token)
    const base = inPath.length > 0 ? head.replace(/\/$/, '') + inPath.join('') : head
    const kept = own.map(q => restore(q.raw, token))
    const plan = [
      ...parameters.map(p => `${encodeLiteral(p.key, dialect)}=${write(p.segments, token)}`),
      ...inQuery,
      ...(input.code === undefined ? [] : [`${CODE_PARAMETER}=${encodeLiteral(input.code, dialect)}`]),
    ]
    const fragment = restore(destination.fragment, token)
    const join = (query: string[]) => base + (query.length > 0 ? `?${query.join('&')}` : '') + fragment
    return { whole: join([...kept, ...plan]), bare: join(kept), query: plan.join('&') }
  }
  const written = build(asWritten)
  const hasQueryField = profile.fields.some(f => f.holds === 'query')
  const fields = Object.fromEntries(
    profile.fields.map(f => [
      f.id,
      f.holds === 'query' ? written.query : hasQueryField ? written.bare : written.whole,
    ]),
  )
  const preview = build(asSampled).whole
  const findings = [
    ...checkLink({
      ...input,
      destination,
      destinationTokens: parsed.tokens,
      parameters,
      written: written.whole,
      preview,
      restore,
    }),
    ...nameFindings(planNames(sample), profile),
  ]
  return { fields, address: written.whole, preview, origin, parameters, findings }
}

const planNames = (sample: Sample) =>
  (['campaign', 'ad_set', 'ad'] as const).flatMap(level => {
    const { id, name } = sample[level] ?? {}
    return name ? [{ level, id: id ?? name, names: [name] }] : []
  })
