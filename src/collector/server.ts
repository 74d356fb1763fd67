import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import { join } from 'node:path'
import * as z from 'zod'
import {
  type Arrival,
  type Beacon,
  beaconSchema,
  LONGEST_TEXT,
  observationSchema,
} from '@/core/intake/arrival'
import { LONGEST_ID } from '@/core/intake/fields'
import { LONGEST_ORDER_MESSAGE, readOrderMessage } from '@/core/intake/orderMessage'
import { CLICK_PARAMETER, chooseBranch, nextAddress, TEST_PARAMETER } from '@/core/intake/routing'
import { journalFolder, journalId } from '@/formats/journalFolder'
import { checkSignature } from '@/formats/signedMessage'
import { mintId, mintVisitor } from './ids'
import { Journal } from './journal'
import { readAgain } from './mendRequest'
import { createMetrics, type kinds } from './metrics'
import { answer, bodyOf, parseJson, Refused } from './respond'
import { watchRouting } from './routing'
import { readSecret } from './secrets'
import { isSecure, limitSenders, senderOf } from './sender'
import { readTag } from './tag'

const YEAR_SECONDS = 31_536_000
const MONTH_SECONDS = 2_592_000
/** How long a browser may go on by the rules it has. */
const RULES_SECONDS = 10
const LONGEST_ADDRESS = 8192
const LONGEST_BODY = 64 * 1024
const MOST_EVENTS = 100
const ORDER_BYTES = 4 * LONGEST_ORDER_MESSAGE
const observedSchema = observationSchema.extend({ site: z.string() })

type Kind = (typeof kinds)[number]
const unknownLink =
  'This link is not known here. If you came by an ad, its link has been mistyped or withdrawn.'
const pausedLink = 'This link is paused. Whoever placed it has stopped it for now.'

const cookies = {
  visitor: /(?:^|;\s*)aqv=([A-Za-z0-9-]{8,64})/,
  click: /(?:^|;\s*)aqc=([A-Za-z0-9-]{8,64})/,
}
const cookie = ({ headers }: IncomingMessage, name: keyof typeof cookies) =>
  headers.cookie === undefined ? null : (cookies[name].exec(headers.cookie)?.[1] ?? null)
/** Global Privacy Control: who sends it gets no cookie. */
const refusesCookies = (request: IncomingMessage) => request.headers['sec-gpc'] === '1'

/** What is said of a request that cannot be served. */
const wordsOf = (error: unknown): string =>
  error instanceof z.ZodError
    ? z.prettifyError(error)
    : error instanceof Refused
      ? error.message
      : 'It cannot be read.'

export interface CollectorOptions {
  /** requests a minute from one address; our own machine is not limited */
  perMinute?: number
  /** whether the sender's address stands in X-Forwarded-For */
  behindProxy?: boolean
}

/** The tracking domain. It knows no database: it answers from the routing table and writes the journal. */
export function createCollector(
  folder: string,
  { perMinute = 3000, behindProxy = false }: CollectorOptions = {},
) {
  const journal = new Journal(journalFolder(folder))
  const routing = watchRouting(join(folder, 'routing.json'))
  /** the journal's ID, or null while its folder cannot be written */
  const journalName = () => {
    try {
      return journalId(journalFolder(folder))
    } catch {
      return null
    }
  }
  const { count, registry } = createMetrics()
  const allowed = limitSenders(perMinute)
  const tag = readTag('aq.js')
  const testTag = readTag('aq-test.js')
  let notRecorded = 0

  const envelope = (request: IncomingMessage, at: number, workspace: string) => ({
    id: mintId(at),
    at,
    workspace,
    from: senderOf(request, behindProxy).network,
    agent: (request.headers['user-agent'] ?? '').slice(0, 512),
  })

  /** Records a shopper's step. They must not pay for a full disk: they go on, and the loss is counted. */
  async function recordStep(kind: 'click' | 'hop', record: Arrival): Promise<void> {
    try {
      await journal.append(record)
      count[kind].recorded.inc()
    } catch (error) {
      notRecorded += 1
      count[kind].not_recorded.inc()
      if (notRecorded === 1) console.error('The journal cannot be written.', error)
    }
  }

  function withoutRoute(response: ServerResponse, text: string): void {
    const fallback = routing.fallback()
    if (fallback) answer(response, 302, '', { location: fallback })
    else answer(response, 404, text)
  }

  /** The live test that a click says it belongs to, if there is one. */
  function testOf(workspace: string, query: string): string | undefined {
    if (!query.includes(TEST_PARAMETER)) return undefined
    const token = new URLSearchParams(query).get(TEST_PARAMETER) ?? ''
    return routing.isTest(workspace, token) ? token : undefined
  }

  async function click(request: IncomingMessage, response: ServerResponse, code: string, query: string) {
    const route = routing.route(code)
    if (!route || route.paused) return withoutRoute(response, route ? pausedLink : unknownLink)
    const base = envelope(request, Date.now(), route.workspace)
    const refused = refusesCookies(request)
    const visitor = refused ? null : (cookie(request, 'visitor') ?? mintVisitor())
    const branch = route.landings[chooseBranch(route.landings, code, visitor ?? base.id)]!
    const landing = nextAddress(branch.address, query, CLICK_PARAMETER, base.id)
    const { network } = route
    const test = testOf(route.workspace, query)
    const secure = isSecure(request, behindProxy) ? '; Secure' : ''
    if (request.method === 'GET')
      await recordStep('click', { kind: 'click', ...base, network, code, query, landing, visitor, test })
    response.writeHead(302, {
      location: landing,
      'cache-control': 'no-store',
      ...(refused
        ? {}
        : {
            'set-cookie': [
              `aqv=${visitor}; Path=/; Max-Age=${YEAR_SECONDS}; HttpOnly; SameSite=Lax${secure}`,
              ...(route.offers.length > 0
                ? [
                    `aqc=${base.id}; Path=/c/${code}; Max-Age=${MONTH_SECONDS}; HttpOnly; SameSite=Lax${secure}`,
                  ]
                : []),
            ],
          }),
    })
    response.end()
  }

  /** The landing page's way on to an offer; the click ID comes with the address, or by our cookie. */
  async function hop(request: IncomingMessage, response: ServerResponse, code: string, query: string) {
    const route = routing.route(code)
    if (!route || route.paused || route.offers.length === 0)
      return withoutRoute(response, route?.paused ? pausedLink : unknownLink)
    const given = new URLSearchParams(query)
    const clickId = given.get(CLICK_PARAMETER)?.slice(0, LONGEST_ID) ?? cookie(request, 'click')
    given.delete(CLICK_PARAMETER)
    const visitor = cookie(request, 'visitor')
    const base = envelope(request, Date.now(), route.workspace)
    const offer = route.offers[chooseBranch(route.offers, `${code} next`, visitor ?? clickId ?? base.id)]!
    const to = nextAddress(offer.address, given.toString(), offer.click_parameter, clickId ?? base.id)
    if (request.method === 'GET')
      await recordStep('hop', { kind: 'hop', ...base, code, click: clickId, offer: to, visitor })
    answer(response, 302, '', { location: to })
  }

  /** The record of one event, or what is wrong with it. */
  function eventOf(request: IncomingMessage, beacon: Beacon): Arrival | string {
    const { site, code, test: said, ...event } = beacon
    const known = routing.site(site)
    if (!known) return `There is no site "${site}". Take the tag from the hand-off again.`
    // Whoever says that it is a test, and is in none, is counted as anybody.
    const test = said && known.tests.includes(said) ? said : undefined
    const base = { ...envelope(request, Date.now(), known.workspace), test }
    const route = code ? routing.route(code) : undefined
    if (code && route && route.workspace === known.workspace && beacon.click && beacon.page)
      return {
        ...base,
        kind: 'click',
        id: beacon.click,
        network: route.network,
        code,
        query: URL.canParse(beacon.page) ? new URL(beacon.page).search.slice(1) : '',
        landing: beacon.page,
        visitor: beacon.visitor ?? null,
        zone: beacon.zone,
      }
    return { ...base, kind: 'event', ...event }
  }

  async function events(request: IncomingMessage, response: ServerResponse, query: string) {
    const given: unknown[] =
      request.method === 'POST'
        ? [parseJson(await bodyOf(request, LONGEST_BODY))].flat()
        : [
            {
              id: mintId(Date.now()),
              page: request.headers.referer?.slice(0, 2048),
              ...Object.fromEntries(new URLSearchParams(query)),
            },
          ]
    if (given.length > MOST_EVENTS) throw new Refused(400, `At most ${MOST_EVENTS} events at once.`)
    const read = given.map(one => beaconSchema.safeParse(one))
    const good: Arrival[] = []
    const wrong: string[] = []
    for (const one of read) {
      const arrival = one.success ? eventOf(request, one.data) : z.prettifyError(one.error)
      if (typeof arrival === 'string') wrong.push(arrival)
      else good.push(arrival)
    }
    if (good.length > 0) await record('event', good)
    if (wrong[0]) throw new Refused(400, wrong[0])
    answer(response, 204, '', { 'access-control-allow-origin': '*' })
  }

  async function postback(request: IncomingMessage, response: ServerResponse, code: string, query: string) {
    const known = routing.partner(code)
    if (!known) throw new Refused(404, 'No partner has this address. Copy it again from Intake, Partners.')
    const body = request.method === 'POST' ? (await bodyOf(request, LONGEST_BODY)).trim() : ''
    const given = [query, body].filter(Boolean).join('&')
    if (given === '') throw new Refused(400, 'The postback carries no parameters.')
    if (given.length > LONGEST_TEXT) throw new Refused(413, 'The postback is too long.')
    const { trusted, query: kept } = readSecret(given, known.secret)
    if (!trusted) throw new Refused(403, 'The secret or signature is wrong or missing.')
    const base = envelope(request, Date.now(), known.workspace)
    await record('postback', [{ kind: 'postback', ...base, partner: known.partner, query: kept }])
    answer(response, 200, 'OK')
  }

  /** An order that the shop signed: what is not readable is refused while the shop still listens. */
  async function order(request: IncomingMessage, response: ServerResponse, key: string): Promise<void> {
    const site = routing.site(key)
    if (!site) throw new Refused(404, 'There is no such site. Copy the address again from Intake, Import.')
    const message = await bodyOf(request, ORDER_BYTES)
    if (message.length > LONGEST_ORDER_MESSAGE)
      throw new Refused(413, `A message holds at most ${LONGEST_ORDER_MESSAGE} characters.`)
    const headers = Object.fromEntries(
      Object.entries(request.headers).map(([name, value]) => [name, String(value)]),
    )
    const now = Date.now()
    const problem = checkSignature(message, headers, site.order_secrets, now)
    if (problem) throw new Refused(problem.status, problem.error)
    const id = headers['webhook-id'] ?? ''
    if (id.length > LONGEST_ID) throw new Refused(400, `A webhook-id has at most ${LONGEST_ID} characters.`)
    const read = readOrderMessage(message)
    if ('error' in read) throw new Refused(422, read.error)
    // The same message again is the same record: it is taken in once, and answered as the first time.
    await record('order', [{ kind: 'order', ...envelope(request, now, site.workspace), id, message }])
    answer(response, 200, JSON.stringify({ order: read.order.order_id }), {
      'content-type': 'application/json',
    })
  }

  /** Whoever sends these can send again: what is not on disk is not acknowledged. */
  async function record(kind: 'event' | 'postback' | 'order', records: Arrival[]): Promise<void> {
    try {
      await journal.append(...records)
      count[kind].recorded.inc(records.length)
    } catch {
      throw new Refused(503, 'It cannot be written at the moment. Send it again later.')
    }
  }

  /** What a page of a live test looks like to its tag. */
  async function observation(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const { site: key, ...seen } = observedSchema.parse(parseJson(await bodyOf(request, LONGEST_BODY)))
    const site = routing.site(key)
    if (!site?.tests.includes(seen.test)) throw new Refused(403, 'There is no such test, or it has ended.')
    await record('event', [{ kind: 'observation', ...envelope(request, Date.now(), site.workspace), seen }])
    answer(response, 204, '', { 'access-control-allow-origin': '*' })
  }

  /** What a site's tag does: its rules, the networks that it calls, and whether this visit is a test. */
  function rules(response: ServerResponse, key: string, query: string): void {
    const site = routing.site(key)
    if (!site) throw new Refused(404, 'There is no such site. Take the tag from the hand-off again.')
    const { rules, networks } = site
    const test = testOf(site.workspace, query) !== undefined
    answer(response, 200, JSON.stringify({ rules, networks, test }), {
      'content-type': 'application/json',
      'cache-control': query ? 'no-store' : `public, max-age=${RULES_SECONDS}`,
      'access-control-allow-origin': '*',
    })
  }

  async function serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const address = request.url ?? '/'
    // A shopper goes on, however much a network writes into the address.
    if (address.length > LONGEST_ADDRESS && !address.startsWith('/c/'))
      throw new Refused(414, 'The address is too long.')
    const mark = address.indexOf('?')
    const [path, query] = mark < 0 ? [address, ''] : [address.slice(0, mark), address.slice(mark + 1)]
    const reading = request.method === 'GET' || request.method === 'HEAD'
    if (!reading && request.method !== 'POST') throw new Refused(405, 'GET and POST are answered here.')
    const may = allowed(senderOf(request, behindProxy).address)
    if (may !== true && !(await may))
      throw new Refused(429, 'Too many requests from this address. Try again in a minute.')
    const [, hall, code = '', next] = /^\/([cp])\/([A-Za-z0-9_-]{1,64})(\/next)?$/.exec(path) ?? []
    if (hall === 'c' && reading) return (next ? hop : click)(request, response, code, query)
    if (hall === 'p' && !next) return postback(request, response, code, query)
    if (path === '/e') return events(request, response, query)
    const [, shop] = /^\/o\/([A-Za-z0-9_-]{1,64})$/.exec(path) ?? []
    if (shop && !reading) return order(request, response, shop)
    const [, key] = /^\/r\/([A-Za-z0-9_-]{1,64})$/.exec(path) ?? []
    if (key && reading) return rules(response, key, query)
    if (path === '/t' && !reading) return observation(request, response)
    if (path === '/aq.js' && reading) {
      const site = routing.site(new URLSearchParams(query).get('site') ?? '')
      const { rules, networks } = site ?? {}
      const doing = JSON.stringify({ rules, networks, test: false })
      return tag.serve(request, response, site && { doing, seconds: RULES_SECONDS })
    }
    if (path === '/aq-test.js' && reading) return testTag.serve(request, response)
    if (path === '/health')
      return answer(
        response,
        200,
        JSON.stringify({
          status: journal.failing ? 'disk' : 'ok',
          journal: journalName(),
          records: journal.records,
          notRecorded,
        }),
        { 'content-type': 'application/json' },
      )
    if (path === '/metrics')
      return answer(response, 200, await registry.metrics(), { 'content-type': registry.contentType })
    throw new Refused(404, 'Nothing here.')
  }

  const kindOf = (url = ''): Kind | null =>
    url.startsWith('/c/')
      ? 'click'
      : url.startsWith('/e')
        ? 'event'
        : url.startsWith('/p/')
          ? 'postback'
          : url.startsWith('/o/')
            ? 'order'
            : null

  const server = createServer({ maxHeaderSize: LONGEST_TEXT }, (request, response) => {
    if (isSecure(request, behindProxy))
      response.setHeader('strict-transport-security', `max-age=${YEAR_SECONDS}`)
    serve(request, response).catch((error: unknown) => {
      const kind = kindOf(request.url)
      if (kind) count[kind].refused.inc()
      const status = error instanceof Refused ? error.status : 400
      const why = wordsOf(error)
      if (!response.headersSent) answer(response, status, why, { 'access-control-allow-origin': '*' })
      else response.destroy()
    })
  })
  server.on('clientError', (error: Error & { rawPacket?: Buffer; code?: string }, socket) => {
    if (readAgain(server, error.rawPacket, socket)) return
    const status =
      error.code === 'HPE_HEADER_OVERFLOW' ? '431 Request Header Fields Too Large' : '400 Bad Request'
    if (socket.writable) socket.end(`HTTP/1.1 ${status}\r\nconnection: close\r\n\r\n`)
    else socket.destroy()
  })
  const close = () =>
    new Promise<void>(done => {
      routing.stop()
      server.close(() => {
        journal.close()
        done()
      })
      server.closeAllConnections()
    })
  return { server, close }
}
