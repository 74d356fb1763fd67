import { describe, expect, it } from 'vitest'
import type { Observation } from '../intake/arrival'
import { readTest, type TestedEvent, type WatchedNetwork } from './liveTest'
import { ruleSchema } from './rule'

const T = Date.UTC(2026, 10, 20, 10)
const page = (view: string, path: string, more: Partial<Observation> = {}): Observation => ({
  test: 't',
  view,
  page: `https://tarnbrook.example${path}`,
  title: path,
  opened: T + Number(view) * 10_000,
  after_ms: 3500,
  code: [],
  requests: [],
  called: [],
  errors: [],
  ...more,
})
const told = (view: string, result: string, more: Partial<TestedEvent> = {}): TestedEvent => ({
  id: `e${view}${result}`,
  at: T + Number(view) * 10_000 + 500,
  result,
  rule: 'r1',
  view,
  page: '',
  transaction: 'T1',
  value: null,
  currency: null,
  ...more,
})
const rules = [
  ruleSchema.parse({
    id: 'r1',
    result: 'order',
    when: { on: 'page' },
    where: { any: [{ by: 'equals', text: '/thanks' }] },
  }),
  ruleSchema.parse({
    id: 'r2',
    result: 'lead',
    when: { on: 'form_sent' },
    where: { any: [{ by: 'equals', text: '/booklet' }] },
  }),
]
const network = (placedBy: 'tag' | 'site'): WatchedNetwork => ({
  network: 'norrfeed',
  account: 'nf1',
  placedBy,
  slots: { order: 'purchase' },
  code: {
    base: '<script src="https://tags.norrfeed.example/t.js"></script>',
    event: "tell('{event}')",
    requests: {
      script: 'https://tags.norrfeed.example/t.js',
      hit: 'https://tags.norrfeed.example/hit',
      parameters: { event: 'e', event_id: 'id' },
      page_view: 'page',
    },
  },
  events: [{ name: 'purchase', on: { any: [{ by: 'equals', text: '/thanks' }], none: [] }, needs: [] }],
})
const requests = (...addresses: string[]) => addresses.map(address => ({ address, at: T, failed: false }))
const script = 'https://tags.norrfeed.example/t.js'
const hit = 'https://tags.norrfeed.example/hit?e=purchase&id=order.T1'

describe('a live test', () => {
  const read = (pages: Observation[], events: TestedEvent[], placedBy: 'tag' | 'site' = 'tag') =>
    readTest(pages, events, rules, [network(placedBy)], new Map())

  it('shows the request by which a network was told, under the event ID that all share', () => {
    const [thanks] = read([page('1', '/thanks', { requests: requests(script, hit) })], [told('1', 'order')])
    expect(thanks!.results).toMatchObject([
      { event_id: 'order.T1', again: false, networks: [{ state: 'sent', request: hit, slot: 'purchase' }] },
    ])
    expect(thanks).toMatchObject({ missing: [], findings: [] })
  })
  it('says that a reload tells the same again', () => {
    const pages = read(
      [page('1', '/thanks'), page('2', '/thanks')],
      [told('1', 'order'), told('2', 'order', { id: 'other' })],
    )
    expect(pages.map(p => p.results[0]!.again)).toEqual([false, true])
  })
  it('says what should have been told and was not, once the page has come to rest', () => {
    expect(read([page('1', '/thanks')], [])[0]!.missing).toEqual(['order'])
    expect(read([page('1', '/thanks', { after_ms: 900 })], [])[0]).toMatchObject({
      missing: [],
      findings: [],
    })
    // A page that was left for another has come to rest, too.
    expect(read([page('1', '/thanks', { after_ms: 900 }), page('2', '/kits')], [])[0]!.missing).toEqual([
      'order',
    ])
  })
  it('waits for what only the visitor can set off', () => {
    const [booklet] = read([page('1', '/booklet')], [])
    expect(booklet).toMatchObject({ missing: [], waiting: ['lead'] })
  })
  it.each(['called', 'held_back', 'not_loaded', 'not_run'] as const)(
    'says when our tag could see only that it %s a network',
    how => {
      const called = [{ network: 'norrfeed', result: 'order', event_id: 'order.T1', how }]
      const [thanks] = read([page('1', '/thanks', { called })], [told('1', 'order')])
      expect(thanks!.results[0]!.networks[0]!.state).toBe(how)
    },
  )
  it('finds that the site’s own code told nothing, and names the page check’s finding', () => {
    const [thanks] = read(
      [page('1', '/thanks', { requests: requests(script) })],
      [told('1', 'order')],
      'site',
    )
    expect(thanks!.results[0]!.networks[0]!.state).toBe('missing')
    expect(thanks!.findings.map(f => f.code)).toEqual(['event_missing'])
  })
})
