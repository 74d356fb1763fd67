import type { IncomingMessage, ServerResponse } from 'node:http'
import { LONGEST_ID } from '@/core/intake/fields'
import { CLICK_PARAMETER, chooseBranch, nextAddress } from '@/core/intake/routing'
import type { Desk } from './desk'
import { mintVisitor } from './ids'
import { answer } from './respond'
import { isSecure } from './sender'

const YEAR_SECONDS = 31_536_000
const MONTH_SECONDS = 2_592_000
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

function withoutRoute({ routing }: Desk, response: ServerResponse, text: string): void {
  const fallback = routing.fallback()
  if (fallback) answer(response, 302, '', { location: fallback })
  else answer(response, 404, text)
}

/** An ad click: it is on disk before its shopper is sent on. Who only asks what is there leaves no record. */
export async function serveClick(
  desk: Desk,
  request: IncomingMessage,
  response: ServerResponse,
  code: string,
  query: string,
): Promise<void> {
  const began = performance.now()
  const route = desk.routing.route(code)
  if (!route || route.paused) return withoutRoute(desk, response, route ? pausedLink : unknownLink)
  const base = desk.envelope(request, Date.now(), route.workspace)
  const refused = refusesCookies(request)
  const visitor = refused ? null : (cookie(request, 'visitor') ?? mintVisitor())
  const branch = route.landings[chooseBranch(route.landings, code, visitor ?? base.id)]!
  const landing = nextAddress(branch.address, query, CLICK_PARAMETER, base.id)
  const { network } = route
  const test = desk.testOf(route.workspace, query)
  const secure = isSecure(request, desk.behindProxy) ? '; Secure' : ''
  if (request.method === 'GET')
    await desk.recordStep('click', { kind: 'click', ...base, network, code, query, landing, visitor, test })
  const forOffers =
    route.offers.length > 0
      ? [`aqc=${base.id}; Path=/c/${code}; Max-Age=${MONTH_SECONDS}; HttpOnly; SameSite=Lax${secure}`]
      : []
  response.writeHead(302, {
    location: landing,
    'cache-control': 'no-store',
    ...(!refused && {
      'set-cookie': [
        `aqv=${visitor}; Path=/; Max-Age=${YEAR_SECONDS}; HttpOnly; SameSite=Lax${secure}`,
        ...forOffers,
      ],
    }),
  })
  response.end()
  desk.metrics.redirected((performance.now() - began) / 1000)
}

/** The landing page's way on to an offer; the click ID comes with the address, or by our cookie. */
export async function serveHop(
  desk: Desk,
  request: IncomingMessage,
  response: ServerResponse,
  code: string,
  query: string,
): Promise<void> {
  const route = desk.routing.route(code)
  if (!route || route.paused || route.offers.length === 0)
    return withoutRoute(desk, response, route?.paused ? pausedLink : unknownLink)
  const given = new URLSearchParams(query)
  const clickId = given.get(CLICK_PARAMETER)?.slice(0, LONGEST_ID) ?? cookie(request, 'click')
  given.delete(CLICK_PARAMETER)
  const visitor = cookie(request, 'visitor')
  const base = desk.envelope(request, Date.now(), route.workspace)
  const offer = route.offers[chooseBranch(route.offers, code, visitor ?? clickId ?? base.id, 'offer')]!
  const to = nextAddress(offer.address, given.toString(), offer.click_parameter, clickId ?? base.id)
  if (request.method === 'GET')
    await desk.recordStep('hop', { kind: 'hop', ...base, code, click: clickId, offer: to, visitor })
  answer(response, 302, '', { location: to })
}
