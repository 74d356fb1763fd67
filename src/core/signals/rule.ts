import * as z from 'zod'
import type { Severity } from '../shared/finding'
import { addressConditionsSchema, compile, matchesAddress } from './address'

const selector = z.string().min(1).max(300)
const share = z.int().min(1).max(100)

/** What a rule waits for in the browser. */
export const triggerSchema = z.discriminatedUnion('on', [
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
type Trigger = z.infer<typeof triggerSchema>

/** When a result is heard of: a trigger, on pages (or links) whose address is meant. */
export const ruleSchema = z.object({
  id: z.string().min(1).max(60),
  /** the result that it tells of */
  result: z.string().min(1).max(60),
  when: triggerSchema,
  where: addressConditionsSchema.prefault({}),
})
export type Rule = z.infer<typeof ruleSchema>

export type RuleFinding = { severity: Severity; at: { rule: string } } & (
  | { code: 'matches_every_page'; text: string | null }
  | { code: 'bad_pattern'; text: string }
  | { code: 'matches_nothing_seen'; seen: number }
  | { code: 'excludes_itself' }
)

const A_PAGE_NOBODY_HAS = '/aequant/no-such-page-0'

/**
 * What is wrong with a rule, as it is written and on the pages that were seen.
 *
 * @param site the site's home address
 * @param seen addresses of pages, or of links for a rule on link clicks
 */
export function checkRule(rule: Rule, site: string, seen: readonly string[]): RuleFinding[] {
  const findings: RuleFinding[] = []
  const at = { rule: rule.id }
  for (const { by, text } of [...rule.where.any, ...rule.where.none])
    if (by === 'pattern' && compile(text) === null)
      findings.push({ code: 'bad_pattern', severity: 'error', at, text })
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
    findings.push({ code: 'matches_nothing_seen', severity: 'warning', at, seen: seen.length })
  return findings
}
