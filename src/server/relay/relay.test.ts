import { createServer, type IncomingMessage } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { settingsSchema } from '@/core/intake/settings'
import type { NetworkProfile } from '@/core/links/profile'
import { shippedProfiles } from '@/core/links/profiles'
import { resultSchema } from '@/core/signals/result'
import { ruleSchema } from '@/core/signals/rule'
import { findClicks } from '@/data/arrivals'
import type { Database } from '@/data/connect'
import { startTest } from '@/data/liveTests'
import { latestRelays, relayedAs, retryRelays, saveRelaySecret } from '@/data/relays'
import { saveDefinition, saveRule, saveSlot } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { createWorkspace, findWorkspace, listProfiles, saveProfile } from '@/data/workspace'
import { storeArrivals } from '../drain/storeArrivals'
import { importFile } from '../import/importFile'
import { describeNetworks, keepNetwork } from '../signals/networks'
import { queueArrived } from './queue'
import { relayOnce, secondsToWait, sendDue } from './send'

let database: Database
let stop: () => Promise<void>
const heard: { body: string; key: string | undefined; url: string | undefined }[] = []
let answers: (number | { status: number; after: string })[] = []
const network = createServer(async (request: IncomingMessage, response) => {
  let body = ''
  for await (const chunk of request) body += chunk
  heard.push({ body, key: request.headers['x-key'] as string | undefined, url: request.url })
  const given = answers.shift() ?? 200
  const { status, after } = typeof given === 'number' ? { status: given, after: null } : given
  response.writeHead(status, after ? { 'retry-after': after } : {}).end('{"outcome":"claimed"}')
})
const SECRET = 'a-secret-nobody-sees'
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
const environment = { ...process.env }

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  await new Promise<void>(done => network.listen(0, '127.0.0.1', done))
  const { port } = network.address() as AddressInfo
  process.env.AEQUANT_PRACTICE = 'yes'
  process.env.PRACTICE_PORT = String(port)
  await createWorkspace(database, 'main', 'Main', settingsSchema.parse({}), shippedProfiles)
  // The shop sends its orders; of booklets its pages alone tell.
  for (const [id, kind] of [
    ['order', 'order'],
    ['booklet', 'lead'],
  ]) {
    const own = { id, name: id, kind, currency: 'EUR', value: { by: 'event' }, count: 'every' }
    await saveDefinition(database, 'main', resultSchema.parse(own))
    await saveSlot(database, 'main', 'whyfold', id!, 'bought')
    await saveRule(database, 'main', ruleSchema.parse({ id: `of-${id}`, result: id, when: { on: 'page' } }))
  }
  await saveProfile(database, 'main', {
    ...shippedProfiles.find(p => p.id === 'whyfold')!,
    account: 'wf1',
    relayed_since: new Date(Date.now() - 3_600_000).toISOString(),
    outgoing: {
      method: 'POST',
      address: `http://whyfold.localhost:${port}/e`,
      headers: [
        { name: 'content-type', value: 'application/json' },
        { name: 'x-key', value: '{secret}' },
      ],
      body: '{ "e": "{event}", "id": "{event_id}", "click": "{click_id}", "v": {value}, "test": "{test}" }',
    },
  })
  await saveRelaySecret(database, 'main', 'whyfold', SECRET)
  const workspace = (await findWorkspace(database, 'main'))!
  const at = new Date(Date.now() - 600_000).toISOString()
  await importFile(
    database,
    workspace,
    'clicks',
    `click_id,clicked_at,network,network_click_id\nk1,${at},whyfold,wf-click\nk2,${at},kelpie,kp-click\n`,
  )
})
afterAll(async () => {
  Object.assign(process.env, environment)
  network.close()
  await stop()
})
beforeEach(() => {
  heard.length = 0
  answers = []
})

const setupOf = ({
  id,
  account,
  outgoing,
  placed_by,
  relayed_since,
  confirmed_within_days,
  tag,
}: NetworkProfile) => ({
  id,
  confirmed_within_days,
  account,
  outgoing,
  placed_by,
  relayed_since,
  tag,
  slots: { standard: [], generic: [] },
})
const event = (id: string, transaction: string, click: string | null, more: object = {}) => ({
  kind: 'event' as const,
  id,
  at: Date.now(),
  workspace: 'main',
  from: '192.0.2.0',
  agent: AGENT,
  name: 'booklet',
  rule: 'of-booklet',
  page: 'https://tarnbrook.example/thanks',
  transaction,
  click,
  value: '149.00',
  currency: 'EUR',
  ...more,
})
/** A browser's word of an order. */
const sign = (id: string, transaction: string, click: string | null, more: object = {}) =>
  event(id, transaction, click, { name: 'order', rule: 'of-order', ...more })
const order = async (id: string, click: string) =>
  importFile(
    database,
    (await findWorkspace(database, 'main'))!,
    'orders',
    `order_id,ordered_at,status,currency,total,click_id\n${id},${new Date().toISOString()},paid,EUR,149.00,${click}\n`,
  )
const stateOf = async (transaction: string) =>
  (await latestRelays(database, 'main', 100)).find(r => r.event_id.endsWith(`.${transaction}`))

describe('the relay', () => {
  it('tells a network once of what browser, shop and reloads tell, with its own click ID', async () => {
    await storeArrivals(database, [sign('event-r1', 'R1', 'k1'), sign('event-r1-again', 'R1', 'k1')])
    await order('R1', 'k1')
    for (let i = 0; i < 3; i++) await queueArrived(database, 'main', Date.now())
    await sendDue(database)
    await sendDue(database)
    expect(heard.map(h => JSON.parse(h.body))).toEqual([
      { e: 'bought', id: 'order.R1', click: 'wf-click', v: 149, test: '' },
    ])
    expect(heard[0]!.key).toBe(SECRET)
    expect(await stateOf('R1')).toMatchObject({ state: 'taken', tries: [{ status: 200 }] })
  })
  it('tells of an order that no browser told of', async () => {
    await order('R2', 'k1')
    await queueArrived(database, 'main', Date.now())
    await sendDue(database)
    expect(heard.map(h => JSON.parse(h.body).id)).toEqual(['order.R2'])
  })
  it('tells nobody of shoppers who did not come by a click of theirs', async () => {
    await storeArrivals(database, [event('event-r3', 'R3', 'k2'), event('event-r4', 'R4', null)])
    await queueArrived(database, 'main', Date.now())
    await sendDue(database)
    expect(heard).toEqual([])
    expect([(await stateOf('R3'))!.state, (await stateOf('R4'))!.state]).toEqual(['no_click', 'no_click'])
  })
  it('tries again later what failed, and not what was refused, until somebody asks for it', async () => {
    await storeArrivals(database, [event('event-r5', 'R5', 'k1')])
    await queueArrived(database, 'main', Date.now())
    answers = [503]
    await sendDue(database)
    const waiting = (await stateOf('R5'))!
    expect(waiting).toMatchObject({ state: 'waiting', tries: [{ status: 503 }] })
    expect(waiting.next_at.getTime()).toBeGreaterThan(Date.now() + 5000)
    expect(await sendDue(database)).toBe(0)

    await storeArrivals(database, [event('event-r6', 'R6', 'k1')])
    await queueArrived(database, 'main', Date.now())
    answers = [401]
    await sendDue(database)
    expect((await stateOf('R6'))!.state).toBe('refused')
    await retryRelays(database, 'main', 'whyfold')
    await sendDue(database)
    expect((await stateOf('R6'))!.state).toBe('taken')
  })
  it('waits as long as the network asks', async () => {
    await storeArrivals(database, [event('event-r17', 'R17', 'k1')])
    await queueArrived(database, 'main', Date.now())
    answers = [{ status: 429, after: '7200' }]
    const before = Date.now()
    await sendDue(database)
    const { state, next_at } = (await stateOf('R17'))!
    expect(state).toBe('waiting')
    expect(next_at.getTime()).toBeGreaterThanOrEqual(before + 7_200_000)
    expect(next_at.getTime()).toBeLessThan(before + 9_000_000)
  })
  it.each([
    ['120', 120],
    [' 5 ', 5],
    ['Thu, 26 Nov 2026 10:01:00 GMT', 60],
    ['Thu, 26 Nov 2026 09:00:00 GMT', 0],
    ['soon', null],
    ['', null],
    [undefined, null],
  ])('reads from Retry-After %j how long: %s', (header, seconds) => {
    expect(secondsToWait(header, Date.UTC(2026, 10, 26, 10))).toBe(seconds)
  })
  it('marks what belongs to a live test, which counts nowhere', async () => {
    await startTest(database, {
      workspace: 'main',
      token: 'test1',
      address: 'https://tarnbrook.example/',
      started_at: new Date(),
    })
    await order('R7', 'k1')
    await storeArrivals(database, [sign('event-r7', 'R7', 'k1', { test: 'test1', view: 'view-0001' })])
    await queueArrived(database, 'main', Date.now())
    await sendDue(database)
    expect(heard.map(h => JSON.parse(h.body))).toMatchObject([{ id: 'order.R7', test: 'yes' }])
    const { rows } = await database.execute(
      `select (select count(*)::int from events where transaction_id = 'R7') as events, status from orders where order_id = 'R7'`,
    )
    expect(rows).toEqual([{ events: 0, status: 'test' }])
    // Imported again, it stays a test.
    await order('R7', 'k1')
    const again = await database.execute(`select status from orders where order_id = 'R7'`)
    expect(again.rows).toEqual([{ status: 'test' }])
  })
  it('sends all that is due, and looks for more only once more has arrived', async () => {
    const ids = Array.from({ length: 45 }, (_, i) => `M${i}`)
    await storeArrivals(
      database,
      ids.map(id => event(`event-${id}`, id, 'k1')),
    )
    const first = await relayOnce(database, 'main', '')
    expect(heard.map(h => JSON.parse(h.body).id).sort()).toEqual(ids.map(id => `booklet.${id}`).sort())
    expect(first.pause).toBeGreaterThanOrEqual(500)
    const again = await relayOnce(database, 'main', first.seen)
    expect([again.seen, again.pause, heard.length]).toEqual([first.seen, 500, 45])
    await storeArrivals(database, [event('event-m-more', 'M-more', 'k1')])
    const more = await relayOnce(database, 'main', again.seen)
    expect(more.seen).not.toBe(again.seen)
    expect(heard).toHaveLength(46)
  })
  it.each([
    ['S1', 'https://nobody.invalid/e', 'nobody.invalid cannot be found.'],
    ['S2', 'http://whyfold.localhost:1/e', 'whyfold.localhost:1: connect ECONNREFUSED'],
    ['S3', null, 'The network has no outgoing request any more.'],
  ])('says why nothing could be sent: %s to %s', async (transaction, address, said) => {
    const whyfold = (await listProfiles(database, 'main')).find(p => p.id === 'whyfold')!
    await storeArrivals(database, [event(`event-${transaction}`, transaction, 'k1')])
    await queueArrived(database, 'main', Date.now())
    await saveProfile(database, 'main', {
      ...whyfold,
      outgoing: address === null ? undefined : { ...whyfold.outgoing!, address },
    })
    const { PRACTICE_PORT } = process.env
    process.env.PRACTICE_PORT = '1'
    await sendDue(database)
    Object.assign(process.env, { PRACTICE_PORT })
    await saveProfile(database, 'main', whyfold)
    const told = (await stateOf(transaction))!
    expect(told).toMatchObject({
      state: 'waiting',
      tries: [{ status: null, said: expect.stringContaining(said) }],
    })
  })
  it.each([
    [200, 'taken'],
    [204, 'taken'],
    [302, 'refused'],
    [400, 'refused'],
    [408, 'waiting'],
    [425, 'waiting'],
    [429, 'waiting'],
    [500, 'waiting'],
  ])('takes %i for %s, and asks for the whole address', async (status, state) => {
    const whyfold = (await listProfiles(database, 'main')).find(p => p.id === 'whyfold')!
    const outgoing = { ...whyfold.outgoing!, address: `${whyfold.outgoing!.address}?of={event}` }
    await saveProfile(database, 'main', { ...whyfold, outgoing })
    await storeArrivals(database, [event(`event-a${status}`, `A${status}`, 'k1')])
    await queueArrived(database, 'main', Date.now())
    answers = [status]
    await sendDue(database)
    await saveProfile(database, 'main', whyfold)
    expect(heard.map(h => h.url)).toEqual(['/e?of=bought'])
    expect(await stateOf(`A${status}`)).toMatchObject({
      state,
      tries: [{ status, said: status === 204 ? '' : '{"outcome":"claimed"}' }],
    })
  })
  it('shows its secret nowhere', async () => {
    const shown = JSON.stringify([
      await describeNetworks(database, 'main'),
      await latestRelays(database, 'main', 100),
    ])
    expect(shown).not.toContain(SECRET)
    expect(shown).toContain('{secret}')
  })
  it('counts what cannot be sent at all as a try, and shows why without the secret', async () => {
    const whyfold = (await listProfiles(database, 'main')).find(p => p.id === 'whyfold')!
    const headers = [{ name: 'x-key', value: 'two\nlines {secret}' }]
    await saveProfile(database, 'main', { ...whyfold, outgoing: { ...whyfold.outgoing!, headers } })
    await storeArrivals(database, [event('event-r9', 'R9', 'k1')])
    await queueArrived(database, 'main', Date.now())
    expect(await sendDue(database)).toBe(1)
    const [one] = (await stateOf('R9'))!.tries
    expect(one).toMatchObject({ status: null, said: expect.stringContaining('cannot be sent') })
    expect(one!.said).not.toContain(SECRET)
    await saveProfile(database, 'main', whyfold)
    expect(
      await keepNetwork(
        database,
        'main',
        { ...setupOf(whyfold), outgoing: { ...whyfold.outgoing!, headers } },
        null,
      ),
    ).toContain('line break')
  })
  it('asks for as many at once as a file may bring', async () => {
    const many = Array.from({ length: 70_000 }, (_, i) => `T${i}`)
    expect(await relayedAs(database, 'main', many)).toEqual(new Map())
    expect((await findClicks(database, 'main', [...many, 'k1'])).map(c => c.click_id)).toEqual(['k1'])
    // A day of the year 10889 stands in this ID.
    expect(await findClicks(database, 'main', ['ffffffff-ffff-7fff-bfff-ffffffffffff'])).toEqual([])
  })
  it('goes through everything that arrived at one instant, page by page', async () => {
    await database.execute(`insert into orders (workspace, order_id, ordered_at, status, result, currency, total, tax, shipping, refunded, click_id, revision)
      select 'main', 'P' || g, now(), 'paid', 'order', 'EUR', 100, 0, 0, 0, 'k2', (select version + 1 from workspaces where id = 'main') from generate_series(1, 4500) g`)
    await queueArrived(database, 'main', Date.now())
    const { rows } = await database.execute(
      `select count(*)::int as n from relays where network = 'whyfold' and event_id like 'order.P%'`,
    )
    expect(rows).toEqual([{ n: 4500 }])
  })
  it('sends nothing into the network that it stands in', async () => {
    const profile = shippedProfiles.find(p => p.id === 'kelpie')!
    await saveSlot(database, 'main', 'kelpie', 'booklet', 'purchase')
    await saveProfile(database, 'main', {
      ...profile,
      account: 'k',
      relayed_since: new Date(Date.now() - 3_600_000).toISOString(),
      outgoing: {
        method: 'POST',
        address: 'http://127.0.0.1:1/e',
        headers: [],
        body: '{event_id}{click_id}',
      },
    })
    await storeArrivals(database, [event('event-r8', 'R8', 'k2')])
    await queueArrived(database, 'main', Date.now())
    await sendDue(database)
    const told = (await latestRelays(database, 'main', 100)).find(
      r => r.network === 'kelpie' && r.event_id === 'booklet.R8',
    )
    expect(told!.tries[0]).toMatchObject({
      status: null,
      said: expect.stringContaining('not on the public internet'),
    })
  })

  describe('where the shop tells of its orders', () => {
    /** What networks heard of some transactions; what was refused before may be due again meanwhile. */
    const told = (...of: string[]) =>
      heard.map(h => JSON.parse(h.body)).filter(one => of.some(t => one.id.endsWith(`.${t}`)))
    it('sends nothing that a browser alone tells, and the order once the shop has sent it', async () => {
      await storeArrivals(database, [sign('event-u1', 'U1', 'k1', { value: '99999.00' })])
      await queueArrived(database, 'main', Date.now())
      await sendDue(database)
      expect(told('U1')).toEqual([])
      expect((await stateOf('U1'))!.state).toBe('unconfirmed')
      await order('U1', '')
      await queueArrived(database, 'main', Date.now())
      await sendDue(database)
      // Its amount is the shop's, its click the browser's.
      expect(told('U1')).toMatchObject([{ id: 'order.U1', v: 149, click: 'wf-click' }])
    })
    it('tells of an order whose browser speaks after the shop', async () => {
      await order('U2', '')
      await queueArrived(database, 'main', Date.now())
      expect((await stateOf('U2'))!.state).toBe('no_click')
      await storeArrivals(database, [sign('event-u2', 'U2', 'k1')])
      await queueArrived(database, 'main', Date.now())
      await sendDue(database)
      expect(told('U2')).toMatchObject([{ id: 'order.U2', v: 149, click: 'wf-click' }])
    })
    it('does not credit an order to the click of somebody who named its number in advance', async () => {
      const early = Date.now() - 3_600_000
      await storeArrivals(database, [sign('event-u3', 'U3', 'k1', { at: early, value: '500.00' })])
      await order('U3', '')
      await queueArrived(database, 'main', Date.now())
      await sendDue(database)
      expect(told('U3')).toEqual([])
      expect((await stateOf('U3'))!.state).toBe('no_click')
    })
    it('corrects what it told, where the network has a place for it', async () => {
      const whyfold = (await listProfiles(database, 'main')).find(p => p.id === 'whyfold')!
      const { outgoing } = whyfold
      const body = outgoing!.body.replace('{ ', '{ "c": "{correction}", ')
      const change = async (status: string, refunded: string) => {
        const columns = 'order_id,ordered_at,status,currency,total,refunded,click_id'
        const row = `U4,${at},${status},EUR,149.00,${refunded},k1`
        await importFile(database, (await findWorkspace(database, 'main'))!, 'orders', `${columns}\n${row}\n`)
        await queueArrived(database, 'main', Date.now())
        await sendDue(database)
      }
      const at = new Date().toISOString()
      await change('paid', '0')
      await change('partially_refunded', '49.00')
      expect(told('U4')).toMatchObject([{ id: 'order.U4', v: 149 }])
      await saveProfile(database, 'main', { ...whyfold, outgoing: { ...outgoing!, body } })
      heard.length = 0
      await change('partially_refunded', '59.00')
      await change('partially_refunded', '59.00')
      await change('cancelled', '149.00')
      await saveProfile(database, 'main', whyfold)
      expect(told('U4')).toMatchObject([
        { id: 'order.U4', v: 90, c: 'changed' },
        { id: 'order.U4', v: 0, c: 'cancelled' },
      ])
    })
    it.each([-5, 5])('loses nothing where its clock is %d minutes off the database’s', async minutes => {
      const ids = [`V${minutes}a`, `V${minutes}b`]
      const here = () => Date.now() + minutes * 60_000
      await storeArrivals(database, [event(`event-${ids[0]}`, ids[0]!, 'k1')])
      await queueArrived(database, 'main', here())
      await order(ids[1]!, 'k1')
      await queueArrived(database, 'main', here())
      await sendDue(database)
      expect(told(...ids).map(t => t.id)).toEqual([`booklet.${ids[0]}`, `order.${ids[1]}`])
    })
  })
})
