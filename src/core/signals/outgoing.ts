import * as z from 'zod'
import { places } from './fillCode'

/**
 * The places of an outgoing request, beside those of a tag's code. A request with a place for `correction` is sent once
 * more when the shop's word of an order changes: `changed` or `cancelled` stands there, and nothing the first time.
 */
export const outgoingPlaces = [
  ...places,
  'click_id',
  'page',
  'at',
  'at_seconds',
  'correction',
  'secret',
] as const
export type OutgoingPlace = (typeof outgoingPlaces)[number]
/** `at` is ISO 8601, `at_seconds` Unix time. */
export type OutgoingValues = Partial<Record<OutgoingPlace, string>>

const headerName = /^[!#$%&'*+.^_`|~0-9A-Za-z-]{1,80}$/

/** A request by which the server tells a network of an event, in the network's own words. */
export const outgoingSchema = z
  .object({
    method: z.enum(['GET', 'POST', 'PUT']),
    address: z
      .string()
      .max(2048)
      .regex(/^https?:\/\/[^\s{}]+/, 'a whole address, with https:// and the host written out'),
    headers: z
      .array(
        z.object({
          name: z.string().regex(headerName, 'not the name of a header'),
          value: z.string().max(2000),
        }),
      )
      .max(20)
      .default([]),
    body: z.string().max(20_000).default(''),
  })
  .refine(({ method, body }) => method !== 'GET' || body === '', {
    path: ['body'],
    message: 'a GET has no body: write the facts into the address',
  })
  .meta({
    if: { properties: { method: { const: 'GET' } } },
    // biome-ignore lint/suspicious/noThenProperty: JSON Schema's word, and no promise.
    then: { properties: { body: { const: '' } } },
  })
export type Outgoing = z.infer<typeof outgoingSchema>

export interface OutgoingRequest {
  method: Outgoing['method']
  address: string
  headers: Record<string, string>
  body: string
}

type Encode = (value: string, quoted: boolean) => string
const plain: Encode = value => value
const percent: Encode = value => encodeURIComponent(value)
/** Between quotation marks the text as JSON has it; bare a number, a text, or null where nothing is known. */
const json: Encode = (value, quoted) =>
  quoted
    ? JSON.stringify(value).slice(1, -1)
    : value === ''
      ? 'null'
      : /^-?(0|[1-9]\d{0,14})(\.\d{1,6})?$/.test(value)
        ? value
        : JSON.stringify(value)
const headerText: Encode = value => value.replace(/[^\x20-\x7e]/g, '')

const encodings: [type: RegExp, encode: Encode][] = [
  [/json/i, json],
  [/x-www-form-urlencoded/i, percent],
]

const place = new RegExp(`\\{(${outgoingPlaces.join('|')})\\}`, 'g')

function fill(text: string, values: OutgoingValues, encode: Encode): string {
  return text.replace(place, (_, name: OutgoingPlace, at: number) => {
    const marks = text.slice(0, at).replace(/\\./g, '').split('"').length - 1
    return encode(values[name] ?? '', marks % 2 === 1)
  })
}

/**
 * Fills an outgoing request in: percent-encoded in the address and in a form, as JSON in JSON.
 *
 * @example
 * fillOutgoing({ method: 'GET', address: 'https://n.example/e?o={transaction}', headers: [], body: '' }, { transaction: 'T&1' }).address
 * // 'https://n.example/e?o=T%261'
 */
export function fillOutgoing(request: Outgoing, values: OutgoingValues): OutgoingRequest {
  const headers = Object.fromEntries(
    request.headers.map(({ name, value }) => [name.toLowerCase(), fill(value, values, headerText)]),
  )
  const encode = encodings.find(([type]) => type.test(headers['content-type'] ?? ''))?.[1] ?? plain
  return {
    method: request.method,
    address: fill(request.address, values, percent),
    headers,
    body: fill(request.body, values, encode),
  }
}

/** Whether a request has a place somewhere. */
export const hasPlace = ({ address, headers, body }: Outgoing, name: OutgoingPlace): boolean =>
  [address, body, ...headers.map(h => h.value)].some(text => text.includes(`{${name}}`))

/** How a try went: the network's answer, or why there was none. */
export interface Try {
  /** epoch ms */
  at: number
  /** HTTP status; null where nobody answered */
  status: number | null
  /** the beginning of the answer, or the reason */
  said: string
}

const FIRST_WAIT_MS = 10_000
const LONGEST_WAIT_MS = 6 * 3_600_000
const MOST_TRIES = 12
/** Answers that another try may change (RFC 9110): too early, too many, and errors of the server. */
const passing = (status: number | null) =>
  status === null || status === 408 || status === 425 || status === 429 || status >= 500

export type AfterTry = { state: 'taken' } | { state: 'refused' } | { state: 'waiting'; next: number }

/**
 * What follows a try: taken, refused for good, or another one after twice the time.
 *
 * @param tries how many there were, the last included
 * @param asked seconds that the network asked us to wait (Retry-After), if it did
 * @param chance 0 to 1: spreads what failed together
 */
export function afterTry(
  { at, status }: Pick<Try, 'at' | 'status'>,
  tries: number,
  asked: number | null,
  chance: number,
): AfterTry {
  if (status !== null && status >= 200 && status < 300) return { state: 'taken' }
  if (!passing(status) || tries >= MOST_TRIES) return { state: 'refused' }
  const wait = Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (tries - 1)) * (0.75 + chance / 2)
  return { state: 'waiting', next: at + Math.max(wait, Math.min((asked ?? 0) * 1000, LONGEST_WAIT_MS)) }
}
