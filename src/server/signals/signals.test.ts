import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { shippedProfiles } from '@/core/links/profiles'
import { DAY_MS, HOUR_MS } from '@/core/shared/days'
import { checkWrittenPage } from '@/core/signals/pageCheck'
import { resultSchema } from '@/core/signals/result'
import { ruleSchema } from '@/core/signals/rule'
import type { Database } from '@/data/connect'
import { saveDefinition, saveRule, saveSlot } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, saveProfile, type Workspace } from '@/data/workspace'
import { readPage } from '@/formats/html'
import { whereWords } from '@/ui/signals/ruleWords'
import { storeArrivals } from '../drain/storeArrivals'
import { NotFetched } from '../hop'
import { importFile } from '../import/importFile'
import { fetchPage } from './fetchPage'
import { describeHandOff, pageSpecOf, writeHandOff } from './handOff'
import { describeResults, previewResult } from './results'
import { tryRule } from './rules'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace
const now = Date.UTC(2026, 10, 20, 15)
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'

const event = (id: string, name: string, hoursAgo: number, more: object = {}) => ({
  kind: 'event' as const,
  id,
  at: now - hoursAgo * HOUR_MS,
  workspace: 'w',
  from: '192.0.2.0',
  agent: AGENT,
  name,
  page: 'https://tarnbrook.example/thanks',
  ...more,
})
const order = resultSchema.parse({
  id: 'order',
  name: 'Order',
  kind: 'order',
  currency: 'EUR',
  value: { by: 'event' },
  count: 'every',
  click_window_days: 30,
  view_window_days: 0,
  credit: 'last_click',
})
const lead = resultSchema.parse({
  ...order,
  id: 'lead',
  name: 'Lead',
  kind: 'lead',
  value: { by: 'fixed', amount: 300 },
  count: 'once',
})
const thanks = ruleSchema.parse({
  id: 'r1',
  result: 'order',
  when: { on: 'page' },
  where: { any: [{ by: 'equals', text: '/thanks' }] },
})

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  workspace = (await findWorkspace(database, 'w'))!
  for (const definition of [order, lead]) await saveDefinition(database, 'w', definition)
  await saveRule(database, 'w', thanks)
  for (const [id, result] of [
    ['r2', 'lead'],
    ['r3', 'call'],
  ])
    await saveRule(database, 'w', ruleSchema.parse({ id, result, when: { on: 'page' } }))
  const at = (hours: number) => new Date(now - hours * HOUR_MS).toISOString()
  await importFile(
    database,
    workspace,
    'orders',
    `order_id,ordered_at,status,currency,total,refunded,customer_id\nT1,${at(5)},paid,EUR,100.00,,u1\nT2,${at(30)},partially_refunded,EUR,80.00,30.00,u1\nT3,${at(6)},cancelled,EUR,70.00,,u2\n`,
  )
  await storeArrivals(database, [
    event('event-one', 'order', 5, { rule: 'r1', transaction: 'T1', value: '100.00', currency: 'EUR' }),
    event('event-two', 'order', 4, { rule: 'r1', transaction: 'T1', value: '100.00', currency: 'EUR' }),
    event('event-own', 'order', 3, { transaction: 'T9', value: '999.00', currency: 'EUR' }),
    event('event-bot', 'order', 2, {
      rule: 'r1',
      transaction: 'T8',
      value: '50.00',
      agent: 'SomeBot/1.0 (crawler)',
    }),
    event('lead-one', 'lead', 9, { rule: 'r2', visitor: 'v1' }),
    event('lead-two', 'lead', 8, { rule: 'r2', visitor: 'v1' }),
    event('page-one', 'page', 7),
    event('page-two', 'page', 7, { page: 'https://tarnbrook.example/kits' }),
  ])
  const claims = Array.from(
    { length: 120 },
    (_, i) => `${at(30 + i * 3)},norrfeed,a1,purchase,click,N${i},10.00,EUR`,
  )
  await importFile(
    database,
    workspace,
    'claim-rows',
    `claimed_at,network,ad_id,conversion,kind,transaction_id,value,currency\n${claims.join('\n')}\n`,
  )
})
afterAll(() => stop())

describe('what results counted', () => {
  it('is the orders that count less refunds, and what rules told; a transaction once, programs and own events not', async () => {
    expect(await previewResult(database, workspace, order, now)).toEqual({
      results: 2,
      worth: 15000,
      byAds: 0,
      leftOut: { same_transaction: 2, does_not_count: 1 },
    })
    expect(await previewResult(database, workspace, lead, now)).toEqual({
      results: 1,
      worth: 300,
      byAds: 0,
      leftOut: { once_per_click: 1 },
    })
  })
  it('changes with the definition before anything is kept', async () => {
    expect(await previewResult(database, workspace, { ...order, minimum: 6000 }, now)).toMatchObject({
      results: 1,
      worth: 10000,
    })
    expect(await previewResult(database, workspace, { ...lead, count: 'every' }, now)).toMatchObject({
      results: 2,
      worth: 600,
    })
  })
  it('is only what came by the networks and campaigns that it is for, and says how many came by ads in time', async () => {
    const clicked = (hoursAgo: number) => new Date(now - hoursAgo * HOUR_MS).toISOString()
    await importFile(
      database,
      workspace,
      'clicks',
      `click_id,clicked_at,network,campaign_id\nk1,${clicked(40)},norrfeed,c1\nk2,${clicked(30)},kelpie,c7\n`,
    )
    await storeArrivals(database, [
      event('call-one', 'call', 9, { rule: 'r3', click: 'k1' }),
      event('call-two', 'call', 8, { rule: 'r3', click: 'k2' }),
      event('call-any', 'call', 7, { rule: 'r3', visitor: 'v9' }),
    ])
    const call = { ...lead, id: 'call', name: 'Call' }
    const counted = async (of: object) => {
      const { results, byAds, leftOut } = await previewResult(database, workspace, { ...call, ...of }, now)
      return [results, byAds, leftOut.not_for_it ?? 0]
    }
    expect(await counted({})).toEqual([3, 2, 0])
    expect(await counted({ click_window_days: 1 })).toEqual([3, 1, 0])
    expect(await counted({ networks: ['norrfeed'] })).toEqual([1, 1, 2])
    expect(await counted({ campaigns: ['kelpie/c7'] })).toEqual([1, 1, 2])
    expect(await counted({ networks: ['norrfeed'], campaigns: ['kelpie/c7'] })).toEqual([2, 2, 1])
  })
  it('is held against the shop’s word first: what was cancelled, refunded or a test is no result, whoever told it', async () => {
    const before = await previewResult(database, workspace, order, now)
    const day = new Date(now - 20 * HOUR_MS).toISOString()
    const rows = ['cancelled', 'refunded', 'test', 'paid'].map(
      s => `X-${s},${day},${s},EUR,123.00,23.00,5.00`,
    )
    await importFile(
      database,
      workspace,
      'orders',
      `order_id,ordered_at,status,currency,total,tax,shipping\n${rows.join('\n')}\n`,
    )
    await storeArrivals(
      database,
      // Told before the shop booked it, and with another amount.
      ['cancelled', 'refunded', 'test', 'paid'].map(s =>
        event(`told-of-${s}`, 'order', 21, { rule: 'r1', transaction: `X-${s}`, value: '999.00' }),
      ),
    )
    const after = await previewResult(database, workspace, order, now)
    expect([after.results - before.results, after.worth - before.worth]).toEqual([1, 12300])
    expect(after.leftOut.does_not_count! - before.leftOut.does_not_count!).toBe(6)
    const net = { ...workspace, settings: { ...workspace.settings, order_value: 'net' as const } }
    expect((await previewResult(database, net, order, now)).worth - before.worth).toBe(9500)
    await database.execute(`delete from orders where order_id like 'X-%'`)
    await database.execute(`delete from events where transaction_id like 'X-%'`)
  })
  it('is mapped onto networks’ slots: what is not mapped, shared, or silent while the network reports is said', async () => {
    expect((await describeResults(database, workspace, now)).unmapped).toEqual([
      { network: 'norrfeed', conversion: 'purchase' },
    ])
    await saveSlot(database, 'w', 'norrfeed', 'order', 'purchase')
    await saveSlot(database, 'w', 'norrfeed', 'lead', 'purchase')
    const cell = async (result: string) =>
      (await describeResults(database, workspace, now)).results
        .find(r => r.definition.id === result)!
        .cells.find(c => c.receiver === 'norrfeed')!
    // No report of the network reaches beyond its last claim: that is no silence.
    expect(await cell('order')).toMatchObject({
      by: 'purchase',
      shares: ['Lead'],
      reading: { pulse: 'live' },
    })
    const day = new Date(now - DAY_MS / 2).toISOString().slice(0, 10)
    await importFile(
      database,
      workspace,
      'delivery',
      `date,network,campaign_id,currency,spend\n${day},norrfeed,c1,EUR,5.00\n`,
    )
    expect(await cell('order')).toMatchObject({ reading: { pulse: 'quiet' } })
  })
  it('is heard of a network that sums its claims by the day, and silent once it reports days without any', async () => {
    await saveSlot(database, 'w', 'mothwire', 'order', 'sale')
    const dayBefore = (days: number) => new Date(now - days * DAY_MS).toISOString().slice(0, 10)
    const report = (days: number) =>
      importFile(
        database,
        workspace,
        'delivery',
        `date,network,campaign_id,currency,spend\n${dayBefore(days)},mothwire,c1,EUR,5.00\n`,
      )
    const sums = Array.from({ length: 25 }, (_, i) => `${dayBefore(4 + i)},mothwire,a1,sale,3,1,40.00,EUR`)
    await importFile(
      database,
      workspace,
      'claims',
      `date,network,ad_id,conversion,click_through,view_through,value,currency\n${sums.join('\n')}\n`,
    )
    const reading = async () =>
      (await describeResults(database, workspace, now)).results
        .find(r => r.definition.id === 'order')!
        .cells.find(c => c.receiver === 'mothwire')!.reading
    await report(4)
    expect(await reading()).toMatchObject({ pulse: 'live', seen: 4, repeats: 0 })
    // However many a day has: the end of a day on which some came is no silence.
    const many = Array.from({ length: 25 }, (_, i) => `${dayBefore(4 + i)},mothwire,a2,sale,12,0,40.00,EUR`)
    await importFile(
      database,
      workspace,
      'claims',
      `date,network,ad_id,conversion,click_through,view_through,value,currency\n${many.join('\n')}\n`,
    )
    expect(await reading()).toMatchObject({ pulse: 'live', seen: 16 })
    await report(1)
    const silent = await reading()
    expect(silent.pulse).toBe('quiet')
    expect(silent.expected).toBeGreaterThan(8)
    expect(new Date(silent.since!).toISOString().slice(0, 10)).toBe(dayBefore(4))
  })
  it('is silent only when who tells it at once says nothing: a shop fed by files is not gone, one that sends its orders is', async () => {
    await saveDefinition(database, 'w', { ...order, id: 'store_order', name: 'Order in the store' })
    const days = Array.from({ length: 90 }, (_, i) => new Date(now - (100 + i * 8) * HOUR_MS).toISOString())
    const rows = days.map((at, i) => `F${i},${at},paid,EUR,40.00,store_order`)
    await importFile(
      database,
      workspace,
      'orders',
      `order_id,ordered_at,status,currency,total,result\n${rows.join('\n')}\n`,
    )
    const pulse = async () =>
      (await describeResults(database, workspace, now)).results
        .find(r => r.definition.id === 'store_order')!
        .cells.find(c => c.receiver === 'Aequant')!.reading.pulse
    expect(await pulse()).toBe('live')

    await database.execute(`update orders set changed_at = ordered_at where order_id like 'F%'`)
    expect(await pulse()).toBe('quiet')
  })
})

describe('rules and the hand-off', () => {
  it('tries a rule on the pages that were seen, and on addresses typed in', async () => {
    const tried = await tryRule(
      database,
      'w',
      thanks,
      'https://tarnbrook.example',
      ['https://tarnbrook.example/thanks?x=1'],
      now,
    )
    expect(tried).toMatchObject({ seen: 3, matches: 2, findings: [] })
  })
  it('is a sheet by which a page passes the check, with our account and slots', async () => {
    const norrfeed = shippedProfiles.find(p => p.id === 'norrfeed')!
    const base = "<script>nf('start','{account}')</script>"
    await saveProfile(database, 'w', {
      ...norrfeed,
      account: 'nf-1',
      tag: { base, event: "nf('event','{event}',{value:{value},id:'{transaction}'})" },
    })
    const handOff = await describeHandOff(database, 'w')
    const sheet = writeHandOff(handOff, whereWords)
    expect(sheet).toContain("nf('start','nf-1')")
    expect(sheet).toContain('Only on pages whose address is /thanks')
    const norrfeedCode = handOff.networks.find(n => n.id === 'norrfeed')!
    const call = norrfeedCode.events
      .find(e => e.result === 'Order')!
      .code.replace('{value}', '10.00')
      .replace('{transaction}', 'T1')
    const page = `<html><head>${handOff.tag}${norrfeedCode.base}</head><body><script>${call}</script></body></html>`
    const check = async (html: string, address: string) =>
      checkWrittenPage(await pageSpecOf(database, 'w', address), readPage(html)).map(f => f.code)
    expect(await check(page, 'https://tarnbrook.example/thanks')).toEqual([])
    expect(await check(page, 'https://tarnbrook.example/kits')).toEqual(['event_wrong_page'])
    expect(
      await check(page.replace('data-site="', 'data-site="x'), 'https://tarnbrook.example/thanks'),
    ).toEqual(['wrong_account'])
  })
})

describe('fetching a page', () => {
  const server = createServer((request, response) => {
    const to = (location: string) => response.writeHead(302, { location }).end()
    if (request.url === '/loop') return to('/loop')
    if (request.url === '/inside') return to('http://192.168.0.1/admin')
    if (request.url === '/elsewhere') return to('ftp://tarnbrook.example/')
    if (request.url === '/large') return response.end('x'.repeat(6 * 1024 * 1024))
    if (request.url === '/never') return
    if (request.url === '/gone') return response.writeHead(404).end()
    response.end('<p>well</p>')
  })
  const at = (path: string) =>
    `http://shop.tarnbrook.localhost:${(server.address() as AddressInfo).port}${path}`
  beforeAll(async () => {
    await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
    process.env.AEQUANT_PRACTICE = 'yes'
    process.env.PRACTICE_PORT = String((server.address() as AddressInfo).port)
  })
  afterAll(() => {
    server.closeAllConnections()
    server.close()
  })
  it('takes the practice shop', async () => {
    expect(await fetchPage(at('/kits'))).toEqual({ address: at('/kits'), html: '<p>well</p>' })
  })
  it.each([
    ['/loop', 'a loop'],
    ['/inside', 'not on the public internet'],
    ['/elsewhere', 'whole address'],
    ['/large', 'over 5 MB'],
    ['/gone', 'answered 404'],
  ])('refuses %s clearly', async (path, why) => {
    await expect(fetchPage(at(path))).rejects.toThrow(why)
  })
  it('waits for an answer as long as it was given', async () => {
    await expect(fetchPage(at('/never'), Date.now() + 50)).rejects.toThrow('did not answer')
  })
  it.each([
    'http://127.0.0.1/',
    'http://[::1]/',
    'http://10.1.2.3/',
    'http://169.254.169.254/',
    'http://0.0.0.0/',
    'http://[::ffff:10.0.0.1]/',
    'http://2130706433/',
  ])('never asks %s', async address => {
    await expect(fetchPage(address)).rejects.toThrow(NotFetched)
  })
})
