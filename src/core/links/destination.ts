import { type Dialect, spell } from './profile'
import { parseTemplate, type Segment } from './template'

export interface QueryPart {
  /** as it stands, still encoded */
  raw: string
  key: string
  value: string
}

/** A destination taken apart; `base` and `fragment` keep what they were, each token in place. */
export interface Destination {
  base: string
  query: QueryPart[]
  /** with its leading `#`, or empty */
  fragment: string
  protocol: string
  host: string
  repairs: ('second_question_mark' | 'parameters_after_fragment')[]
}

/** What stands for a token while the URL parser reads the rest: letters it leaves alone. */
const mark = (index: number) => `aqtoken${index}aq`

/** A tokenised text: tokens replaced by marks, and a function that puts something in their place. */
function markTokens(text: string, dialect: Dialect) {
  const tokens: Extract<Segment, { kind: 'token' }>[] = []
  const marked = parseTemplate(text, dialect)
    .map(s => (s.kind === 'literal' ? s.text : mark(tokens.push(s) - 1)))
    .join('')
  const restore = (part: string, write: (token: string) => string) =>
    part.replace(/aqtoken(\d+)aq/g, (whole, index: string) => {
      const token = tokens[Number(index)]
      return token ? write(token.token) : whole
    })
  return { marked, tokens, restore }
}

const decode = (text: string): string => {
  try {
    return decodeURIComponent(text.replaceAll('+', ' '))
  } catch {
    return text
  }
}

const part = (raw: string): QueryPart => {
  const at = raw.indexOf('=')
  return at < 0
    ? { raw, key: decode(raw), value: '' }
    : { raw, key: decode(raw.slice(0, at)), value: decode(raw.slice(at + 1)) }
}

const PARAMETER = /[A-Za-z0-9_.~[\]-]+=/
const isAddress = (value: string) => /^https?:\/\//i.test(value)

/**
 * Splits at each further question mark that starts a parameter. A value that is itself an address may
 * hold one of its own: that is no mistake.
 */
function splitQuery(query: string): { parts: string[]; repaired: boolean } {
  let repaired = false
  const parts = query.split('&').flatMap(piece => {
    if (isAddress(decode(piece.slice(piece.indexOf('=') + 1)))) return [piece]
    const pieces = piece.split(new RegExp(`\\?(?=${PARAMETER.source})`))
    if (pieces.length > 1 || piece.startsWith('?')) repaired = true
    return pieces.map(p => p.replace(/^\?+/, ''))
  })
  return { parts: parts.filter(p => p !== ''), repaired }
}

/** Parameters that landed behind the `#`; a fragment that is a path of its own (`#/…`, `#!…`) is left. */
function splitFragment(fragment: string, planKeys: ReadonlySet<string>): { kept: string; moved: string } {
  const body = fragment.slice(1)
  if (/^[/!:]/.test(body)) return { kept: fragment, moved: '' }
  const start = new RegExp(`[?&](?=${PARAMETER.source})`).exec(body)
  const key = /^([^=&?#]+)=/.exec(body)?.[1]
  const from = start
    ? start.index + 1
    : key && (key.startsWith('utm_') || planKeys.has(decode(key)))
      ? 0
      : null
  if (from === null) return { kept: fragment, moved: '' }
  // What stands behind a further `#` is a fragment still.
  const end = body.indexOf('#', from)
  const behind = end < 0 ? '' : body.slice(end)
  const before = start?.index ? `#${body.slice(0, start.index)}` : ''
  const moved = body.slice(from, end < 0 ? undefined : end)
  const rest = splitFragment(before + behind, planKeys)
  return {
    kept: /^#+$/.test(rest.kept) ? '' : rest.kept,
    moved: rest.moved ? `${moved}&${rest.moved}` : moved,
  }
}

const userOf = ({ username, password }: URL): string =>
  username || password ? `${username}${password ? `:${password}` : ''}@` : ''

/**
 * Parses a destination by the WHATWG URL rules, mends what certainly is a slip, and says what it mended.
 * Null when it is no http(s) address. Tokens stay as the network spells them.
 */
export function parseDestination(
  text: string,
  dialect: Dialect,
  planKeys: ReadonlySet<string> = new Set(),
): { destination: Destination; tokens: string[]; restore: ReturnType<typeof markTokens>['restore'] } | null {
  const { marked, tokens, restore } = markTokens(text.trim(), dialect)
  if (!URL.canParse(marked)) return null
  const url = new URL(marked)
  if (!/^https?:$/.test(url.protocol) || !url.hostname) return null
  const repairs: Destination['repairs'] = []
  const query = splitQuery(url.search.slice(1))
  if (query.repaired) repairs.push('second_question_mark')
  const fragment = splitFragment(url.hash, planKeys)
  if (fragment.moved) repairs.push('parameters_after_fragment')
  const moved = fragment.moved ? splitQuery(fragment.moved) : { parts: [], repaired: false }
  if (moved.repaired && !query.repaired) repairs.push('second_question_mark')
  return {
    destination: {
      base: url.origin === 'null' ? url.href : `${url.protocol}//${userOf(url)}${url.host}${url.pathname}`,
      query: [...query.parts, ...moved.parts].map(part),
      fragment: fragment.kept,
      protocol: url.protocol,
      host: url.hostname,
      repairs,
    },
    tokens: tokens.map(t => t.token),
    restore,
  }
}

/** A token as the network spells it, or nothing where it cannot supply it. */
export const spellOrDrop = (dialect: Dialect) => (token: string) => spell(dialect, token) ?? ''
