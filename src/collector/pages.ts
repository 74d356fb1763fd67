import type { IncomingMessage, ServerResponse } from 'node:http'
import * as z from 'zod'
import { type Arrival, type Beacon, beaconSchema, observationSchema } from '@/core/intake/arrival'
import { LONGEST_ID } from '@/core/intake/fields'
import type { Desk } from './desk'
import { mintId } from './ids'
import { answer, parseJson, Refused } from './respond'

/** How long a browser may go on by the rules it has. */
export const RULES_SECONDS = 10
const LONGEST_BODY = 64 * 1024
const MOST_EVENTS = 100
const observedSchema = observationSchema.extend({ site: z.string() })
const anyOrigin = { 'access-control-allow-origin': '*' }

/** The record of one event, or what is wrong with it. */
function eventOf(desk: Desk, request: IncomingMessage, beacon: Beacon): Arrival | string {
  const { site, code, test: said, ...event } = beacon
  const known = desk.routing.site(site)
  if (!known) return `There is no site "${site}". Take the tag from the hand-off again.`
  // Whoever says that it is a test, and is in none, is counted as anybody.
  const test = said && known.tests.includes(said) ? said : undefined
  const base = { ...desk.envelope(request, Date.now(), known.workspace), test }
  const route = code ? desk.routing.route(code) : undefined
  const own = route?.workspace === known.workspace ? route : undefined
  // Who came straight by an ad: its address says which, by a code or by what the tag plan put into it.
  if (beacon.click && beacon.page && (own || beacon.name === 'arrival'))
    return {
      ...base,
      kind: 'click',
      by: 'page',
      id: beacon.click,
      network: own?.network ?? '',
      code: own ? code! : '',
      query: URL.canParse(beacon.page) ? new URL(beacon.page).search.slice(1) : '',
      landing: beacon.page,
      visitor: beacon.visitor ?? null,
      zone: beacon.zone,
    }
  const origin = request.headers.origin?.slice(0, LONGEST_ID)
  return { ...base, kind: 'event', ...event, ...(origin ? { origin } : {}) }
}

/** Events of a site's pages, one or many at a time; good ones are kept though others are refused. */
export async function serveEvents(
  desk: Desk,
  request: IncomingMessage,
  response: ServerResponse,
  query: string,
): Promise<void> {
  const given: unknown[] =
    request.method === 'POST'
      ? [parseJson(await desk.bodyFrom(request, LONGEST_BODY))].flat()
      : [
          {
            id: mintId(Date.now()),
            page: request.headers.referer?.slice(0, 2048),
            ...Object.fromEntries(new URLSearchParams(query)),
          },
        ]
  await desk.allow(request, 'events', given.length)
  if (given.length > MOST_EVENTS) throw new Refused(400, `At most ${MOST_EVENTS} events at once.`)
  const good: Arrival[] = []
  const wrong: string[] = []
  for (const one of given.map(event => beaconSchema.safeParse(event))) {
    const arrival = one.success ? eventOf(desk, request, one.data) : z.prettifyError(one.error)
    if (typeof arrival === 'string') wrong.push(arrival)
    else good.push(arrival)
  }
  if (good.length > 0) await desk.record('event', good)
  if (wrong[0]) throw new Refused(400, wrong[0])
  answer(response, 204, '', anyOrigin)
}

/** What a page of a live test looks like to its tag. */
export async function serveObservation(
  desk: Desk,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const { site: key, ...seen } = observedSchema.parse(parseJson(await desk.bodyFrom(request, LONGEST_BODY)))
  const site = desk.routing.site(key)
  if (!site?.tests.includes(seen.test)) throw new Refused(403, 'There is no such test, or it has ended.')
  const base = desk.envelope(request, Date.now(), site.workspace)
  await desk.record('event', [{ kind: 'observation', ...base, seen }])
  answer(response, 204, '', anyOrigin)
}

/** What a site's tag does: its rules, the networks that it calls, and whether this visit is a test. */
export function serveRules(desk: Desk, response: ServerResponse, key: string, query: string): void {
  const site = desk.routing.site(key)
  if (!site) throw new Refused(404, 'There is no such site. Take the tag from the hand-off again.')
  const { rules, networks, hosts, parameters } = site
  const test = desk.testOf(site.workspace, query) !== undefined
  answer(response, 200, JSON.stringify({ rules, networks, hosts, parameters, test }), {
    'content-type': 'application/json',
    'cache-control': query ? 'no-store' : `public, max-age=${RULES_SECONDS}`,
    ...anyOrigin,
  })
}
