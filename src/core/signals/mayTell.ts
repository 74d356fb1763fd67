import { matchesAddress } from './matchAddress'
import type { Rule } from './rule'

/** Why an event that says it tells a result tells none: it does not fit the rule that it names. */
export const misfits = ['no_such_rule', 'other_result', 'other_host', 'other_page'] as const
export type Misfit = (typeof misfits)[number]

/** What a browser says of a result. */
export interface BrowserWord {
  rule: string
  /** the result's ID */
  name: string
  page?: string | null
  visitor?: string | null
}

/** Whether a page is on one of the shop's hosts; without any named every page is. */
export function isOnHosts(page: string | null | undefined, hosts: readonly string[]): boolean {
  if (hosts.length === 0) return true
  const url = page && URL.canParse(page) ? new URL(page) : null
  return hosts.some(host => host === url?.host || host === url?.hostname)
}

/** Where the tag cuts a page's address; of a longer one the end is not known. */
const LONGEST_PAGE = 2000

/**
 * What of an event does not fit the rule that it names; null where it may tell its result. Anybody can read a site's
 * rules and send such an event: this keeps out what was never meant, and limits (`limits.ts`) what is made up.
 *
 * @param rules those of the workspace whose site the event names
 * @param hosts the shop's hosts; none means that any is right
 */
export function misfitOf(
  { rule: id, name, page, visitor }: BrowserWord,
  rules: readonly Rule[],
  hosts: readonly string[],
): Misfit | null {
  const rule = rules.find(one => one.id === id)
  if (!rule) return 'no_such_rule'
  if (rule.result !== name) return 'other_result'
  const url = page && URL.canParse(page) ? new URL(page) : null
  if (hosts.length > 0 && !hosts.some(host => host === url?.host || host === url?.hostname))
    return 'other_host'
  // The conditions of a rule on links speak of the link's address.
  if (rule.when.on === 'link_click') return null
  if (!page) return rule.where.any.length > 0 ? 'other_page' : null
  // Without consent the address is cut to its path, and a long one at its end: what follows cannot be held against it.
  const cut = !visitor || page.length >= LONGEST_PAGE
  return cut || matchesAddress(rule.where, page) ? null : 'other_page'
}

// How an event that tells no result is kept: figures stand on those that have a `rule`.
/** The attribute of an event that holds why it is kept apart. */
export const APART = 'apart'
/** The attribute that holds the rule of an event that is kept apart. */
export const NAMED_RULE = 'named_rule'
