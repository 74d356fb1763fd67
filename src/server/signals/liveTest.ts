import { type ArrivalOf, type Observation, observationSchema } from '@/core/intake/arrival'
import { TEST_PARAMETER } from '@/core/intake/routing'
import { readTest, type TestedEvent, type TestedPage, type WatchedNetwork } from '@/core/signals/liveTest'
import { checkWrittenPage, type PageFinding } from '@/core/signals/pageCheck'
import type { Database } from '@/data/connect'
import { endTest, type LiveTest, latestTest, listTestRecords, startTest } from '@/data/liveTests'
import { latestRelays, type Relay } from '@/data/relays'
import { listDefinitions, listRules, listSlots } from '@/data/signals'
import { readPage } from '@/formats/html'
import { mintCode, publishRoutes, siteKeyOf, trackingOrigin } from '../routes'
import { describeHandOff, pageSpecOf, wantedOf } from './handOff'

const MOST_RELAYS = 500

/** What the server told a network of an event in a test. */
export type TestedRelay = Pick<Relay, 'network' | 'event_id' | 'state' | 'tries'>
export interface DescribedTest {
  /** the page to open: its visit is the test */
  open: string
  startedAt: number
  running: boolean
  /** clicks on links of ours that came with it, by their code */
  clicks: { at: number; network: string; code: string }[]
  pages: (TestedPage & { relays: TestedRelay[] })[]
  /** names of the results */
  names: Record<string, string>
}

/** Begins a live test on a page; one that ran is ended. Gives what is wrong, or null when it has begun. */
export async function beginTest(
  database: Database,
  workspace: string,
  address: string,
  now: number,
): Promise<string | null> {
  if (!/^https?:\/\//i.test(address) || !URL.canParse(address))
    return 'Write the whole address of the page, with https://.'
  await stopTest(database, workspace, now)
  const token = mintCode()
  await startTest(database, { workspace, token, address, started_at: new Date(now) })
  await publishRoutes(database, workspace)
  await untilCollectorKnows(await siteKeyOf(database, workspace), token)
  return null
}

const LONGEST_WAIT_MS = 2000
/** A visit that begins before the collector has read of the test would count. */
async function untilCollectorKnows(site: string, token: string): Promise<void> {
  const deadline = Date.now() + LONGEST_WAIT_MS
  while (Date.now() < deadline) {
    const known = await fetch(`${trackingOrigin()}/r/${site}?${TEST_PARAMETER}=${token}`)
      .then(answer => answer.json())
      .catch(() => null)
    if (known?.test === true) return
    await new Promise(next => setTimeout(next, 50))
  }
}

/** Ends the live test that runs, if one does: its visit counts as anybody's from then on. */
export async function stopTest(database: Database, workspace: string, now: number): Promise<void> {
  const test = await latestTest(database, workspace)
  if (!test?.running) return
  await endTest(database, workspace, test.token, new Date(now))
  await publishRoutes(database, workspace)
}

function addressOf({ address, token }: Pick<LiveTest, 'address' | 'token'>): string {
  const url = new URL(address)
  url.searchParams.set(TEST_PARAMETER, token)
  return url.href
}

/** The latest live test, as far as it has come; null when there was none. */
export async function describeTest(database: Database, workspace: string): Promise<DescribedTest | null> {
  const test = await latestTest(database, workspace)
  if (!test) return null
  const records = await listTestRecords(database, workspace, test.token)
  const observations = records
    .filter(r => r.kind === 'observation')
    .map(r => observationSchema.parse(r.record))
  const events = records.filter(r => r.kind === 'event').map(r => eventOf(r.record as ArrivalOf<'event'>))
  const clicks = records.filter(r => r.kind === 'click').map(r => r.record as ArrivalOf<'click'>)
  const definitions = await listDefinitions(database, workspace)
  const pages = readTest(
    observations,
    events,
    await listRules(database, workspace),
    await watchedNetworks(database, workspace),
    await checkSources(database, workspace, observations),
  )
  const relays = await latestRelays(database, workspace, MOST_RELAYS, test.token)
  return {
    open: addressOf(test),
    startedAt: test.started_at.getTime(),
    running: test.running,
    clicks: clicks.map(({ at, network, code }) => ({ at, network, code })),
    pages: pages.map(page => ({
      ...page,
      relays: relays
        .filter(relay => page.results.some(r => r.event_id === relay.event_id && !r.again))
        .map(({ network, event_id, state, tries }) => ({ network, event_id, state, tries })),
    })),
    names: Object.fromEntries(definitions.map(d => [d.id, d.name])),
  }
}

const eventOf = (e: ArrivalOf<'event'>): TestedEvent => ({
  id: e.id,
  at: e.at,
  result: e.name,
  rule: e.rule ?? null,
  view: e.view ?? '',
  page: e.page ?? '',
  transaction: e.transaction ?? null,
  value: e.value ?? null,
  currency: e.currency ?? null,
})

async function watchedNetworks(database: Database, workspace: string): Promise<WatchedNetwork[]> {
  const slots = await listSlots(database, workspace)
  return (await describeHandOff(database, workspace)).networks.flatMap(network =>
    wantedOf(network).map(tag => ({
      ...tag,
      placedBy: network.placedBy,
      slots: Object.fromEntries(slots.filter(s => s.network === network.id).map(s => [s.result, s.slot])),
    })),
  )
}

/** The page check of each page's own code, as the visitor's browser had it. */
async function checkSources(
  database: Database,
  workspace: string,
  observations: readonly Observation[],
): Promise<Map<string, PageFinding[]>> {
  const spec = await pageSpecOf(database, workspace, 'https://page.example/')
  return new Map(
    observations.map(({ view, page, code }) => {
      const part = (place: 'head' | 'body') =>
        code
          .filter(c => c.in === place)
          .map(c => c.html)
          .join('\n')
      const html = `<!doctype html><html><head>\n${part('head')}\n</head><body>\n${part('body')}\n</body></html>`
      return [view, checkWrittenPage({ ...spec, page }, readPage(html))]
    }),
  )
}
