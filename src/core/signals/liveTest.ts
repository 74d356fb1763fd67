import type { Observation } from '../intake/arrival'
import { networkEventId } from './fillCode'
import { matchesAddress } from './matchAddress'
import type { RecordedRequest } from './page'
import { checkRecording, type PageFinding, type WantedTag } from './pageCheck'
import type { Rule } from './rule'

/** An event that the tag told in a test. */
export interface TestedEvent {
  id: string
  /** epoch ms */
  at: number
  result: string
  rule: string | null
  /** the opening of a page in which it was told */
  view: string
  page: string
  transaction: string | null
  value: string | null
  currency: string | null
}

/** What became of an event at one network. */
export interface NetworkSignal {
  network: string
  /** its name there */
  slot: string
  placedBy: 'tag' | 'site'
  /**
   * sent: its request was seen; called: its code has run to its end, and its request shows nowhere;
   * not_loaded, not_run: its script could not be fetched, or did not run; missing: none of it though the page has come to rest; awaited: not yet
   */
  state: 'sent' | 'called' | 'held_back' | 'not_loaded' | 'not_run' | 'missing' | 'awaited'
  /** the request that was seen */
  request: string | null
}
export interface TestedResult extends TestedEvent {
  event_id: string
  /** told before under the same event ID: networks and we count it once */
  again: boolean
  networks: NetworkSignal[]
}
export interface TestedPage {
  view: string
  address: string
  title: string
  /** epoch ms */
  opened: number
  /** whether the page was looked at long enough to say that something is missing */
  rested: boolean
  results: TestedResult[]
  /** results that a page's address alone should have told, and did not */
  missing: string[]
  /** rules that hold here and wait for something that the visitor does */
  waiting: string[]
  findings: PageFinding[]
  errors: Observation['errors']
}

/** A network as a test watches it. */
export interface WatchedNetwork extends WantedTag {
  placedBy: 'tag' | 'site'
  /** its name for each result */
  slots: Record<string, string>
}

/** So long after it was opened a page has told what its address alone tells. */
const RESTED_MS = 3000

function requestsOf({ view, requests }: Observation): RecordedRequest[] {
  return requests.map(({ address, at, failed }, index) => ({
    index,
    page: view,
    address,
    at,
    parameters: new Map(URL.canParse(address) ? new URL(address).searchParams : []),
    failed,
    document: false,
  }))
}

/** An address without scheme and query, as requests are known by. */
const bare = (address: string) => address.replace(/^(?:[a-z]+:)?\/\//i, '').split(/[?#]/)[0]!

/**
 * What happened in a live test, page by page: which results were told, what each network was sent, and
 * what should have been there and is not.
 *
 * @param sourceFindings what the page check says of each page's own code, by the opening of the page
 */
export function readTest(
  observations: readonly Observation[],
  events: readonly TestedEvent[],
  rules: readonly Rule[],
  networks: readonly WatchedNetwork[],
  sourceFindings: ReadonlyMap<string, readonly PageFinding[]>,
): TestedPage[] {
  const inTime = [...observations].sort((a, b) => a.opened - b.opened)
  const known = new Set<string>()
  return inTime.map((seen, i): TestedPage => {
    const rested = seen.after_ms >= RESTED_MS || i < inTime.length - 1
    const own = events.filter(e => e.view === seen.view && e.rule !== null).sort((a, b) => a.at - b.at)
    const requests = requestsOf(seen)
    const results = own.map((event): TestedResult => {
      const event_id = networkEventId(event.result, event.transaction, event.id)
      const again = known.has(event_id)
      known.add(event_id)
      return {
        ...event,
        event_id,
        again,
        networks: networks.flatMap(n => signalAt(n, event, event_id, seen, requests, rested) ?? []),
      }
    })
    const told = new Set(own.map(e => e.result))
    const here = rules.filter(r => r.when.on === 'link_click' || matchesAddress(r.where, seen.page))
    const byPage = here.filter(r => r.when.on === 'page').map(r => r.result)
    return {
      view: seen.view,
      address: seen.page,
      title: seen.title,
      opened: seen.opened,
      rested,
      results,
      missing: rested ? [...new Set(byPage)].filter(result => !told.has(result)) : [],
      waiting: [
        ...new Set(
          here.filter(r => !['page', 'link_click', 'own_event'].includes(r.when.on)).map(r => r.result),
        ),
      ].filter(result => !told.has(result)),
      findings: rested ? findingsOf(seen, requests, networks, sourceFindings.get(seen.view) ?? []) : [],
      errors: seen.errors,
    }
  })
}

function signalAt(
  { network, slots, placedBy, code }: WatchedNetwork,
  event: TestedEvent,
  eventId: string,
  seen: Observation,
  requests: readonly RecordedRequest[],
  rested: boolean,
): NetworkSignal | null {
  const slot = slots[event.result]
  if (slot === undefined) return null
  const called = seen.called.findLast(c => c.network === network && c.event_id === eventId)?.how
  const known = code.requests
  const request = known
    ? requests.find(
        r =>
          bare(r.address).startsWith(bare(known.hit)) &&
          (known.parameters.event_id
            ? r.parameters.get(known.parameters.event_id) === eventId
            : r.parameters.get(known.parameters.event ?? '') === slot),
      )
    : undefined
  const state = request ? 'sent' : (called ?? (rested ? 'missing' : 'awaited'))
  return { network, slot, placedBy, state, request: request?.address ?? null }
}

/** What is wrong with a page: by its own code, and by what it made the browser send; each said once. */
function findingsOf(
  seen: Observation,
  requests: readonly RecordedRequest[],
  tags: readonly WantedTag[],
  ofSource: readonly PageFinding[],
): PageFinding[] {
  const recording = {
    pages: [{ id: seen.view, address: seen.page, at: seen.opened }],
    requests: [...requests],
  }
  const ofRequests = tags.length > 0 ? checkRecording({ page: seen.page, tags: [...tags] }, recording) : []
  const said = new Map<string, PageFinding>()
  for (const finding of [...ofSource, ...ofRequests]) {
    const key = [finding.code, finding.network, finding.event].join(' ')
    if (!said.has(key)) said.set(key, finding)
  }
  return [...said.values()]
}
