/** The practice ground: the outside world of the demo, each party on a host name of its own. */

import { existsSync, readFileSync } from 'node:fs'
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import { join } from 'node:path'
import * as z from 'zod'
import { routingSchema } from '@/core/intake/routing'
import { dataFolder } from '@/formats/dataFolder'
import { corvane } from './corvane'
import { norrfeed, practiceAdSchema, tagScript } from './norrfeed'
import { writeReport } from './reports'
import {
  type Breakage,
  bookletPage,
  bookletThanks,
  bookOrder,
  breakages,
  breakPage,
  checkoutPage,
  coursePage,
  floorLoomsPage,
  kitsPage,
  type Tags,
  type Touch,
  thanksPage,
  touchOf,
} from './shop'

const port = Number(process.env.PRACTICE_PORT ?? 4620)
const host = process.env.HOST ?? '127.0.0.1'
const norrfeedOrigin = `http://norrfeed.localhost:${port}`
const folder = join(dataFolder(), 'practice')
const network = norrfeed(join(folder, 'norrfeed.json'))
const partner = corvane(join(folder, 'corvane.json'))
const MOST_BODY = 4_000_000

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

async function serveNorrfeed(request: IncomingMessage, response: ServerResponse, address: URL) {
  const optedOut = cookieOf(request, 'opted_out') === 'yes'
  if (request.method === 'POST' && address.pathname === '/ads') {
    network.takeAds(z.array(practiceAdSchema).parse(JSON.parse(await bodyOf(request))))
    return send(response, '{"taken":true}', 'application/json')
  }
  if (request.method === 'POST' && address.pathname === '/opt-out')
    return redirect(response, '/', {
      'set-cookie': `opted_out=${optedOut ? 'no' : 'yes'}; Path=/; SameSite=Lax`,
    })
  if (address.pathname === '/') return send(response, network.feed(optedOut))
  if (address.pathname === '/report') return send(response, network.report())
  if (address.pathname === '/tag.js') return send(response, tagScript(norrfeedOrigin), 'text/javascript')
  if (address.pathname === '/hit') {
    const q = address.searchParams
    network.hear(
      q.get('ref') ?? '',
      q.get('tx') ?? '',
      Number(q.get('value')),
      q.get('currency') ?? 'EUR',
      Date.now(),
    )
    response.writeHead(204).end()
    return
  }
  const ad = /^\/out\/(.+)$/.exec(address.pathname)?.[1]
  const to = ad ? network.clickOut(decodeURIComponent(ad), optedOut, Date.now()) : null
  return to ? redirect(response, to) : send(response, null)
}

/** How the shop is broken at the moment, for every visitor: a page check has no cookie. */
let brokenNow: Breakage = 'none'
const isBreakage = (text: string): text is Breakage => text in breakages

/** What stands on the shop's pages. `/consent` makes the shop ask before it follows anybody. */
function tags(request: IncomingMessage): Tags {
  const file = join(dataFolder(), 'routing.json')
  const { sites } = routingSchema.parse(
    existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : { version: 0 },
  )
  return {
    network: norrfeedOrigin,
    collector: `http://localhost:${process.env.COLLECTOR_PORT ?? 4610}`,
    site: Object.keys(sites)[0] ?? null,
    consent: cookieOf(request, 'asks_consent') === 'yes' ? 'required' : null,
    broken: brokenNow,
  }
}

async function serveShop(request: IncomingMessage, response: ServerResponse, address: URL) {
  const touch = touchOf(address)
  const headers: Record<string, string> = touch
    ? {
        'set-cookie': `touch=${encodeURIComponent(JSON.stringify(touch))}; Path=/; Max-Age=2592000; SameSite=Lax`,
      }
    : {}
  if (address.pathname === '/break') {
    const how =
      request.method === 'POST' ? (new URLSearchParams(await bodyOf(request)).get('how') ?? '') : brokenNow
    if (isBreakage(how)) brokenNow = how
    return send(response, breakPage(brokenNow))
  }
  if (address.pathname === '/booklet')
    return request.method === 'POST'
      ? redirect(response, '/booklet/thanks')
      : send(response, bookletPage(tags(request)), undefined, headers)
  if (address.pathname === '/floor-looms')
    return send(response, floorLoomsPage(tags(request)), undefined, headers)
  if (address.pathname === '/booklet/thanks') return send(response, bookletThanks(tags(request)))
  if (address.pathname === '/course') return send(response, coursePage(tags(request)), undefined, headers)
  if (address.pathname === '/consent')
    return redirect(response, '/kits', { 'set-cookie': 'asks_consent=yes; Path=/; SameSite=Lax' })
  if (address.pathname === '/' || address.pathname === '/kits')
    return send(response, kitsPage(tags(request)), undefined, headers)
  const product = /^\/buy\/(\d+)$/.exec(address.pathname)?.[1]
  if (product) return send(response, checkoutPage(Number(product), tags(request)))
  if (request.method === 'POST' && address.pathname === '/order') {
    const kept: Touch = JSON.parse(decodeURIComponent(cookieOf(request, 'touch') ?? '%7B%7D'))
    const order = bookOrder(new URLSearchParams(await bodyOf(request)), kept, Date.now())
    return order ? redirect(response, `/thanks?order=${order.id}&cents=${order.cents}`) : send(response, null)
  }
  if (address.pathname === '/thanks')
    return send(
      response,
      thanksPage(
        address.searchParams.get('order') ?? '',
        Number(address.searchParams.get('cents')),
        tags(request),
      ),
    )
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

const sites: Record<string, typeof serveShop> = {
  'corvane.localhost': serveCorvane,
  'norrfeed.localhost': serveNorrfeed,
  'shop.tarnbrook.localhost': serveShop,
}
const server = createServer((request, response) => {
  const name = (request.headers.host ?? '').split(':')[0] ?? ''
  const address = new URL(request.url ?? '/', `http://${request.headers.host ?? 'localhost'}`)
  const site = sites[name]
  if (address.pathname === '/report.csv') return serveReport(name, response, address)
  const served = site ? site(request, response, address) : Promise.resolve(send(response, null))
  served.catch(error => {
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
