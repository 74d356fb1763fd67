import * as z from 'zod'
import { partCode } from '../signals/codePlaces'
import { places, standings } from '../signals/fillCode'
import { ruleSchema } from '../signals/rule'

const httpAddress = z.url({ protocol: /^https?$/ })
const workspace = z.string().min(1)
export const branchSchema = z.object({ address: httpAddress, weight: z.number().positive().default(1) })
export type Branch = z.infer<typeof branchSchema>

/** An offer names the parameter under which its partner takes our click ID, or the sale has no source. */
export const offerSchema = branchSchema.extend({ click_parameter: z.string().min(1).max(60) })
export type Offer = z.infer<typeof offerSchema>

/** The hops of a click on one code of the tracking domain. */
export const routeSchema = z.object({
  workspace,
  network: z.string().min(1),
  landings: z.array(branchSchema).min(1),
  offers: z.array(offerSchema).default([]),
  paused: z.boolean().default(false),
})

/** How a partner's postbacks are told from anybody's. */
export const secretSchema = z.discriminatedUnion('kind', [
  /** the parameter must hold this value */
  z.object({ kind: z.literal('shared'), parameter: z.string().min(1), value: z.string().min(8) }),
  /** the parameter must hold the HMAC-SHA256, in hex, of the query before it */
  z.object({ kind: z.literal('signature'), parameter: z.string().min(1), value: z.string().min(8) }),
])
export type Secret = z.infer<typeof secretSchema>

/** A network's own code, as our tag places it and calls it. */
export const placedNetworkSchema = z.object({
  id: z.string(),
  base: z.string(),
  /** its event code, parted at the places that are filled in on the page */
  event: z.union([
    z.array(z.union([z.string(), z.object({ place: z.enum(places), as: z.enum(standings) })])),
    // A table of before has it whole.
    z.string().transform(partCode),
  ]),
  /** the results that it hears of: its name for each, and what one is worth where nothing else says it */
  slots: z.record(z.string(), z.object({ slot: z.string(), value: z.string(), currency: z.string() })),
})
export type PlacedNetwork = z.infer<typeof placedNetworkSchema>

/** What a shop may sign its messages with: a replaced secret is valid until an instant (epoch ms). */
export const orderSecretSchema = z.object({ value: z.string().min(1), until: z.number().nullable() })
export type OrderSecret = z.infer<typeof orderSecretSchema>

/** What the tag of a site does on its pages, and how its shop signs orders. */
const siteSchema = z.object({
  workspace,
  rules: z.array(ruleSchema).default([]),
  networks: z.array(placedNetworkSchema).default([]),
  /** parameters by which ads name themselves: a page that is opened with one may be an ad's */
  parameters: z.array(z.string()).default([]),
  /** the shop's hosts: what leads from one to another carries the click along */
  hosts: z.array(z.string()).default([]),
  /** live tests that run at the moment */
  tests: z.array(z.string()).default([]),
  order_secrets: z.array(orderSecretSchema).default([]),
})

/** The file by which the collector answers: the codes of the tracking domain and the sites with our tag. */
export const routingSchema = z.object({
  version: z.number(),
  codes: z.record(z.string(), routeSchema).default({}),
  partners: z
    .record(z.string(), z.object({ workspace, partner: z.string(), secret: secretSchema.nullable() }))
    .default({}),
  sites: z.record(z.string(), siteSchema).default({}),
  /** where a click goes whose code is unknown or paused */
  fallback: httpAddress.nullable().default(null),
  /** by which classes of senders' addresses are hashed, and by which a collector tells how it is to whoever is elsewhere */
  keys: z
    .object({ address: z.string().min(16), status: z.string().min(16) })
    .nullable()
    .default(null),
})
export type Routing = z.infer<typeof routingSchema>

/** FNV-1a (Fowler, Noll, Vo), 32 bits: the same text always falls on the same branch. */
function hash(text: string): number {
  let value = 0x811c9dc5
  for (let i = 0; i < text.length; i++) value = Math.imul(value ^ text.charCodeAt(i), 0x01000193)
  return value >>> 0
}

/** Spreads every bit of a hash over all of it (Appleby's finalizer of MurmurHash3, 32 bits). */
function mixed(value: number): number {
  let bits = value
  bits = Math.imul(bits ^ (bits >>> 16), 0x85ebca6b)
  bits = Math.imul(bits ^ (bits >>> 13), 0xc2b2ae35)
  return (bits ^ (bits >>> 16)) >>> 0
}

/**
 * The branch that a visitor takes: shared out by weight, and always the same for the same visitor. Which offer
 * somebody is led to says nothing of the landing page, or neither could be judged by its results.
 *
 * @returns the branch's number
 */
export function chooseBranch(
  branches: readonly Branch[],
  code: string,
  visitor: string,
  step: 'landing' | 'offer' = 'landing',
): number {
  if (branches.length < 2) return 0
  const total = branches.reduce((sum, b) => sum + b.weight, 0)
  const drawn = step === 'landing' ? hash(`${visitor} ${code}`) : mixed(hash(`offer ${code} ${visitor}`))
  let left = (drawn / 2 ** 32) * total
  for (const [i, branch] of branches.entries()) {
    left -= branch.weight
    if (left < 0) return i
  }
  return branches.length - 1
}

export const CLICK_PARAMETER = 'aq_click'
/** The parameter by which the address of an ad that leads straight to its page names the code that it stands for. */
export const CODE_PARAMETER = 'aq_code'
/** The parameter by which a visit says that it is a live test. */
export const TEST_PARAMETER = 'aq_test'

/**
 * Where a click goes: the branch's address with the click's own parameters and its click ID added, the
 * fragment last. Parameters pass as they came, byte for byte.
 *
 * @example
 * nextAddress('https://tarnbrook.example/kits?a=1#top', 'utm_source=x', 'aq_click', 'c1')
 * // 'https://tarnbrook.example/kits?a=1&utm_source=x&aq_click=c1#top'
 */
export function nextAddress(to: string, query: string, parameter: string, clickId: string): string {
  const [address, fragment] = splitOnce(to, '#')
  const before = address + (address.includes('?') ? (address.endsWith('?') ? '' : '&') : '?')
  const click = `${encodeURIComponent(parameter)}=${encodeURIComponent(clickId)}`
  return `${before}${query ? `${query}&` : ''}${click}${fragment ? `#${fragment}` : ''}`
}

function splitOnce(text: string, mark: string): [string, string] {
  const at = text.indexOf(mark)
  return at < 0 ? [text, ''] : [text.slice(0, at), text.slice(at + 1)]
}
