import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import { join } from 'node:path'
import Bowser from 'bowser'
import { v7 as uuidv7 } from 'uuid'
import { type ClickArrival, landingAddress } from '@/core/intake/arrival'
import { Journal } from './journal'
import { watchRouting } from './routing'

const VISITOR_COOKIE = 'aqv'
const YEAR_SECONDS = 31_536_000
const LONGEST_ADDRESS = 8192
const devicesByAgent = new Map<string, string | null>()

/** phone, tablet or desktop, by the user agent; null when it does not say. */
function deviceOf(agent: string | undefined): string | null {
  if (!agent) return null
  let device = devicesByAgent.get(agent)
  if (device === undefined) {
    const type = Bowser.parse(agent).platform.type ?? null
    device = type === 'mobile' ? 'phone' : type
    if (devicesByAgent.size > 5000) devicesByAgent.clear()
    devicesByAgent.set(agent, device)
  }
  return device
}

const cookie = (request: IncomingMessage, name: string) =>
  new RegExp(`(?:^|;\\s*)${name}=([A-Za-z0-9-]{8,64})`).exec(request.headers.cookie ?? '')?.[1] ?? null

function answer(response: ServerResponse, status: number, text: string, type = 'text/plain; charset=utf-8') {
  response.writeHead(status, {
    'content-type': type,
    'cache-control': 'no-store',
    'x-content-type-options': 'nosniff',
  })
  response.end(text)
}

/** The tracking domain. It knows no database: it answers from the routing table and writes the journal. */
export function createCollector(folder: string) {
  const journal = new Journal(join(folder, 'journal'), Date.now)
  const routing = watchRouting(join(folder, 'routing.json'))
  const counters = { redirected: 0, notRecorded: 0 }

  async function click(request: IncomingMessage, response: ServerResponse, code: string, query: string) {
    const route = routing.find(code)
    if (!route)
      return answer(
        response,
        404,
        'This link is not known here. If you came by an ad, its link has been mistyped or withdrawn.',
      )
    const at = Date.now()
    const id = uuidv7({ msecs: at })
    const visitor = cookie(request, VISITOR_COOKIE) ?? uuidv7()
    const landing = landingAddress(route.destination, query, id)
    const record: ClickArrival = {
      kind: 'click',
      id,
      at,
      workspace: route.workspace,
      network: route.network,
      code,
      query,
      landing,
      visitor,
      device: deviceOf(request.headers['user-agent']),
    }
    try {
      await journal.append(record)
    } catch (error) {
      // The shopper must not pay for a full disk: the click goes on, and is counted as lost.
      counters.notRecorded += 1
      console.error(
        'A click could not be written to the journal.',
        error instanceof Error ? error.message : '',
      )
    }
    counters.redirected += 1
    response.writeHead(302, {
      location: landing,
      'cache-control': 'no-store',
      'referrer-policy': 'no-referrer-when-downgrade',
      'set-cookie': `${VISITOR_COOKIE}=${visitor}; Path=/; Max-Age=${YEAR_SECONDS}; HttpOnly; SameSite=Lax`,
    })
    response.end()
  }

  const server = createServer((request, response) => {
    const address = request.url ?? '/'
    if (address.length > LONGEST_ADDRESS) return answer(response, 414, 'The address is too long.')
    if (request.method !== 'GET' && request.method !== 'HEAD')
      return answer(response, 405, 'Only GET is answered here.')
    const [path, query = ''] = address.split(/\?(.*)/s)
    const code = /^\/c\/([A-Za-z0-9_-]{1,64})$/.exec(path ?? '')?.[1]
    if (code) return void click(request, response, code, query)
    if (path === '/health')
      return answer(
        response,
        200,
        JSON.stringify({ status: 'ok', folder, records: journal.records, ...counters }),
        'application/json',
      )
    return answer(response, 404, 'Nothing here.')
  })
  const close = () =>
    new Promise<void>(done => {
      routing.stop()
      server.close(() => void journal.close().then(done))
      server.closeAllConnections()
    })
  return { server, close }
}
