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
  const norrfeedAs = (state: unknown) => [
    { network: 'norrfeed', slot: 'purchase', placedBy: 'tag', ...(state as object) },
  ]
  it.each([
    ['its own request', [script, hit], {}, 'sent'],
    ['another event’s request', [script, hit.replace('T1', 'T2')], {}, 'missing'],
    ['another address', [script, 'https://else.example/hit?e=purchase&id=order.T1'], {}, 'missing'],
    ['no request yet', [script], { after_ms: 2999 }, 'awaited'],
    ['no request when the page has come to rest', [script], { after_ms: 3000 }, 'missing'],
    ['a word of another network’s call', [], { called: 'kelpie', after_ms: 500 }, 'awaited'],
    [
      'a word of another event’s call',
      [],
      { called: 'norrfeed', event: 'order.T9', after_ms: 500 },
      'awaited',
    ],
    ['a word of its own call', [], { called: 'norrfeed', after_ms: 500 }, 'called'],
    ['its request and a word', [script, hit], { called: 'norrfeed' }, 'sent'],
  ] as const)('says what became of a network: %s', (_, addresses, given, state) => {
    const { called, event, ...more } = { called: '', event: 'order.T1', ...given }
    const words = called
      ? [{ network: called, result: 'order', event_id: event, how: 'called' as const }]
      : []
    const [thanks] = read(
      [page('1', '/thanks', { requests: requests(...addresses), called: words, ...more })],
      [told('1', 'order')],
    )
    expect(thanks!.results[0]!.networks).toMatchObject(norrfeedAs({ state }))
  })
  it('knows a request by the event’s name where the network takes no ID', () => {
    const nameless = network('tag')
    nameless.code.requests!.parameters = { event: 'e' }
    const seen = (query: string) =>
      readTest(
        [page('1', '/thanks', { requests: requests(script, `https://tags.norrfeed.example/hit?${query}`) })],
        [told('1', 'order')],
        rules,
        [nameless],
        new Map(),
      )[0]!.results[0]!.networks[0]!.state
    expect([seen('e=purchase'), seen('e=basket'), seen('')]).toEqual(['sent', 'missing', 'missing'])
  })
  it('tells a network of no result that it has no name for', () => {
    const [thanks] = read([page('1', '/thanks')], [told('1', 'lead')])
    expect(thanks!.results[0]!.networks).toEqual([])
  })
  it('shows pages and what was told on them in the order of time, and nothing of other pages', () => {
    const pages = read(
      [page('2', '/kits'), page('1', '/booklet')],
      [
        told('1', 'lead', { id: 'later', at: T + 19_000, transaction: 'T3' }),
        told('1', 'lead', { id: 'sooner', at: T + 11_000, transaction: 'T2' }),
        told('2', 'lead', { transaction: 'T4' }),
        told('2', 'seen', { rule: null }),
      ],
    )
    expect(pages.map(p => [p.address, p.opened, p.title])).toEqual([
      ['https://tarnbrook.example/booklet', T + 10_000, '/booklet'],
      ['https://tarnbrook.example/kits', T + 20_000, '/kits'],
    ])
    expect(pages.map(p => p.results.map(r => r.event_id))).toEqual([['lead.T2', 'lead.T3'], ['lead.T4']])
  })
  it('waits for no rule of another page, nor for one that its address or a link sets off', () => {
    const more = [
      ...rules,
      ruleSchema.parse({ id: 'r3', result: 'out', when: { on: 'link_click' } }),
      ruleSchema.parse({ id: 'r4', result: 'own', when: { on: 'own_event', name: 'own' } }),
      ruleSchema.parse({ id: 'r5', result: 'read', when: { on: 'scroll', share: 90 } }),
      ruleSchema.parse({ id: 'r6', result: 'read', when: { on: 'engaged', seconds: 30 } }),
    ]
    const at = (path: string, events: TestedEvent[] = []) =>
      readTest([page('1', path)], events, more, [], new Map())[0]!
    expect(at('/booklet').waiting).toEqual(['lead', 'read'])
    expect(at('/thanks')).toMatchObject({ waiting: ['read'], missing: ['order'] })
    expect(at('/booklet', [told('1', 'read')]).waiting).toEqual(['lead'])
  })
  it('says each finding once, that of the source first', () => {
    const finding = {
      code: 'base_missing' as const,
      severity: 'error' as const,
      at: { line: 3 },
      network: 'norrfeed',
    }
    const [kits] = readTest(
      [page('1', '/kits', { requests: [] })],
      [],
      rules,
      [network('site')],
      new Map([['1', [finding]]]),
    )
    expect(kits!.findings).toEqual([finding])
    expect(readTest([page('1', '/kits')], [], rules, [], new Map([['2', [finding]]]))[0]!.findings).toEqual(
      [],
    )
  })
  it('reads addresses that are none, and says what went wrong on the page', () => {
    const errors = [{ said: 'nf is not defined', line: 3 }]
    const [thanks] = read(
      [page('1', '/thanks', { requests: requests('no address', script, hit), errors })],
      [told('1', 'order')],
    )
    expect(thanks).toMatchObject({ errors, results: [{ networks: [{ state: 'sent' }] }] })
  })
})
