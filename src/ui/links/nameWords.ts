import type { NamedLevel, NameProblem, NamingRule } from '@/core/links/naming'

type Words = { [Code in NameProblem['code']]: (problem: Extract<NameProblem, { code: Code }>) => string }
const words: Words = {
  parts_missing: p => `has ${p.found} of ${p.expected} parts`,
  parts_too_many: p => `has ${p.found} parts, ${p.expected} are expected`,
  part_empty: p => `${p.part} is empty`,
  not_in_list: p => `${p.part} “${p.value}” is not in its list`,
  not_a_month: p => `${p.part} “${p.value}” is no month as 2026-10`,
  not_a_number: p => `${p.part} “${p.value}” is no number`,
}

/** What keeps a name from its rule, in words. */
export const nameProblemWords = (problems: readonly NameProblem[]): string =>
  problems.map(p => (words[p.code] as (p: NameProblem) => string)(p)).join('; ')

export const levelWords: Record<NamedLevel, string> = { campaign: 'campaigns', ad_set: 'ad sets', ad: 'ads' }

export const patternOf = (rule: NamingRule) => rule.parts.map(p => p.name).join(rule.separator)
