import { parse } from 'acorn'
import * as z from 'zod'
import { partCode } from './codePlaces'
import { type Place, places } from './fillCode'

const address = z.string().min(1).max(2048)
const parameter = z.string().min(1).max(100)

/** A network's own code, as its customers paste it, and the requests by which that code tells the network. */
export const tagCodeSchema = z.object({
  /** HTML that stands on every page, with `{account}` */
  base: z.string().max(20_000),
  /** the call that tells of an event, with `{event}`, `{value}`, `{currency}`, `{transaction}`, `{event_id}`, `{test}` */
  event: z.string().max(20_000),
  /** what a recording shows: addresses by their beginning, facts by their parameter */
  requests: z
    .object({
      script: address,
      hit: address,
      parameters: z.partialRecord(z.enum(places), parameter),
      /** the name of the event that the base code sends by itself */
      page_view: z.string().min(1).default('page_view'),
    })
    .optional(),
})
export type TagCode = z.infer<typeof tagCodeSchema>

const literally = (text: string) => text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&')
/** Literal code as a pattern: any white space, either quotation mark. */
const loosely = (text: string) =>
  text
    .trim()
    .split(/(\s+|["'`])/)
    .map(part => (/^\s+$/.test(part) ? '\\s*' : /^["'`]$/.test(part) ? '["\'`]' : literally(part)))
    .join('')
    .replace(/(\\\(|\\\)|,|:|\\\{|\\\}|=)(?:\\s\*)?/g, '\\s*$1\\s*')
    // Two in a row would try every way of sharing white space out between them.
    .replace(/(?:\\s\*){2,}/g, '\\s*')

export interface FoundCall {
  /** offset in the code */
  at: number
  /** what stands in the place that was looked for: the account, or the event's name */
  named: string
  /** the rest of the call */
  rest: string
}

/** Scripts that the base code fetches. */
export const scriptsOf = ({ base }: TagCode): string[] =>
  [...base.matchAll(/<script[^>]*\bsrc\s*=\s*["']?([^"'\s>]+)/gi)].map(match => match[1]!)

const aPlace = new RegExp(`\\{(?:${places.join('|')})\\}`, 'g')

/** Whether the first such place of a template stands in the markup of a tag, and not in a script. */
const standsInTag = (template: string, place: Place): boolean =>
  partCode(template).some(
    piece =>
      typeof piece !== 'string' &&
      piece.place === place &&
      (piece.as === 'address' || piece.as === 'attribute'),
  )

/** The call that a template makes with a place in it: what stands before it is what it is known by. */
function callFinder(template: string, place: Place): RegExp | null {
  // A script without attributes is only the place where its code stands.
  const code = template.replace(/<\/?script>/gi, '\n')
  const at = code.indexOf(`{${place}}`)
  if (at < 0) return null
  const before = code.slice(0, at)
  // Known by its attribute in a tag; in a script by the statement in which it stands.
  const inTag = standsInTag(template, place)
  const ends = inTag ? [' ', '\n'] : [';', '\n', '}']
  // The brace of a place before it ends no statement.
  const masked = before.replace(aPlace, found => '_'.repeat(found.length))
  const start = Math.max(...ends.map(end => masked.lastIndexOf(end))) + 1
  const literal = before.slice(start)
  if (literal.trim() === '') return null
  // What stands in the places before the one that is looked for may be anything.
  const known = literal.split(aPlace).map(loosely).join('[^"\'`,)&\\s>]*').replaceAll('&', '&(?:amp;)?')
  return new RegExp(`${known}([^"'\`,)&\\s>]*)`, 'g')
}

/** A page may hold thousands of scripts: what is looked for in each is worked out once. */
const finders = new Map<string, RegExp | null>()

/** Every call in some code that a template describes, by the account or the event that it names. */
export function findCalls(code: string, template: string, place: 'account' | 'event'): FoundCall[] {
  const key = `${place} ${template}`
  let finder = finders.get(key)
  if (finder === undefined) finders.set(key, (finder = callFinder(template, place)))
  if (!finder) return []
  return [...code.matchAll(finder)].map(match => ({
    at: match.index,
    named: match[1] ?? '',
    rest: restOfCall(code, match.index + match[0].length),
  }))
}

const LONGEST_CALL = 4000
/** What follows until the call's bracket closes, or the line or markup ends. */
function restOfCall(code: string, from: number): string {
  let open = 1
  const end = Math.min(code.length, from + LONGEST_CALL)
  for (let i = from; i < end; i++) {
    const c = code[i]
    if (c === '(') open += 1
    else if (c === ')' && --open === 0) return code.slice(from, i)
    else if (c === '>' && code[i - 1] !== '=') return code.slice(from, i)
    else if (c === ';' && open === 1 && !code.slice(from, i).includes('{')) return code.slice(from, i)
  }
  return code.slice(from, end)
}

/** Values by which code says that it has none. */
const nothing = /^(?:["'`]{2}|undefined|null|NaN|0|)$/

/**
 * Whether a call says a place: under the key by which the template writes it, with something behind.
 *
 * @returns null where the template itself has no such place
 */
export function saysPlace(rest: string, template: string, place: Place): boolean | null {
  const at = template.indexOf(`{${place}}`)
  if (at < 0) return null
  const key = /([A-Za-z_$][\w$]*)["'`]?\s*[:=]\s*["'`]?$/.exec(template.slice(0, at))?.[1]
  if (!key) return null
  const said = new RegExp(`\\b${literally(key)}["'\`]?\\s*[:=]\\s*([^,}&\\s)]*)`).exec(rest)
  return said !== null && !nothing.test(said[1]!.trim())
}

/** Where code cannot be read by the language, and what is said of it; null where it can. */
export function slipIn(code: string): { at: number; said: string } | null {
  const attempt = (sourceType: 'script' | 'module') => {
    try {
      parse(code, { ecmaVersion: 'latest', sourceType })
      return null
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error
      const at = 'pos' in error && typeof error.pos === 'number' ? error.pos : 0
      return { at, said: error.message.replace(/ \(\d+:\d+\)$/, '') }
    }
  }
  const slip = attempt('script')
  return slip && attempt('module') && slip
}

/** Facts that a network's event code can say, and so should. */
export const needsOf = ({ event }: TagCode): ('value' | 'currency' | 'transaction')[] =>
  (['value', 'currency', 'transaction'] as const).filter(place => event.includes(`{${place}}`))
