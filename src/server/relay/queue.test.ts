import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { NetworkProfile } from '@/core/links/profile'
import { shippedProfiles } from '@/core/links/profiles'
import { DAY_MS } from '@/core/shared/days'
import { resultSchema } from '@/core/signals/result'
import { ruleSchema } from '@/core/signals/rule'
import type { Database } from '@/data/connect'
import { startTest } from '@/data/liveTests'
import { latestRelays } from '@/data/relays'
import { saveDefinition, saveRule, saveSlot } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, saveProfile } from '@/data/workspace'
import { storeArrivals } from '../drain/storeArrivals'
import { importFile } from '../import/importFile'
import { queueArrived } from './queue'

const NOW = Date.now()
const instant = (ago: number) => new Date(NOW - ago).toISOString()
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
const outgoing = (body: string) => ({
  method: 'POST' as const,
  address: 'https://n.example/e',
  headers: [],
  body,
})
const network = (id: string, more: Partial<NetworkProfile>): NetworkProfile => ({
  ...shippedProfiles.find(p => p.id === 'whyfold')!,
  id,
  name: id,
  relayed_since: instant(60 * 60_000),
  outgoing: outgoing('{event_id} {click_id} {test}'),
  ...more,
})
const tag = { base: '', event: "tell('{event}')", requests: undefined } as unknown as NetworkProfile['tag']
const networks = [
  network('all', {}),
  network('late', { relayed_since: instant(5 * 60_000) }),
  network('unslotted', {}),
  network('silent', { outgoing: undefined }),
  network('never', { relayed_since: undefined }),
  network('anybody', { outgoing: outgoing('{event_id} {test}') }),
  network('untested', { outgoing: outgoing('{event_id} {click_id}') }),
  network('by-site', { placed_by: 'site', tag }),
]

let database: Database
let stop: () => Promise<void>
const event = (id: string, ago: number, more: object = {}) => ({
  kind: 'event' as const,
  id,
  at: NOW - ago,
  workspace: 'w',
  from: '192.0.2.0',
  agent: AGENT,
  name: 'booklet',
  rule: 'r1',
  page: 'https://tarnbrook.example/thanks',
  ...more,
})
/** Everything arrives, and is queued, twice. */
async function arrive() {
  const workspace = (await findWorkspace(database, 'w'))!
  await storeArrivals(database, [
    event('event-of-all', 60_000, { click: 'k-all' }),
    event('event-before', 10 * 60_000, { click: 'k-late' }),
    event('event-bare', 60_000, { click: 'k-bare' }),
    event('event-by-site', 60_000, { click: 'k-by-site' }),
    event('event-with-transaction', 60_000, { click: 'k-by-site', transaction: 'T1' }),
    event('event-nameless', 60_000, { rule: undefined, click: 'k-all' }),
    event('event-of-a-program', 60_000, { agent: 'examplebot/1.0', click: 'k-all' }),
    event('event-unknown', 60_000, { name: 'nothing-known', rule: 'r2', click: 'k-all' }),
    event('event-valued', 60_000, { click: 'k-all', value: '7.50', currency: 'USD' }),
    event('event-tested', 1000, { click: 'k-all', test: 'test1', view: 'view-0001' }),
    event('event-tested-no-rule', 1000, { rule: undefined, test: 'test1', view: 'view-0001' }),
  ])
  const order = (id: string, ago: number, status: string) =>
    `${id},${instant(ago)},${status},EUR,50.00,10.00,k-all`
  await importFile(
    database,
    workspace,
    'orders',
    `order_id,ordered_at,status,currency,total,refunded,click_id\n${[
      order('paid', 60_000, 'paid'),
      order('part', 60_000, 'partially_refunded'),
      order('gone', 60_000, 'cancelled'),
      order('back', 60_000, 'refunded'),
      order('trial', 60_000, 'test'),
      order('old', 8 * DAY_MS, 'paid'),
    ].join('\n')}\n`,
  )
  for (let i = 0; i < 2; i++) await queueArrived(database, 'w', NOW)
  return latestRelays(database, 'w', 10_000)
}

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  for (const profile of networks) await saveProfile(database, 'w', profile)
  for (const result of ['booklet', 'nothing-known'])
    await saveRule(
      database,
      'w',
      ruleSchema.parse({ id: result === 'booklet' ? 'r1' : 'r2', result, when: { on: 'page' } }),
    )
  const definition = { currency: 'EUR', count: 'every' }
  for (const own of [
    { ...definition, id: 'booklet', name: 'Booklet', kind: 'lead', value: { by: 'fixed', amount: 300 } },
    { ...definition, id: 'order', name: 'Order', kind: 'order', value: { by: 'event' } },
  ])
    await saveDefinition(database, 'w', resultSchema.parse(own))
  for (const { id } of networks)
    if (id !== 'unslotted')
      for (const result of ['booklet', 'order']) await saveSlot(database, 'w', id, result, `${id}-${result}`)
  const workspace = (await findWorkspace(database, 'w'))!
  await importFile(
    database,
    workspace,
    'clicks',
    `click_id,clicked_at,network,network_click_id\n${networks.map(({ id }) => `k-${id},${instant(600_000)},${id},n-${id}`).join('\n')}\nk-bare,${instant(600_000)},all,\n`,
  )
  await startTest(database, {
    workspace: 'w',
    token: 'test1',
    address: 'https://tarnbrook.example/',
    started_at: new Date(NOW),
  })
})
afterAll(() => stop())

const others = { anybody: 'waiting', late: 'no_click', untested: 'no_click' }
describe('what networks are to hear', () => {
  it('is of each event and order what is theirs, once, with what it is worth', async () => {
    const relays = await arrive()
    const states: Record<string, Record<string, string>> = {}
    for (const { event_id, network, state } of relays)
      states[event_id] = { ...states[event_id], [network]: state }
    // Nothing is told of what no rule told, of programs, of no result, of tests without a rule, of orders
    // that do not count, or of a week ago.
    expect(states).toEqual({
      'event-of-all': { ...others, all: 'waiting' },
      // One network was to be told of nothing so early; the site's own code tells another.
      'event-before': { all: 'no_click', anybody: 'waiting', untested: 'no_click' },
      // The click has no ID of the network.
      'event-bare': { ...others, all: 'no_click' },
      'event-by-site': { ...others, all: 'no_click' },
      // By a transaction both tell the same.
      'booklet.T1': { ...others, all: 'no_click', 'by-site': 'waiting' },
      'event-valued': { ...others, all: 'waiting' },
      'event-tested': { all: 'waiting', anybody: 'waiting', late: 'waiting', untested: 'held_back' },
      'order.paid': { ...others, all: 'waiting', 'by-site': 'no_click' },
      'order.part': { ...others, all: 'waiting', 'by-site': 'no_click' },
    })
    const factsOf = (of: string, id: string) => relays.find(r => r.event_id === id && r.network === of)!.facts
    expect(factsOf('all', 'event-of-all')).toEqual({
      event: 'all-booklet',
      event_id: 'event-of-all',
      transaction: '',
      // What nobody said is the usual worth.
      value: '3.00',
      currency: 'EUR',
      click_id: 'n-all',
      page: 'https://tarnbrook.example/thanks',
      at: instant(60_000),
      at_seconds: String(Math.floor((NOW - 60_000) / 1000)),
      test: '',
    })
    expect(factsOf('all', 'event-valued')).toMatchObject({ value: '7.50', currency: 'USD' })
    expect(factsOf('anybody', 'event-of-all')).toMatchObject({ click_id: '', event: 'anybody-booklet' })
    expect(factsOf('all', 'event-tested')).toMatchObject({ test: 'yes' })
    expect(factsOf('all', 'order.paid')).toMatchObject({
      event: 'all-order',
      transaction: 'paid',
      value: '40.00',
      currency: 'EUR',
      page: '',
    })
  })
})
