/** The practice ground: the outside world of the demo, each party on a host name of its own. */

import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import { join } from 'node:path'
import * as z from 'zod'
import { shippedProfiles } from '@/core/links/profiles'
import { dataFolder } from '@/formats/dataFolder'
import { marketClock } from './clock'
import { corvane } from './corvane'
import { installedTags, isBreakage, type OrderValues } from './installed'
import { practiceAdSchema, practiceNetwork, servedSchema } from './network'
import { factsBy, type StandIn, standIns } from './networks'
import { writeReport } from './reports'
import {
  basketPage,
  bookletPage,
  bookOrder,
  breakPage,
  checkoutPage,
  coursePage,
  detours,
  fittingCallPage,
  floorLoomsPage,
  kitPage,
  kitsPage,
  orderValues,
  type Touch,
  takenPage,
  thanksPage,
  touchOf,
} from './shop'

const port = Number(process.env.PRACTICE_PORT ?? 4620)
const host = process.env.HOST ?? '127.0.0.1'
const collector = `http://localhost:${process.env.COLLECTOR_PORT ?? 4610}`
const originOf = (id: string) => `http://${id}.localhost:${port}`
const folder = join(dataFolder(), 'practice')
const partner = corvane(join(folder, 'corvane.json'))
const tags = installedTags(join(folder, 'installed.json'))
const MOST_BODY = 4_000_000

type Serve = (request: IncomingMessage, response: ServerResponse, address: URL) => Promise<void>

const send = (
  response: ServerResponse,
  body: string | null,
  type = 'text/html; charset=utf-8',
  headers: Record<string, string> = {},
) => {
  response.writeHead(body === null ? 404 : 200, {
    'content-type': type,
    'cache-control': 'no-store',
    ...headers,
  })
  response.end(body ?? 'Nothing here.')
}
const redirect = (response: ServerResponse, to: string, headers: Record<string, string> = {}) => {
  response.writeHead(303, { location: to, ...headers })
  response.end()
}
const cookieOf = (request: IncomingMessage, name: string) =>
  request.headers.cookie
    ?.split(/;\s*/)
    .find(c => c.startsWith(`${name}=`))
    ?.slice(name.length + 1)

async function bodyOf(request: IncomingMessage): Promise<string> {
  let body = ''
  for await (const chunk of request) {
    body += chunk
    if (body.length > MOST_BODY) throw new Error('too long')
  }
  return body
}

/** What a page of another site may read of the answer. */
const open = { 'access-control-allow-origin': '*', 'timing-allow-origin': '*', 'cache-control': 'no-store' }
/** One transparent point. */
const point = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64')

/** The pages and interfaces of one ad network. */
function serveNetwork(standIn: StandIn, network: ReturnType<typeof practiceNetwork>): Serve {
  const { requests } = standIn.tag
  const hitPath = new URL(requests!.hit).pathname
  const image = hitPath.endsWith('.gif')
  return async (request, response, address) => {
    const { pathname, searchParams } = address
    const optedOut = cookieOf(request, 'opted_out') === 'yes'
    const posted = request.method === 'POST'
    if (posted && pathname === '/ads') {
      network.takeAds(z.array(practiceAdSchema).parse(JSON.parse(await bodyOf(request))))
      return send(response, '{"taken":true}', 'application/json')
    }
    if (posted && pathname === '/server/budgets') {
      if (request.headers.authorization !== `Bearer ${standIn.key}`) {
        response.writeHead(401, { 'content-type': 'application/json' }).end('{"error":"wrong key"}')
        return
      }
      network.serve(z.array(servedSchema).parse(JSON.parse(await bodyOf(request))))
      return send(response, '{"taken":true}', 'application/json')
    }
    if (pathname === '/budgets') return send(response, network.servingPage())
    if (posted && pathname === '/opt-out')
      return redirect(response, '/', {
        'set-cookie': `opted_out=${optedOut ? 'no' : 'yes'}; Path=/; SameSite=Lax`,
      })
    if (posted && pathname === '/trouble') {
      network.makeTrouble(Number(new URLSearchParams(await bodyOf(request)).get('times')) || 0)
      return redirect(response, '/heard')
    }
    if (pathname === '/') return send(response, network.feed(optedOut))
    if (pathname === '/heard') return send(response, network.heardPage())
    if (pathname === standIn.script?.path)
      return send(response, network.script(originOf(standIn.id)), 'text/javascript', open)
    if (pathname === hitPath) {
      const facts = factsBy(searchParams, requests!.parameters)
      const ref = standIn.knowsBy === 'cookie' ? (cookieOf(request, 'ref') ?? '') : facts.ref
      network.hear({ ...facts, ref }, 'tag', Date.now())
    }
    if (image && pathname.endsWith('.gif')) {
      response.writeHead(200, { ...open, 'content-type': 'image/gif' }).end(point)
      return
    }
    if (pathname === hitPath) {
      response.writeHead(204, open).end()
      return
    }
    const ad = /^\/out\/(.+)$/.exec(pathname)?.[1]
    const out = ad ? network.clickOut(decodeURIComponent(ad), optedOut, Date.now()) : null
    if (out) {
      const cookie = `ref=${out.ref}; Path=/; Max-Age=7776000; SameSite=None; Secure`
      return redirect(response, out.to, standIn.knowsBy === 'cookie' ? { 'set-cookie': cookie } : {})
    }
    if (request.method === 'GET' && !pathname.startsWith('/server')) return send(response, null)
    const headers = Object.fromEntries(
      Object.entries(request.headers).map(([name, value]) => [name, String(value)]),
    )
    const sent = { path: pathname, query: searchParams, body: await bodyOf(request), headers }
    const answer = network.hearServer(sent, Date.now())
    response.writeHead(answer.status, { 'content-type': 'application/json' })
    response.end(JSON.stringify(answer.body))
  }
}

async function serveShop(request: IncomingMessage, response: ServerResponse, address: URL) {
  const { pathname, searchParams } = address
  const posted = request.method === 'POST'
  const touch = touchOf(address)
  const headers: Record<string, string> = touch
    ? {
        'set-cookie': `touch=${encodeURIComponent(JSON.stringify(touch))}; Path=/; Max-Age=2592000; SameSite=Lax`,
      }
    : {}
  // `/consent` makes the shop ask before it follows anybody.
  const asksConsent = cookieOf(request, 'asks_consent') === 'yes'
  const placed = (order: OrderValues = {}) => tags.tagsOf(address.href, order, asksConsent)
  const show = (html: string | null) => send(response, html, undefined, headers)
  if (posted && pathname === '/install') {
    tags.take(JSON.parse(await bodyOf(request)))
    return send(response, '{"taken":true}', 'application/json')
  }
  if (pathname === '/break') {
    const how = posted ? (new URLSearchParams(await bodyOf(request)).get('how') ?? '') : tags.broken()
    if (isBreakage(how)) tags.breakAs(how)
    return send(response, breakPage(tags.broken()))
  }
  if (pathname === '/booklet')
    return posted ? redirect(response, '/booklet/thanks') : show(bookletPage(placed()))
  if (pathname === '/booklet/thanks') return show(takenPage('The booklet is on its way', placed()))
  if (pathname === '/floor-looms') return show(floorLoomsPage(placed()))
  if (pathname === '/fitting-call')
    return posted ? redirect(response, '/fitting-call/thanks') : show(fittingCallPage(placed()))
  if (pathname === '/fitting-call/thanks') return show(takenPage('We will call you', placed()))
  if (pathname === '/course') return show(coursePage(collector, placed()))
  if (pathname === '/consent')
    return redirect(response, '/kits', { 'set-cookie': 'asks_consent=yes; Path=/; SameSite=Lax' })
  if (pathname === '/' || pathname === '/kits') return show(kitsPage(placed()))
  const detour = detours[pathname]
  if (detour) return redirect(response, detour(address.search.slice(1)))
  const kit = /^\/kits\/(\d+)$/.exec(pathname)?.[1]
  if (kit) return show(kitPage(Number(kit), placed()))
  if (pathname === '/basket') return show(basketPage(Number(searchParams.get('product')), placed()))
  const product = /^\/buy\/(\d+)$/.exec(pathname)?.[1]
  if (product) return show(checkoutPage(Number(product), placed()))
  if (posted && pathname === '/order') {
    const kept: Touch = JSON.parse(decodeURIComponent(cookieOf(request, 'touch') ?? '%7B%7D'))
    const order = bookOrder(new URLSearchParams(await bodyOf(request)), kept, Date.now())
    return order
      ? redirect(response, `/thanks?order=${order.id}&cents=${order.cents}${order.test ? '&test=yes' : ''}`)
      : send(response, null)
  }
  if (pathname === '/thanks') {
    const [id, cents] = [searchParams.get('order') ?? '', Number(searchParams.get('cents'))]
    return show(thanksPage(id, cents, placed(orderValues(id, cents, searchParams.get('test') === 'yes'))))
  }
  return send(response, null)
}

async function serveCorvane(request: IncomingMessage, response: ServerResponse, address: URL) {
  const { pathname, searchParams } = address
  if (request.method === 'POST' && pathname === '/enrol')
    return send(response, await partner.enrol(searchParams, Date.now()))
  if (request.method === 'POST' && pathname === '/postback') {
    partner.takePostback(new URLSearchParams(await bodyOf(request)).get('address') ?? '')
    return redirect(response, '/')
  }
  if (request.method === 'POST' && pathname === '/settle') {
    const to = new URLSearchParams(await bodyOf(request)).get('to') ?? ''
    await partner.settle(searchParams.get('deal') ?? '', to)
    return redirect(response, '/')
  }
  if (pathname === '/offer/course') return send(response, partner.offer(searchParams))
  return send(response, pathname === '/' ? partner.deals() : null)
}

/** Every practice network lets its customer download a report. */
function serveReport(name: string, response: ServerResponse, { searchParams }: URL) {
  const [from, to] = [searchParams.get('from') ?? '0000-01-01', searchParams.get('to') ?? '9999-12-31']
  return send(
    response,
    writeReport(folder, name.replace('.localhost', ''), from, to),
    'text/csv; charset=utf-8',
  )
}

const networks = standIns(originOf).map(standIn => {
  const profile = shippedProfiles.find(p => p.id === standIn.id)!
  return { standIn, network: practiceNetwork(standIn, profile, join(folder, `${standIn.id}.json`)) }
})
const clock = marketClock(folder, () => networks.flatMap(({ network }) => network.served()))

/** What day it is in the market, and how it goes on. */
async function serveMarket(
  request: IncomingMessage,
  response: ServerResponse,
  { pathname, searchParams }: URL,
) {
  const json = (told: object) => send(response, JSON.stringify(told), 'application/json')
  if (request.method === 'POST' && pathname === '/go-on')
    return json({ day: await clock.goOn(Number(searchParams.get('days'))) })
  return pathname === '/day' ? json({ day: clock.today() }) : send(response, null)
}
const sites = new Map<string, Serve>([
  ['corvane.localhost', serveCorvane],
  ['shop.tarnbrook.localhost', serveShop],
  ['market.localhost', serveMarket],
  ...networks.map(({ standIn, network }): [string, Serve] => [
    `${standIn.id}.localhost`,
    serveNetwork(standIn, network),
  ]),
])

/** Hosts and addresses come from outside: one that cannot be read is answered, and nothing else. */
async function serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
  const host = request.headers.host ?? 'localhost'
  const name = host.split(':')[0] ?? ''
  const site = sites.get(name)
  if (!URL.canParse(request.url ?? '/', `http://${host}`)) throw new Error('no such address')
  const address = new URL(request.url ?? '/', `http://${host}`)
  if (site && address.pathname === '/report.csv') return serveReport(name, response, address)
  return site ? site(request, response, address) : send(response, null)
}
const server = createServer((request, response) => {
  serve(request, response).catch(error => {
    if (response.headersSent) return response.destroy()
    response
      .writeHead(400)
      .end(`The practice ground cannot use this: ${error instanceof Error ? error.message : ''}`)
  })
})
server.listen(port, host, () => process.send?.('ready'))
const stop = () => {
  server.close(() => process.exit(0))
  server.closeAllConnections()
}
process.on('SIGTERM', stop)
process.on('SIGINT', () => !process.send && stop())
process.on('disconnect', stop)
