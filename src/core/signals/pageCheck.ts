import * as z from 'zod'
import type { Severity } from '../shared/finding'
import { addressConditionsSchema } from './address'
import { matchesAddress } from './matchAddress'
import type { PageCode, RecordedRequest, Recording, WrittenPage } from './page'
import { findCalls, saysPlace, scriptsOf, slipIn, tagCodeSchema } from './tagCode'

export const needs = ['value', 'currency', 'transaction'] as const
export type Need = (typeof needs)[number]

const wantedEventSchema = z.object({
  /** the event's name at the network */
  name: z.string().min(1).max(100),
  /** the pages on which it belongs */
  on: addressConditionsSchema,
  needs: z.array(z.enum(needs)).default([]),
})
export const wantedTagSchema = z.object({
  network: z.string().min(1),
  account: z.string().min(1),
  code: tagCodeSchema,
  events: z.array(wantedEventSchema).default([]),
})
export type WantedTag = z.infer<typeof wantedTagSchema>

/** What should be installed, and on which page that is looked at. */
export const pageSpecSchema = z.object({
  page: z.url({ protocol: /^https?$/ }),
  tags: z.array(wantedTagSchema).min(1),
})
export type PageSpec = z.infer<typeof pageSpecSchema>

/** A line of the page, or a request of the recording; nothing for what is not there at all. */
export type PagePlace = { line: number } | { request: number; address: string } | { page: string }

const severities = {
  base_missing: 'error',
  base_twice: 'error',
  base_not_in_head: 'warning',
  event_before_base: 'error',
  event_missing: 'error',
  event_wrong_page: 'error',
  event_twice: 'error',
  extra_page_view: 'error',
  wrong_account: 'error',
  insecure_tag: 'error',
  script_error: 'error',
  blocked: 'error',
  late: 'warning',
  value_missing: 'warning',
  currency_missing: 'warning',
  transaction_missing: 'warning',
} satisfies Record<string, Severity>
export type PageFindingCode = keyof typeof severities
export const pageFindingCodes = Object.keys(severities) as PageFindingCode[]
export interface PageFinding {
  code: PageFindingCode
  severity: Severity
  at: PagePlace
  network: string
  event?: string
  /** what stands there instead of what should */
  seen?: string
}

const missing: Record<Need, PageFindingCode> = {
  value: 'value_missing',
  currency: 'currency_missing',
  transaction: 'transaction_missing',
}

type Report = (code: PageFindingCode, at: PagePlace, facts?: { event?: string; seen?: string }) => void
const reporter =
  (findings: PageFinding[], network: string): Report =>
  (code, at, facts = {}) =>
    findings.push({ code, severity: severities[code], at, network, ...facts })

const isInsecure = (address: string) =>
  /^http:\/\//i.test(address) && !/^http:\/\/([^/]*\.)?(localhost|127\.0\.0\.1)(?=[:/]|$)/i.test(address)

/** An address without its scheme, up to its query. */
const bare = (address: string) => address.replace(/^(?:[a-z]+:)?\/\//i, '').split(/[?#]/)[0]!

/** Checks the tags of a page by its HTML, and whether their code can be read at all. */
export function checkWrittenPage({ page, tags }: PageSpec, { code }: WrittenPage): PageFinding[] {
  const findings: PageFinding[] = []
  for (const tag of tags) checkTagInSource(tag, page, code, reporter(findings, tag.network))
  return findings
}

interface Base {
  code: PageCode
  at: number
  account: string | null
}

function checkTagInSource(tag: WantedTag, page: string, code: readonly PageCode[], report: Report): void {
  const scripts = scriptsOf(tag.code).map(bare)
  const loads = code.filter(c => c.src !== null && scripts.includes(bare(c.src)))
  const bases: Base[] = code.flatMap(c =>
    findCalls(c.text, tag.code.base, 'account').map(call => ({
      code: c,
      at: c.offset + call.at,
      account: call.named,
    })),
  )
  const events = tag.events.map(wanted => ({
    wanted,
    calls: code.flatMap(c =>
      findCalls(c.text, tag.code.event, 'event')
        .filter(call => call.named === wanted.name)
        .map(call => ({ code: c, at: c.offset + call.at, rest: call.rest })),
    ),
  }))
  const everyCall = events.flatMap(e => e.calls)
  // A base code that comes along with an event's is not a second installation but a doubled page view.
  const along = (base: Base) => everyCall.some(call => call.code === base.code)
  const apart = bases.filter(base => !along(base))
  const own = apart.length > 0 ? apart : bases.slice(0, 1)
  for (const base of bases)
    if (along(base) && apart.length > 0) report('extra_page_view', { line: lineOf(base.code, base.at) })

  const firstLoad = loads[0] ?? own[0]?.code
  if (own.length === 0 && loads.length === 0) report('base_missing', { page })
  const installs =
    own.length > 0 ? own.map(b => ({ code: b.code, at: b.at })) : loads.map(c => ({ code: c, at: c.offset }))
  for (const second of installs.slice(1)) report('base_twice', { line: lineOf(second.code, second.at) })
  if (own.length > 0)
    for (const load of loads.slice(1)) if (installs.length < 2) report('base_twice', { line: load.line })
  if (firstLoad?.in === 'body') report('base_not_in_head', { line: firstLoad.line })
  for (const base of own)
    if (base.account !== null && base.account !== tag.account)
      report('wrong_account', { line: lineOf(base.code, base.at) }, { seen: base.account })
  for (const { src, line } of new Set([...loads, ...own.map(base => base.code)]))
    if (src !== null && isInsecure(src)) report('insecure_tag', { line }, { seen: src })

  for (const part of new Set([...bases, ...everyCall].map(call => call.code))) {
    const slip = part.src === null && !part.text.trimStart().startsWith('<') ? slipIn(part.text) : null
    if (slip) report('script_error', { line: lineOf(part, part.offset + slip.at) }, { seen: slip.said })
  }

  const start = installs[0]
  for (const { wanted, calls } of events) {
    const belongs = matchesAddress(wanted.on, page)
    const event = wanted.name
    if (belongs && calls.length === 0) report('event_missing', { page }, { event })
    calls.forEach((call, i) => {
      const at = { line: lineOf(call.code, call.at) }
      if (!belongs) return report('event_wrong_page', at, { event })
      if (i > 0) return report('event_twice', at, { event })
      if (start && (call.at < start.at || start.code.deferred) && call.code !== start.code)
        report('event_before_base', at, { event })
      for (const need of wanted.needs)
        if (saysPlace(call.rest, tag.code.event, need) === false) report(missing[need], at, { event })
    })
  }
}

/** The line on which a place of a page's code stands. */
function lineOf(code: PageCode, offset: number): number {
  let line = code.line
  for (let i = 0; i < offset - code.offset; i++) if (code.text.charCodeAt(i) === 10) line += 1
  return line
}

/**
 * Checks the tags of a visit by its recording: every page of it is looked at, and events belong on the
 * pages that their conditions mean.
 */
export function checkRecording({ page, tags }: PageSpec, recording: Recording): PageFinding[] {
  const findings: PageFinding[] = []
  for (const tag of tags) checkTagInRecording(tag, page, recording, reporter(findings, tag.network))
  return findings
}

function checkTagInRecording(
  tag: WantedTag,
  page: string,
  { pages, requests }: Recording,
  report: Report,
): void {
  const known = tag.code.requests
  if (!known) return
  const begins = (address: string) => (request: RecordedRequest) =>
    bare(request.address).startsWith(bare(address))
  const placeOf = (request: RecordedRequest) => ({
    request: request.index,
    address: request.address.slice(0, 300),
  })
  const said = (request: RecordedRequest, place: keyof typeof known.parameters) => {
    const parameter = known.parameters[place]
    return parameter === undefined ? undefined : request.parameters.get(parameter)
  }
  const scripts = requests.filter(begins(known.script))
  const hits = requests.filter(request => begins(known.hit)(request) && !begins(known.script)(request))
  const looked = pages.length > 0 ? pages : [{ id: '', address: page, at: 0 }]
  const on = (one: { id: string }) => (request: RecordedRequest) =>
    pages.length === 0 || request.page === one.id

  for (const request of [...scripts, ...hits]) {
    if (request.failed) report('blocked', placeOf(request))
    if (isInsecure(request.address))
      report('insecure_tag', placeOf(request), { seen: request.address.split('?')[0]! })
  }
  for (const hit of hits) {
    const account = said(hit, 'account')
    if (account !== undefined && account !== tag.account)
      report('wrong_account', placeOf(hit), { seen: account })
  }
  looked.forEach((one, i) => {
    const ownScripts = scripts.filter(on(one))
    const ownHits = hits.filter(on(one))
    const views = ownHits.filter(hit => said(hit, 'event') === known.page_view)
    const events = tag.events.map(wanted => ({
      wanted,
      belongs: matchesAddress(wanted.on, one.address),
      told: ownHits.filter(hit => said(hit, 'event') === wanted.name),
    }))
    const isAskedFor = bare(one.address) === bare(page) || looked.length === 1
    if (ownScripts.length === 0 && views.length === 0 && (isAskedFor || events.some(e => e.belongs)))
      report('base_missing', { page: one.address })
    const firstEvent = lowest(events.flatMap(e => e.told.map(hit => hit.at)))
    for (const view of views.slice(1))
      report(view.at >= firstEvent ? 'extra_page_view' : 'base_twice', placeOf(view))
    if (views.length < 2) for (const script of ownScripts.slice(1)) report('base_twice', placeOf(script))
    const base = lowest([...ownScripts.map(s => s.at), ...views.map(v => v.at)])
    const next = looked[i + 1]?.at ?? Number.POSITIVE_INFINITY
    for (const { wanted, belongs, told } of events) {
      const event = wanted.name
      if (belongs && told.length === 0) report('event_missing', { page: one.address }, { event })
      const transactions = new Set<string | undefined>()
      for (const hit of told) {
        if (!belongs) {
          report('event_wrong_page', placeOf(hit), { event, seen: one.address })
          continue
        }
        const transaction = said(hit, 'transaction') || undefined
        if (transactions.has(transaction)) report('event_twice', placeOf(hit), { event, seen: transaction })
        else {
          if (Number.isFinite(base) && hit.at < base) report('event_before_base', placeOf(hit), { event })
          for (const need of wanted.needs)
            if (!said(hit, need)) report(missing[need], placeOf(hit), { event })
        }
        transactions.add(transaction)
        if (hit.at > next) report('late', placeOf(hit), { event })
      }
    }
  })
}

/** The least of some numbers, however many there are. */
const lowest = (numbers: readonly number[]): number =>
  numbers.reduce((least, number) => Math.min(least, number), Number.POSITIVE_INFINITY)
