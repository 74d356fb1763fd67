import { DAY_MS } from '@/core/shared/days'
import type { Clash } from '@/core/shared/mergeEdit'
import { matchesAddress } from '@/core/signals/matchAddress'
import { badPatterns, checkRule, type Rule, type RuleFinding } from '@/core/signals/rule'
import { noteChange } from '@/data/changeLog'
import type { Database } from '@/data/connect'
import { nextRevision } from '@/data/revision'
import { listRules, pagesSince, removeRule, saveRule } from '@/data/signals'
import { type Edit, edited } from '../edited'
import { publishRoutes } from '../routes'

const SEEN_DAYS = 7
const MOST_PAGES = 5000
const SHOWN = 12

export interface RuleTry {
  findings: RuleFinding[]
  /** how many pages of the last week (for a rule on links, typed addresses) were tried, and which of them it means */
  seen: number
  matches: number
  examples: string[]
}

/** What a rule would have meant of the pages that the tag saw in the last week, and what is wrong with it. */
export async function tryRule(
  database: Database,
  workspace: string,
  rule: Rule,
  site: string,
  typed: readonly string[],
  now: number,
): Promise<RuleTry> {
  // A link's address is no page's: what was seen says nothing of it.
  const pages =
    rule.when.on === 'link_click'
      ? []
      : await pagesSince(database, workspace, new Date(now - SEEN_DAYS * DAY_MS), MOST_PAGES)
  const addresses = [...typed, ...pages.map(p => p.page)]
  const meant = addresses.filter(address => matchesAddress(rule.where, address))
  return {
    findings: checkRule(rule, site, addresses),
    seen: addresses.length,
    matches: meant.length,
    examples: meant.slice(0, SHOWN),
  }
}

/**
 * Keeps a rule and gives it to the tag; gives what is wrong where a browser cannot be given it, or what somebody else
 * changed of it meanwhile.
 */
export async function keepRule(
  database: Database,
  workspace: string,
  rule: Rule,
  edit: Edit<Rule> = {},
): Promise<RuleFinding | { clashes: Clash[] } | null> {
  const kept = await database.transaction(async inner => {
    await nextRevision(inner, workspace)
    const now = (await listRules(inner, workspace)).find(one => one.id === rule.id)
    const made = edited(now, rule, edit)
    if ('clashes' in made) return made
    const [bad] = badPatterns(made.merged)
    if (bad) return bad
    await saveRule(inner, workspace, made.merged)
    await noteChange(inner, workspace, 'rule', made.merged.result)
    return null
  })
  if (kept) return kept
  await publishRoutes(database, workspace)
  return null
}

/** Takes a rule from the tag. What it told stays. */
export async function dropRule(database: Database, workspace: string, id: string): Promise<void> {
  const dropped = (await listRules(database, workspace)).find(rule => rule.id === id)
  await removeRule(database, workspace, id)
  if (dropped) await noteChange(database, workspace, 'rule', dropped.result)
  await publishRoutes(database, workspace)
}

/** The home address of the site, as the tag saw it most in the last week. */
export async function siteHome(database: Database, workspace: string): Promise<string> {
  const [page] = await pagesSince(database, workspace, new Date(Date.now() - SEEN_DAYS * DAY_MS), 1)
  return page && URL.canParse(page.page) ? new URL('/', page.page).href : 'https://shop.example/'
}
