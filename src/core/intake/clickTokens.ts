import type { NetworkProfile } from '../links/profile'
import { parseTemplate } from '../links/template'
import { cleanText, readParameters } from '../shared/text'
import { LONGEST_ID } from './fields'

/** Which token each parameter of a network's plan carries: those whose template is one token alone. */
export function tokensByKey(
  templates: Iterable<[key: string, template: string]>,
  profile: NetworkProfile,
): Map<string, string> {
  const tokens = new Map<string, string>()
  for (const [key, template] of templates) {
    const [only, ...more] = parseTemplate(template, profile.dialect)
    if (only?.kind === 'token' && more.length === 0) tokens.set(key, only.token)
  }
  return tokens
}

/** The neutral values that a click's query carries, by token; empty and unresolved ones are left out. */
export function readTokens(
  query: string,
  tokens: ReadonlyMap<string, string>,
  profile: NetworkProfile,
): Map<string, string> {
  const values = new Map<string, string>()
  const { open, close } = profile.dialect
  for (const [key, value] of readParameters(query)) {
    const token = tokens.get(key)
    const unresolved = open !== '' && value.startsWith(open) && value.endsWith(close)
    if (token && value && !unresolved) values.set(token, cleanText(value, LONGEST_ID))
  }
  return values
}
