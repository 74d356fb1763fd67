import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import * as z from 'zod'
import { LONGEST_TEXT } from '@/core/intake/arrival'
import { limitConnections, PATIENCE, usualConnections } from './connections'
import { createDesk, type Desk } from './desk'
import { readAgain } from './mendRequest'
import { serveOrder, servePostback } from './messages'
import type { Kind } from './metrics'
import { RULES_SECONDS, serveEvents, serveObservation, serveRules } from './pages'
import { answer, Refused } from './respond'
import { isSecure } from './sender'
import { serveClick, serveHop } from './shoppers'
import { readTag } from './tag'

const YEAR_SECONDS = 31_536_000
const LONGEST_ADDRESS = 8192

/** What is said of a request that cannot be served. */
const wordsOf = (error: unknown): string =>
  error instanceof z.ZodError
    ? z.prettifyError(error)
    : error instanceof Refused
      ? error.message
      : 'It cannot be read.'

export interface CollectorOptions {
  /** requests a minute from one address, and events; our own machine is not limited */
  perMinute?: number
  /** bytes of bodies a minute from one address */
  bytesPerMinute?: number
  /** connections that stand at once */
  connections?: number
  /** whether the sender's address stands in X-Forwarded-For */
  behindProxy?: boolean
}

/** The tracking domain. It knows no database: it answers from the routing table and writes the journal. */
export function createCollector(
  folder: string,
  {
    perMinute = 3000,
    bytesPerMinute = 20_000_000,
    connections = usualConnections(),
    behindProxy = false,
  }: CollectorOptions = {},
) {
  const desk = createDesk(folder, behindProxy, {
    requests: perMinute,
    events: perMinute,
    bytes: bytesPerMinute,
  })
  const serve = hall(desk)

  const server = createServer({ maxHeaderSize: LONGEST_TEXT, ...PATIENCE }, (request, response) => {
    if (isSecure(request, behindProxy))
      response.setHeader('strict-transport-security', `max-age=${YEAR_SECONDS}`)
    admit(request)
      .then(() => serve(request, response))
      .catch((error: unknown) => {
        const kind = kindOf(request.url)
        if (kind) desk.metrics.count(kind, 'refused')
        const status = error instanceof Refused ? error.status : 400
        if (!response.headersSent)
          answer(response, status, wordsOf(error), { 'access-control-allow-origin': '*' })
        else response.destroy()
      })
  })
  async function admit(request: IncomingMessage): Promise<void> {
    const address = request.url ?? '/'
    // A shopper goes on, however much a network writes into the address.
    if (address.length > LONGEST_ADDRESS && !address.startsWith('/c/'))
      throw new Refused(414, 'The address is too long.')
    if (!isReading(request) && request.method !== 'POST')
      throw new Refused(405, 'GET and POST are answered here.')
    await desk.allow(request, 'requests')
  }
  limitConnections(server, connections, behindProxy)
  server.on('clientError', (error: Error & { rawPacket?: Buffer; code?: string }, socket) => {
    if (readAgain(server, error.rawPacket, socket)) return
    const status = statuses[error.code ?? ''] ?? '400 Bad Request'
    if (socket.writable) socket.end(`HTTP/1.1 ${status}\r\nconnection: close\r\n\r\n`)
    else socket.destroy()
  })
  const close = () =>
    new Promise<void>(done => {
      desk.routing.stop()
      server.close(() => {
        desk.close()
        done()
      })
      server.closeAllConnections()
    })
  return { server, close }
}

/** What is said of a request that Node's parser gave up. */
const statuses: Record<string, string> = {
  HPE_HEADER_OVERFLOW: '431 Request Header Fields Too Large',
  ERR_HTTP_REQUEST_TIMEOUT: '408 Request Timeout',
}

const isReading = ({ method }: IncomingMessage) => method === 'GET' || method === 'HEAD'

/** Of what kind a request would have been, had it been served. */
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

/** Leads each request to whoever serves it. */
function hall(desk: Desk) {
  const tag = readTag('aq.js')
  const testTag = readTag('aq-test.js')
  return async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const address = request.url ?? '/'
    const mark = address.indexOf('?')
    const [path, query] = mark < 0 ? [address, ''] : [address.slice(0, mark), address.slice(mark + 1)]
    const reading = isReading(request)
    const [, door, code = '', next] = /^\/([cpor])\/([A-Za-z0-9_-]{1,64})(\/next)?$/.exec(path) ?? []
    if (door === 'c' && reading) return (next ? serveHop : serveClick)(desk, request, response, code, query)
    if (door === 'p' && !next) return servePostback(desk, request, response, code, query)
    if (door === 'o' && !next && !reading) return serveOrder(desk, request, response, code)
    if (door === 'r' && !next && reading) return serveRules(desk, response, code, query)
    if (path === '/e') return serveEvents(desk, request, response, query)
    if (path === '/t' && !reading) return serveObservation(desk, request, response)
    if (path === '/aq.js' && reading) {
      const site = desk.routing.site(new URLSearchParams(query).get('site') ?? '')
      const { rules, networks, hosts, parameters } = site ?? {}
      const doing = JSON.stringify({ rules, networks, hosts, parameters, test: false })
      return tag.serve(request, response, site && { doing, seconds: RULES_SECONDS })
    }
    if (path === '/aq-test.js' && reading) return testTag.serve(request, response)
    if (path === '/health' && desk.mayAsk(request)) return desk.tellHealth(response)
    if (path === '/metrics' && desk.mayAsk(request)) {
      const { type, text } = await desk.metrics.write(request.headers.accept)
      return answer(response, 200, text, { 'content-type': type })
    }
    throw new Refused(404, 'Nothing here.')
  }
}
