import { closest, distance } from 'fastest-levenshtein'
import * as z from 'zod'

export const partKinds = {
  text: 'any text',
  list: 'one of a list',
  month: 'a month, as 2026-10',
  number: 'a number',
} as const
export type PartKind = keyof typeof partKinds

const partSchema = z
  .object({
    /** what the part says, and the name of the dimension that it becomes */
    name: z.string().trim().min(1, 'name the part').max(40),
    kind: z.enum(Object.keys(partKinds) as [PartKind, ...PartKind[]]),
    /** what a part of a list may be */
    values: z.array(z.string().trim().min(1)).default([]),
  })
  .refine(p => p.kind !== 'list' || p.values.length > 0, { path: ['values'], message: 'list what it may be' })
export type NamePart = z.infer<typeof partSchema>

export const namedLevels = ['campaign', 'ad_set', 'ad'] as const
export type NamedLevel = (typeof namedLevels)[number]

/** How names of one level are made up: parts with a separator between them. */
export const namingRuleSchema = z
  .object({
    level: z.enum(namedLevels),
    /** networks whose names keep to it; empty for all */
    networks: z.array(z.string()).default([]),
    separator: z.string().min(1, 'say what stands between parts').max(5),
    parts: z.array(partSchema).min(1, 'a name needs a part').max(12),
  })
  .superRefine(({ parts, separator }, ctx) => {
    for (const [i, part] of parts.entries()) {
      if (parts.findIndex(p => p.name.toLowerCase() === part.name.toLowerCase()) < i)
        ctx.addIssue({ code: 'custom', path: ['parts', i, 'name'], message: 'another part has this name' })
      if (separator !== '' && part.values.some(v => v.includes(separator)))
        ctx.addIssue({
          code: 'custom',
          path: ['parts', i, 'values'],
          message: `a value has ${separator} in it, which parts the name`,
        })
    }
  })
export type NamingRule = z.infer<typeof namingRuleSchema>

export type NameProblem =
  | { code: 'parts_missing'; expected: number; found: number }
  | { code: 'parts_too_many'; expected: number; found: number }
  | { code: 'part_empty'; part: string }
  | { code: 'not_in_list'; part: string; value: string; nearest: string | null }
  | { code: 'not_a_month'; part: string; value: string }
  | { code: 'not_a_number'; part: string; value: string }

export interface ReadName {
  /** what each part says; null when the name does not fit */
  parts: Record<string, string> | null
  problems: NameProblem[]
  /** the name as it would fit; null when nobody can tell */
  proposal: string | null
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']

/** `2026-10` from `Oct 26`, `october-2026`, `10/2026` or `202610`. */
function readMonth(text: string): string | null {
  const lower = text.toLowerCase().trim()
  const word = /^([a-z]{3,9})[\s./-]*(\d{4}|\d{2})$/.exec(lower)
  const named = word ? MONTHS.findIndex(m => word[1]!.startsWith(m)) : -1
  const [year, month] =
    named >= 0
      ? [word![2]!, named + 1]
      : (() => {
          const yearFirst = /^(\d{4})[\s./-]?(\d{1,2})$/.exec(lower)
          if (yearFirst) return [yearFirst[1]!, Number(yearFirst[2])]
          const yearLast = /^(\d{1,2})[\s./-](\d{4})$/.exec(lower)
          return yearLast ? [yearLast[2]!, Number(yearLast[1])] : ['', 0]
        })()
  if (month < 1 || month > 12) return null
  return `${String(year).length === 2 ? `20${year}` : year}-${String(month).padStart(2, '0')}`
}

/** The entry of a list that a value is a slip of: a third of its letters at most, and no other as near. */
function nearestOf(value: string, values: readonly string[]): string | null {
  const lower = value.toLowerCase()
  const nearest = closest(
    lower,
    values.map(v => v.toLowerCase()),
  )
  const found = values.find(v => v.toLowerCase() === nearest)
  return found !== undefined && distance(lower, nearest) <= Math.max(1, Math.floor(found.length / 3))
    ? found
    : null
}

/** One part read: what it says, what is wrong, and what it should be. */
function readPart(part: NamePart, value: string): { problem: NameProblem | null; meant: string | null } {
  const trimmed = value.trim()
  if (trimmed === '') return { problem: { code: 'part_empty', part: part.name }, meant: null }
  if (part.kind === 'list') {
    if (part.values.includes(value)) return { problem: null, meant: value }
    const nearest = nearestOf(trimmed, part.values)
    return { problem: { code: 'not_in_list', part: part.name, value, nearest }, meant: nearest }
  }
  if (part.kind === 'month') {
    const meant = readMonth(trimmed)
    return { problem: meant === value ? null : { code: 'not_a_month', part: part.name, value }, meant }
  }
  if (part.kind === 'number')
    return /^\d+$/.test(value)
      ? { problem: null, meant: value }
      : { problem: { code: 'not_a_number', part: part.name, value }, meant: /\d+/.exec(value)?.[0] ?? null }
  return { problem: null, meant: trimmed }
}

/** What people put between parts when they do not keep to the separator. */
const OTHER_SEPARATORS = [' - ', ' – ', ' | ', ' / ', '_', '|', ' ', '-']

function partsBy(rule: NamingRule, separator: string, name: string) {
  const cut = name.split(separator)
  return cut.length === rule.parts.length ? rule.parts.map((part, i) => readPart(part, cut[i]!)) : null
}

/**
 * Reads a name by its rule: what its parts say, what does not fit, and how the name would fit where that
 * can be told.
 *
 * @example
 * readName(rule, 'Looms_beginers_Oct 26')
 * // { parts: null, problems: [not_in_list beginers …], proposal: 'looms_beginners_2026-10' }
 */
export function readName(rule: NamingRule, name: string): ReadName {
  const { separator } = rule
  const found = name.split(separator)
  const read = partsBy(rule, separator, name)
  if (read?.every(p => p.problem === null))
    return {
      parts: Object.fromEntries(rule.parts.map((part, i) => [part.name, found[i]!])),
      problems: [],
      proposal: null,
    }
  const counts = { expected: rule.parts.length, found: found.length }
  const problems: NameProblem[] = read
    ? read.flatMap(p => p.problem ?? [])
    : [{ code: counts.found < counts.expected ? 'parts_missing' : 'parts_too_many', ...counts }]
  const proposals = [separator, ...OTHER_SEPARATORS]
    .map(other => partsBy(rule, other, name))
    .filter(parts => parts?.every(p => p.meant !== null))
    .map(parts => parts!.map(p => p.meant).join(separator))
  return { parts: null, problems, proposal: proposals[0] ?? null }
}

/** A campaign, ad set or ad and its name. */
export interface NamedByRule {
  network: string
  level: NamedLevel
  id: string
  name: string
}
export interface UnfitName extends NamedByRule, Pick<ReadName, 'problems' | 'proposal'> {}

/** Which names do not keep to their rule, and how many have one. */
export function checkNames(
  rules: readonly NamingRule[],
  entities: Iterable<NamedByRule>,
): { read: number; unfit: UnfitName[] } {
  const unfit: UnfitName[] = []
  let read = 0
  for (const entity of entities) {
    const rule = ruleFor(rules, entity.network, entity.level)
    if (!rule) continue
    read += 1
    const { parts, problems, proposal } = readName(rule, entity.name)
    if (parts === null) unfit.push({ ...entity, problems, proposal })
  }
  return { read, unfit }
}

/** The rule that names of a network and level keep to, the network's own before that of all. */
export const ruleFor = (
  rules: readonly NamingRule[],
  network: string,
  level: NamedLevel,
): NamingRule | null =>
  rules.find(r => r.level === level && r.networks.includes(network)) ??
  rules.find(r => r.level === level && r.networks.length === 0) ??
  null
