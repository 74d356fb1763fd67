import { appendFileSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { type AddressInfo, connect } from 'node:net'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { Webhook } from 'standardwebhooks'
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { createCollector } from '@/collector/server'
import { type Arrival, arrivalSchema } from '@/core/intake/arrival'
import { partnerSchema } from '@/core/intake/postback'
import { readParameters } from '@/core/shared/text'
import type { Database } from '@/data/connect'
import { savePartner } from '@/data/intake'
import { openTestDatabase } from '@/data/testDatabase'
import { journalFolder, listSegments } from '@/formats/journalFolder'
import { readLine, writeLine } from '@/formats/journalLine'
import { asideGroups, mendGroup } from '../setAside'
import { drainOnce } from './drain'

const SECRET = 'whsec_bm9ib2R5IGtub3dzIHRoaXMgc2VjcmV0'
let database: Database
let folder: string
let stop: () => Promise<void>
let collector: ReturnType<typeof createCollector>
let port: number

beforeAll(async () => {
  ;({ database, folder, stop } = await openTestDatabase())
  const partner = partnerSchema.parse({
    id: 'corvane',
    name: 'Corvane',
    currency: 'EUR',
    click_parameter: 'p1',
    parameters: { deal: 'deal', click: 'p1', amount: 'amount', status: 'state' },
  })
  await savePartner(database, 'w', { code: 'corvane', partner, secret: null })
  const landings = [{ address: 'https://tarnbrook.example/kits' }]
  const offers = [{ address: 'https://corvane.example/course', click_parameter: 'p1' }]
  writeFileSync(
    join(folder, 'routing.json'),
    JSON.stringify({
      version: 2,
      codes: { kits: { workspace: 'w', network: 'norrfeed', landings, offers } },
      partners: { corvane: { workspace: 'w', partner: 'corvane', secret: null } },
      sites: { site1: { workspace: 'w', order_secrets: [{ value: SECRET, until: null }] } },
    }),
  )
  collector = createCollector(folder)
  await new Promise<void>(done => collector.server.listen(0, '127.0.0.1', done))
  port = (collector.server.address() as AddressInfo).port
})
afterAll(async () => {
  await collector.close()
  await stop()
})
beforeEach(() =>
  database.execute(sql`truncate clicks, events, hops, postbacks, sales, orders, set_aside, webhook_messages`),
)

/** Sends bytes as they are and gives the status of the answer. */
const send = (bytes: Buffer): Promise<number> =>
  new Promise((done, failed) => {
    const socket = connect(port, '127.0.0.1')
    let said = ''
    socket.on('data', chunk => (said += chunk.toString('latin1')))
    socket.on('close', () => done(Number(/^HTTP\/1\.1 (\d+)/.exec(said)?.[1] ?? 0)))
    socket.on('error', failed)
    socket.write(bytes)
  })
const request = (method: string, path: Buffer | string, body = Buffer.alloc(0), headers = '') =>
  Buffer.concat([
    Buffer.from(`${method} `),
    Buffer.from(path as string),
    Buffer.from(
      ` HTTP/1.1\r\nhost: t.example\r\nuser-agent: Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0\r\nconnection: close\r\n${headers}content-length: ${body.length}\r\n\r\n`,
    ),
    body,
  ])
const drainAll = async () => {
  while ((await drainOnce(database, folder)) !== null);
}
const count = async (table: string) =>
  Number((await database.execute(sql.raw(`select count(*) as n from ${table}`))).rows[0]!.n)

let number = 0
/** Proves that nothing stands still: what arrives after all else is taken in. */
async function comesThrough() {
  const id = `marker-${++number}`
  const page = 'https://tarnbrook.example/'
  const marker = Buffer.from(JSON.stringify({ site: 'site1', id, name: 'page', page }))
  expect(await send(request('POST', '/e', marker))).toBe(204)
  await drainAll()
  const { rows } = await database.execute(sql`select event_id from events where event_id = ${id}`)
  expect(rows).toHaveLength(1)
}

const bytes = fc.uint8Array({ maxLength: 300 }).map(list => Buffer.from(list))
/** Texts that databases, parsers and browsers stumble over. */
const rough = fc
  .array(
    fc.oneof(
      fc.string({ unit: 'binary', maxLength: 20 }),
      fc.constantFrom('\0', '\ud800', '\udfff', '\u2028', '%00', '%ff', "'", '\\u0000', '\u{1f9f6}'),
      fc.integer({ min: 1, max: 3000 }).map(n => 'x'.repeat(n)),
    ),
    { maxLength: 6 },
  )
  .map(parts => parts.join(''))
const query = fc
  .tuple(fc.constantFrom('utm_content', 'p1', 'deal', 'amount', 'state', 'nfref', 'aq_click'), rough)
  .map(([key, value]) => `${key}=${encodeURIComponent(value.toWellFormed())}`)
const queries = fc.array(fc.oneof(query, fc.constant('a=%00'), fc.constant('%ED%A0%80=1')), { maxLength: 4 })

describe('whatever arrives', () => {
  it('is redirected when it is a click, whatever bytes its address holds', async () => {
    for (const raw of ['caf\u00e9', 'Kits f\u00fcr alle', '\u0001\u007f', '\u{1f9f6}'])
      expect(await send(request('GET', Buffer.from(`/c/kits?utm_content=${raw}`)))).toBe(302)
    expect(await send(request('GET', Buffer.from([...Buffer.from('/c/kits?x='), 0xff, 0xfe, 0])))).toBe(302)
    expect(await send(request('GET', `/c/kits?${'x'.repeat(30_000)}`))).toBe(302)
    await drainAll()
    const { rows } = await database.execute(
      sql`select attributes->>'query' as query from clicks order by clicked_at, click_id`,
    )
    expect(rows.map(r => readParameters(String(r.query)).get('utm_content'))).toContain('caf\u00e9')
    expect(rows).toHaveLength(6)
  })
  it('never keeps what comes after it from being taken in, and is there or set aside', async () => {
    const arrival = fc.oneof(
      queries.map(list => request('GET', `/c/kits?${list.join('&')}`)),
      bytes.map(raw => request('GET', Buffer.concat([Buffer.from('/c/kits?q='), raw]))),
      queries.map(list => request('GET', `/c/kits/next?${list.join('&')}`)),
      queries.map(list => request('GET', `/p/corvane?deal=d1&${list.join('&')}`)),
      bytes.map(raw => request('POST', '/p/corvane?deal=d2', raw)),
      fc
        .record({ page: rough, referrer: rough, visitor: rough, click: rough, zone: rough, rule: rough })
        .map(e =>
          request(
            'POST',
            '/e',
            Buffer.from(JSON.stringify({ ...e, site: 'site1', id: `e-${++number}-000`, name: 'page' })),
          ),
        ),
      bytes.map(raw => request('POST', '/e', raw)),
    )
    await fc.assert(
      fc.asyncProperty(
        fc.array(arrival, { maxLength: 12 }),
        fc.array(bytes, { maxLength: 3 }),
        async (arrivals, torn) => {
          for (const one of arrivals) expect(await send(one)).toBeLessThan(500)
          const journal = journalFolder(folder)
          // What a power cut leaves.
          for (const raw of torn)
            appendFileSync(join(journal, listSegments(journal).at(-1) ?? '1.ndjson'), raw)
          await comesThrough()
        },
      ),
      { numRuns: 40 },
    )
    const journal = journalFolder(folder)
    const lines = listSegments(journal).flatMap(name =>
      readFileSync(join(journal, name), 'utf8').split('\n').filter(Boolean).map(readLine),
    )
    const kept = lines.flatMap(line => ('value' in line ? [line.value as Arrival] : []))
    const distinct = new Set(kept.map(a => `${a.kind} ${a.id}`))
    const before = 6
    const stored =
      (await count('clicks')) + (await count('events')) + (await count('hops')) + (await count('postbacks'))
    const { rows } = await database.execute(
      sql`select count(*)::int as n from set_aside where reason in ('not_a_record', 'not_stored')`,
    )
    expect(stored + Number(rows[0]!.n)).toBe(distinct.size - before)
  }, 300_000)
  it('is kept without what no database takes, and says where that was', async () => {
    const body = JSON.stringify({
      site: 'site1',
      id: 'cleaned-1',
      name: 'page',
      page: 'x\0y',
      referrer: '\ud800',
    })
    expect(await send(request('POST', '/e', Buffer.from(body)))).toBe(204)
    await send(request('GET', '/c/kits?nfref=%00a'))
    await drainAll()
    const { rows } = await database.execute(
      sql`select page, referrer, attributes->>'cleaned' as cleaned from events`,
    )
    expect(rows).toEqual([{ page: 'x\ufffdy', referrer: '\ufffd', cleaned: 'page, referrer' }])
    const clicked = await database.execute(sql`select network_click_id as id from clicks`)
    expect(clicked.rows).toEqual([{ id: '\ufffda' }])
  })
  it('is set aside with its bytes when it is no text at all, or longer than any chunk', async () => {
    const journal = journalFolder(folder)
    const file = join(journal, listSegments(journal).at(-1)!)
    appendFileSync(file, Buffer.concat([Buffer.alloc(4096), Buffer.from('\n'), Buffer.alloc(9_000_000, 120)]))
    await comesThrough()
    const { rows } = await database.execute(
      sql`select reason, facts, left(raw, 8) as raw from set_aside order by raw`,
    )
    expect(rows).toMatchObject([
      { reason: 'torn_line', facts: { written: 'base64' }, raw: 'AAAAAAAA' },
      { reason: 'torn_line', raw: 'xxxxxxxx' },
    ])
  })
  it('stands alone aside when the database refuses it, and is taken in once nothing is against it', async () => {
    const event = (id: string, page: string) =>
      writeLine({
        kind: 'event',
        id,
        at: Date.now(),
        workspace: 'w',
        from: '',
        agent: 'a',
        name: 'page',
        page,
      })
    await database.execute(sql`alter table events add constraint no_poison check (page <> 'poison')`)
    const journal = journalFolder(folder)
    const lines = Array.from({ length: 50 }, (_, i) => event(`good-${i}`, 'fine'))
    lines.splice(17, 0, event('bad-1', 'poison'))
    appendFileSync(join(journal, listSegments(journal).at(-1)!), `\n${lines.join('')}`)
    await comesThrough()
    expect(await count("events where page = 'fine'")).toBe(50)
    const [group] = await asideGroups(database, 'w')
    // Nobody can say whose it was.
    expect(group).toBeUndefined()
    const [aside] = await asideGroups(database, 'main')
    expect(aside).toMatchObject({ kind: 'line', reason: 'not_stored', count: 1 })
    expect(arrivalSchema.parse((readLine(aside!.raw) as { value: unknown }).value)).toMatchObject({
      id: 'bad-1',
    })
    await database.execute(sql`alter table events drop constraint no_poison`)
    const workspace = { id: 'main', name: '', settings: {} as never, version: 0, changed: {}, feed: 0 }
    expect(await mendGroup(database, workspace, aside!, { do: 'again' })).toBe(1)
    expect(await count("events where event_id = 'bad-1'")).toBe(1)
  })
  it('is taken in whatever the clock says, and whatever it said before', async () => {
    const journal = journalFolder(folder)
    const last = listSegments(journal).at(-1)!
    // As if the clock had been far ahead when this one was begun.
    renameSync(join(journal, last), join(journal, '900000000000000.ndjson'))
    await drainAll()
    const now = Date.now()
    const clock = vi.spyOn(Date, 'now')
    for (const hours of [-1, 2, -3, 0]) {
      clock.mockReturnValue(now + hours * 3_600_000)
      const restarted = createCollector(folder)
      await new Promise<void>(done => restarted.server.listen(0, '127.0.0.1', done))
      const there = (restarted.server.address() as AddressInfo).port
      const page = `http://127.0.0.1:${there}/c/kits?utm_content=late`
      expect((await fetch(page, { redirect: 'manual' })).status).toBe(302)
      await restarted.close()
      await drainAll()
    }
    clock.mockRestore()
    expect(listSegments(journal).at(-1)).toMatch(/^900000000000004-/)
    expect(await count(`clicks where attributes->>'query' = 'utm_content=late'`)).toBe(4)
  })
})

describe('the shop’s signed orders', () => {
  const post = async (body: string, id = `m-${++number}`) => {
    const at = new Date()
    const signature = new Webhook(SECRET).sign(id, at, body.toWellFormed())
    const answer = await fetch(`http://127.0.0.1:${port}/o/site1`, {
      method: 'POST',
      headers: {
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
        'webhook-signature': signature,
      },
      body,
    })
    return answer.status
  }
  const message = (order: object, type = 'created', at = '2026-11-01T10:00:00Z') =>
    JSON.stringify({
      type: `order.${type}`,
      timestamp: at,
      data: {
        order_id: 'T1',
        ordered_at: '2026-11-01T10:00:00Z',
        currency: 'EUR',
        total: '149.00',
        ...order,
      },
    })
  it('are on disk when they are answered, once however often they come, and the newest holds', async () => {
    expect(await post(message({}), 'once')).toBe(200)
    expect(await post(message({}), 'once')).toBe(200)
    // Refunded at the order's own instant is not older.
    expect(await post(message({ refunded: '149.00' }, 'refunded'))).toBe(200)
    expect(await post(message({ order_id: 'T2', note: 'a\0b' }))).toBe(422)
    expect(await post('{')).toBe(422)
    await drainAll()
    const { rows } = await database.execute(sql`select order_id, status from orders`)
    expect(rows).toEqual([{ order_id: 'T1', status: 'refunded' }])
    expect(await post(message({}), 'once')).toBe(200)
    await drainAll()
    expect((await database.execute(sql`select status from orders`)).rows).toEqual([{ status: 'refunded' }])
  })
  it('are refused when somebody else signed them', async () => {
    const body = message({})
    const answer = await fetch(`http://127.0.0.1:${port}/o/site1`, { method: 'POST', body })
    expect(answer.status).toBe(401)
    expect((await fetch(`http://127.0.0.1:${port}/o/nobody`, { method: 'POST', body })).status).toBe(404)
  })
})

describe('a partner’s postback that is sent again', () => {
  it('never brings back a state that a newer one replaced', async () => {
    const say = (query: string) => send(request('GET', `/p/corvane?${query}`))
    await say('deal=r1&amount=49.00&state=approved')
    await say('deal=r1&amount=49.00&state=reversed')
    await drainAll()
    await say('deal=r1&amount=49.00&state=approved')
    await drainAll()
    expect((await database.execute(sql`select status from sales where deal = 'r1'`)).rows).toEqual([
      { status: 'reversed' },
    ])
    expect((await database.execute(sql`select status from orders`)).rows).toEqual([{ status: 'cancelled' }])
  })
})
