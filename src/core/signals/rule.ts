import * as z from 'zod'
import type { Severity } from '../shared/finding'
import { addressConditionsSchema } from './address'
import { matchesAddress } from './matchAddress'
import { type PatternProblem, patternProblem } from './pattern'

const selector = z.string().min(1).max(300)
const share = z.int().min(1).max(100)

/** What a rule waits for in the browser. */
const triggerSchema = z.discriminatedUnion('on', [
  z.object({ on: z.literal('page') }),
  z.object({ on: z.literal('link_click') }),
  z.object({ on: z.literal('element_click'), selector }),
  z.object({ on: z.literal('form_sent'), selector: selector.optional() }),
  z.object({ on: z.literal('element_seen'), selector }),
  /** per cent of the page's height */
  z.object({ on: z.literal('scroll'), share }),
  /** per cent of a video's length, played and not skipped over */
  z.object({ on: z.literal('video'), share, selector: selector.optional() }),
  /** seconds with the tab visible and the visitor active */
  z.object({ on: z.literal('engaged'), seconds: z.int().min(1).max(7200) }),
  z.object({ on: z.literal('own_event'), name: z.string().regex(/^[\w.:-]{1,60}$/) }),
])

/** Where on the page a fact of the event stands. */
export const factPlaceSchema = z.discriminatedUnion('from', [
  z.object({ from: z.literal('fixed'), text: z.string().min(1).max(100) }),
  /** a parameter of the page's address */
  z.object({ from: z.literal('parameter'), name: z.string().min(1).max(100) }),
  /** an attribute of an element, or its text */
  z.object({ from: z.literal('element'), selector, attribute: z.string().max(100).optional() }),
])
export const ruleFacts = ['value', 'currency', 'transaction'] as const

/** When a result is heard of: a trigger, on pages (or links) whose address is meant. */
export const ruleSchema = z.object({
  id: z.string().min(1).max(60),
  /** the result that it tells of */
  result: z.string().min(1).max(60),
  when: triggerSchema,
  where: addressConditionsSchema.prefault({}),
  /** what the event says beside its name */
  facts: z.partialRecord(z.enum(ruleFacts), factPlaceSchema).default({}),
})
export type Rule = z.infer<typeof ruleSchema>

export type RuleFinding = { severity: Severity; at: { rule: string } } & (
  | { code: 'matches_every_page'; text: string | null }
  | { code: 'bad_pattern'; text: string; problem: PatternProblem }
  | { code: 'matches_nothing_seen'; seen: number; of: 'pages' | 'links' }
  | { code: 'excludes_itself' }
)

export type BadPattern = RuleFinding & { code: 'bad_pattern' }
/** The patterns of a rule that no tag is given: what is none, and what a browser could hang in. */
export function badPatterns({ id, where }: Rule): BadPattern[] {
  return [...where.any, ...where.none].flatMap(({ by, text }) => {
    const problem = by === 'pattern' ? patternProblem(text) : null
    return problem ? [{ code: 'bad_pattern', severity: 'error', at: { rule: id }, text, problem }] : []
  })
}

const A_PAGE_NOBODY_HAS = '/aequant/no-such-page-0'

/**
 * What is wrong with a rule, as it is written and on the pages that were seen.
 *
 * @param site the site's home address
 * @param seen addresses of pages, or of links for a rule on link clicks
 */
export function checkRule(rule: Rule, site: string, seen: readonly string[]): RuleFinding[] {
  const at = { rule: rule.id }
  const findings: RuleFinding[] = badPatterns(rule)
  if (rule.when.on === 'page') {
    const home = new URL('/', site).href
    const nowhere = new URL(A_PAGE_NOBODY_HAS, site).href
    const every = (any: Rule['where']['any']) => {
      const where = { any, none: rule.where.none }
      return matchesAddress(where, home) && matchesAddress(where, nowhere)
    }
    const guilty = rule.where.any.find(condition => every([condition]))
    if (rule.where.any.length === 0 ? every([]) : guilty)
      findings.push({ code: 'matches_every_page', severity: 'error', at, text: guilty?.text ?? null })
  }
  if (
    rule.where.any.length > 0 &&
    rule.where.any.every(a => rule.where.none.some(n => n.by === a.by && n.text === a.text))
  )
    findings.push({ code: 'excludes_itself', severity: 'error', at })
  else if (seen.length > 0 && !seen.some(address => matchesAddress(rule.where, address)))
    findings.push({
      code: 'matches_nothing_seen',
      severity: 'warning',
      at,
      seen: seen.length,
      of: rule.when.on === 'link_click' ? 'links' : 'pages',
    })
  return findings
}
