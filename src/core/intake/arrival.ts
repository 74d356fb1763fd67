import * as z from 'zod'
import type { NetworkProfile } from '../links/profile'
import { parseTemplate } from '../links/template'

/** One ad click as the collector writes it into its journal, one JSON line each. */
export const clickArrivalSchema = z.object({
  kind: z.literal('click'),
  /** the click ID, which makes the record the same however often it is read */
  id: z.string(),
  /** epoch ms */
  at: z.number(),
  workspace: z.string(),
  network: z.string(),
  code: z.string(),
  /** the query as it arrived, still encoded, without `?` */
  query: z.string(),
  /** where the click was sent */
  landing: z.string(),
  visitor: z.string().nullable(),
  device: z.string().nullable(),
})
export type ClickArrival = z.infer<typeof clickArrivalSchema>

const codeSchema = z.object({
  workspace: z.string(),
  network: z.string(),
  destination: z.url({ protocol: /^https?$/ }),
})

/** The file by which the collector answers: codes of the tracking domain and where each leads. */
export const routingSchema = z.object({ version: z.number(), codes: z.record(z.string(), codeSchema) })
export type Routing = z.infer<typeof routingSchema>

/**
 * Where a click goes: the code's destination with the click's own parameters and its click ID added, the
 * fragment last. Parameters pass as they came, byte for byte.
 *
 * @example
 * landingAddress('https://tarnbrook.example/kits?a=1#top', 'utm_source=x', 'c1')
 * // 'https://tarnbrook.example/kits?a=1&utm_source=x&aq_click=c1#top'
 */
export function landingAddress(destination: string, query: string, clickId: string): string {
  const [address, fragment] = splitOnce(destination, '#')
  const [base, own] = splitOnce(address, '?')
  const parameters = [own, query, `${CLICK_PARAMETER}=${encodeURIComponent(clickId)}`]
    .filter(Boolean)
    .join('&')
  return `${base}?${parameters}${fragment ? `#${fragment}` : ''}`
}
export const CLICK_PARAMETER = 'aq_click'

function splitOnce(text: string, mark: string): [string, string] {
  const at = text.indexOf(mark)
  return at < 0 ? [text, ''] : [text.slice(0, at), text.slice(at + 1)]
}

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
  for (const [key, value] of new URLSearchParams(query)) {
    const token = tokens.get(key)
    const unresolved = open !== '' && value.startsWith(open) && value.endsWith(close)
    if (token && value && !unresolved) values.set(token, value)
  }
  return values
}
