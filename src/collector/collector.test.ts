import { spawnSync } from 'node:child_process'
import { createHmac } from 'node:crypto'
import { mkdtempSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { type AddressInfo, connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { listSegments } from '@/formats/journalFolder'
import { Journal } from './journal'
import { createCollector } from './server'

const folder = mkdtempSync(join(tmpdir(), 'aequant-collector-'))
const publish = (text: string) => {
  writeFileSync(join(folder, 'routing.new'), text)
  renameSync(join(folder, 'routing.new'), join(folder, 'routing.json'))
}
const routing = (destination: string) =>
  JSON.stringify({
    version: 2,
    codes: {
      kits: { workspace: 'w', network: 'norrfeed', landings: [{ address: destination }] },
      split: {
        workspace: 'w',
        network: 'norrfeed',
        landings: [
          { address: 'https://tarnbrook.example/a', weight: 3 },
          { address: 'https://tarnbrook.example/b', weight: 1 },
        ],
        offers: [{ address: 'https://corvane.example/course?lang=pt', click_parameter: 'p1' }],
      },
      elsewhere: {
        workspace: 'other',
        network: 'kelpie',
        landings: [{ address: 'https://elsewhere.example/' }],
      },
      resting: {
        workspace: 'w',
        network: 'norrfeed',
        paused: true,
        landings: [{ address: 'https://tarnbrook.example/' }],
      },
    },
    partners: {
      open: { workspace: 'w', partner: 'corvane', secret: null },
      closed: {
        workspace: 'w',
        partner: 'corvane',
        secret: { kind: 'shared', parameter: 'key', value: 'long-enough' },
      },
      signed: {
        workspace: 'w',
        partner: 'corvane',
        secret: { kind: 'signature', parameter: 'sig', value: 'long-enough' },
      },
    },
    sites: { site1: { workspace: 'w', tests: ['token-1'], hosts: ['tarnbrook.example'] } },
  })
const journal = () =>
  listSegments(join(folder, 'journal')).flatMap(name =>
    readFileSync(join(folder, 'journal', name), 'utf8')
      .split('\n')
      .filter(Boolean)
      .map(line => JSON.parse(line.slice(9))),
  )
let collector: ReturnType<typeof createCollector>
let origin: string
const get = (path: string, headers: Record<string, string> = {}) =>
  fetch(origin + path, { redirect: 'manual', headers })

beforeEach(async () => {
  publish(routing('https://tarnbrook.example/kits?lang=pt#looms'))
  collector = createCollector(folder)
  await new Promise<void>(done => collector.server.listen(0, '127.0.0.1', done))
  origin = `http://127.0.0.1:${(collector.server.address() as AddressInfo).port}`
})
afterEach(() => collector.close())

describe.each([
  ['a click', '/c/kits', {}, 302],
  ['a hop', '/c/split/next?aq_click=0199aaaa-0000-7000-8000-000000000000', {}, 302],
  [
    'an event',
    '/e',
    { method: 'POST', body: JSON.stringify({ site: 'site1', id: 'event-on-disk', name: 'page' }) },
    204,
  ],
  ['a postback', '/p/open?deal=on-disk', {}, 200],
] as const)('%s', (_, path, init, status) => {
  it('is answered only once it is on disk', async () => {
    let onDisk = () => {}
    const append = vi.spyOn(Journal.prototype, 'append').mockImplementation(
      () =>
        new Promise<void>(done => {
          onDisk = done
        }),
    )
    let answered = false
    const asked = fetch(origin + path, { redirect: 'manual', ...init }).then(response => {
      answered = true
      return response
    })
    try {
      await vi.waitFor(() => expect(append).toHaveBeenCalledOnce())
      // Others are served meanwhile; who asked waits for the disk.
      for (let i = 0; i < 5; i++) expect((await get('/health')).status).toBe(200)
      expect(answered).toBe(false)
    } finally {
      append.mockRestore()
      onDisk()
    }
    expect((await asked).status).toBe(status)
  })
})

describe('a click', () => {
  it('is on disk when it is answered, and goes on with its parameters, its ID and the fragment', async () => {
    const response = await get('/c/kits?utm_content=Oak%20%26%20wool&x=%5B%5D', {
      'user-agent':
        'Mozilla/5.0 (iPhone; CPU iPhone OS 17_0 like Mac OS X) AppleWebKit/605.1.15 Mobile/15E148',
    })
    const record = journal().at(-1)
    expect(response.status).toBe(302)
    expect(response.headers.get('location')).toBe(
      `https://tarnbrook.example/kits?lang=pt&utm_content=Oak%20%26%20wool&x=%5B%5D&aq_click=${record.id}#looms`,
    )
    expect(record).toMatchObject({
      workspace: 'w',
      network: 'norrfeed',
      query: 'utm_content=Oak%20%26%20wool&x=%5B%5D',
      from: '',
      agent: expect.stringContaining('iPhone'),
    })
  })
  it('is no click when somebody only asks what is there', async () => {
    const before = journal().length
    for (const path of ['/c/kits?x=1', '/c/split/next']) {
      const response = await fetch(origin + path, { method: 'HEAD', redirect: 'manual' })
      expect([response.status, response.headers.get('location')]).toEqual([
        302,
        expect.stringMatching(/^https/),
      ])
    }
    expect(journal()).toHaveLength(before)
  })
  it('keeps its visitor from click to click', async () => {
    const cookie = (await get('/c/kits')).headers.get('set-cookie')!.split(';')[0]!
    await get('/c/kits', { cookie })
    const [first, second] = journal().slice(-2)
    expect(second.visitor).toBe(first.visitor)
    expect(second.id).not.toBe(first.id)
  })
  it('never leads anywhere but where the routing table says', async () => {
    expect((await get('/c/nowhere?to=https://other.example')).status).toBe(404)
    expect((await get('/c/__proto__')).status).toBe(404)
    const location = (await get('/c/kits?to=https://other.example/')).headers.get('location')!
    expect(new URL(location).host).toBe('tarnbrook.example')
  })
  it('writes many at once and loses none', async () => {
    const before = journal().length
    await Promise.all(Array.from({ length: 200 }, () => get('/c/kits')))
    const all = journal()
    expect(all.length).toBe(before + 200)
    expect(new Set(all.map(r => r.id)).size).toBe(all.length)
  })
})

describe('a route with branches', () => {
  it('shares visitors out by weight and keeps each on its branch', async () => {
    const took = async (visitor: string) =>
      new URL((await get('/c/split', { cookie: `aqv=${visitor}` })).headers.get('location')!).pathname
    const visitors = Array.from({ length: 200 }, (_, i) => `visitor-${i}`)
    const first = await Promise.all(visitors.map(took))
    expect(await Promise.all(visitors.map(took))).toEqual(first)
    const share = first.filter(path => path === '/a').length / first.length
    expect(share).toBeGreaterThan(0.65)
    expect(share).toBeLessThan(0.85)
  })
  it('carries the click ID on to the offer, under the partner’s own parameter', async () => {
    const landed = await get('/c/split')
    const clickId = new URL(landed.headers.get('location')!).searchParams.get('aq_click')!
    const byAddress = await get(`/c/split/next?aq_click=${clickId}&colour=teal`)
    expect(byAddress.headers.get('location')).toBe(
      `https://corvane.example/course?lang=pt&colour=teal&p1=${clickId}`,
    )
    const cookie = landed.headers
      .getSetCookie()
      .map(c => c.split(';')[0])
      .join('; ')
    expect((await get('/c/split/next', { cookie })).headers.get('location')).toContain(`p1=${clickId}`)
    expect(journal().at(-1)).toMatchObject({ kind: 'hop', code: 'split', click: clickId })
  })
  it('says so when it is paused, and gives whoever refuses it no cookie', async () => {
    const paused = await get('/c/resting')
    expect([paused.status, await paused.text()]).toEqual([404, expect.stringContaining('paused')])
    const refused = await get('/c/kits', { 'sec-gpc': '1' })
    expect([refused.status, refused.headers.get('set-cookie')]).toEqual([302, null])
    expect(journal().at(-1).visitor).toBeNull()
  })
})

describe('events', () => {
  const event = { site: 'site1', id: 'e1234567', name: 'page', page: 'https://tarnbrook.example/kits' }
  const post = (body: unknown) =>
    fetch(`${origin}/e`, { method: 'POST', body: typeof body === 'string' ? body : JSON.stringify(body) })
  it('are kept one or many at a time, by script or by image', async () => {
    expect((await post(event)).status).toBe(204)
    expect((await post([event, { ...event, id: 'e1234568' }])).status).toBe(204)
    expect((await get('/e?site=site1&name=page')).status).toBe(204)
    expect(
      journal()
        .slice(-4)
        .map(r => [r.kind, r.workspace]),
    ).toEqual(Array(4).fill(['event', 'w']))
  })
  it('are refused with a reason when they cannot be read, and the good ones kept', async () => {
    for (const [body, why] of [
      ['{', /JSON/],
      [{ ...event, site: 'elsewhere' }, /no site "elsewhere"/],
      [{ ...event, value: '1,5' }, /value/],
      [
        [
          { ...event, id: 'e7654321' },
          { ...event, name: 'no spaces please' },
        ],
        /name/,
      ],
      [Array(101).fill(event), /At most 100/],
    ] as const) {
      const response = await post(body)
      expect([response.status, await response.text()]).toEqual([400, expect.stringMatching(why)])
    }
    expect(journal().at(-1).id).toBe('e7654321')
    expect((await post('x'.repeat(70_000))).status).toBe(413)
  })
  it('become the click of an ad that may not redirect', async () => {
    const page = 'https://tarnbrook.example/kits?utm_content=na102'
    await post({ ...event, code: 'kits', click: 'k-by-tag-1', page, visitor: 'v9' })
    expect(journal().at(-1)).toMatchObject({
      kind: 'click',
      id: 'k-by-tag-1',
      network: 'norrfeed',
      query: 'utm_content=na102',
      landing: page,
      visitor: 'v9',
    })
  })
  it('become no click of another workspace’s code, and none where the page does not say which', async () => {
    const page = 'https://tarnbrook.example/kits'
    for (const own of [
      { code: 'elsewhere' },
      { code: 'nowhere' },
      { code: 'kits', page: undefined },
      { code: 'kits', click: undefined },
    ]) {
      await post({ ...event, click: 'k-by-tag-2', page, ...own })
      expect(journal().at(-1)).toMatchObject({ kind: 'event', workspace: 'w' })
    }
  })
})

describe('a live test', () => {
  const post = (path: string, body: object) =>
    fetch(origin + path, { method: 'POST', body: JSON.stringify(body) })
  it('marks events and clicks that belong to it; who only says so is counted as anybody', async () => {
    const event = { site: 'site1', id: 'event-in-test', name: 'order', view: 'view-0001' }
    await post('/e', { ...event, test: 'token-1' })
    expect(journal().at(-1)).toMatchObject({ kind: 'event', test: 'token-1', view: 'view-0001' })
    await post('/e', { ...event, id: 'event-pretender', test: 'made-up' })
    expect(journal().at(-1).test).toBeUndefined()
    await get('/c/kits?aq_test=token-1')
    expect(journal().at(-1)).toMatchObject({ kind: 'click', test: 'token-1' })
    await get('/c/kits?aq_test=made-up')
    expect(journal().at(-1).test).toBeUndefined()
  })
  it('lets the tag know whether it runs', async () => {
    const doing = async (query: string) => (await get(`/r/site1${query}`)).json()
    expect(await doing('?aq_test=token-1')).toMatchObject({ test: true })
    expect(await doing('?aq_test=made-up')).toMatchObject({ test: false })
    expect(await doing('')).toEqual({
      rules: [],
      networks: [],
      hosts: ['tarnbrook.example'],
      parameters: [],
      test: false,
    })
    const script = await (await get('/aq.js?site=site1')).text()
    const along = '{"rules":[],"networks":[],"hosts":["tarnbrook.example"],"parameters":[],"test":false}'
    expect(script.startsWith(`self.aequantDoing=${along};`)).toBe(true)
  })
  it.each([
    ['br, gzip', 'br'],
    ['gzip, deflate', 'gzip'],
    ['br;q=0, gzip;q=0.5', 'gzip'],
    ['', null],
    ['identity', null],
  ])('comes as small as a browser that takes "%s" reads it', async (taken, sent) => {
    const answer = await get('/aq.js?site=site1', { 'accept-encoding': taken })
    expect(answer.headers.get('content-encoding')).toBe(sent)
    expect(answer.headers.get('vary')).toBe('accept-encoding')
    expect(await answer.text()).toContain('aequantDoing')
  })
  it('keeps what its pages look like, and of nobody else', async () => {
    const seen = {
      site: 'site1',
      test: 'token-1',
      view: 'view-0001',
      page: 'https://tarnbrook.example/',
      title: 'Looms',
      opened: 1,
      after_ms: 3000,
      code: [],
      requests: [],
      called: [],
      errors: [],
    }
    expect((await post('/t', seen)).status).toBe(204)
    expect(journal().at(-1)).toMatchObject({ kind: 'observation', seen: { title: 'Looms' } })
    expect((await post('/t', { ...seen, test: 'made-up' })).status).toBe(403)
    expect((await post('/t', { ...seen, code: 'none' })).status).toBe(400)
  })
})

describe('a postback', () => {
  it('is kept as it came, by GET or POST, when it is the partner’s', async () => {
    expect((await get('/p/open?deal=d1&amount=49.00')).status).toBe(200)
    expect((await fetch(`${origin}/p/open`, { method: 'POST', body: 'deal=d2' })).status).toBe(200)
    expect(
      journal()
        .slice(-2)
        .map(r => [r.partner, r.query]),
    ).toEqual([
      ['corvane', 'deal=d1&amount=49.00'],
      ['corvane', 'deal=d2'],
    ])
    expect((await get('/p/nobody?deal=d1')).status).toBe(404)
    expect((await get('/p/open')).status).toBe(400)
  })
  it('must carry the secret or the signature where one is set', async () => {
    expect((await get('/p/closed?deal=d1')).status).toBe(403)
    expect((await get('/p/closed?deal=d1&key=wrong-guess')).status).toBe(403)
    expect((await get('/p/closed?deal=d1&key=long-enough')).status).toBe(200)
    // What cannot be the secret is refused as such, whatever bytes it holds; and what is goes nowhere.
    expect((await get('/p/closed?deal=d1&key=l%C3%B6ng-enough')).status).toBe(403)
    expect((await get(`/p/closed?deal=d1&key=${'%F0%9F%A7%B6'.repeat(5)}`)).status).toBe(403)
    expect((await get('/p/closed?%6Bey=long-enough&deal=d3&key=long-enough')).status).toBe(200)
    expect(journal().at(-1).query).toBe('deal=d3')
    expect(JSON.stringify(journal())).not.toContain('long-enough')
    const signature = createHmac('sha256', 'long-enough').update('deal=d1&amount=5').digest('hex')
    expect((await get(`/p/signed?deal=d1&amount=5&sig=${signature}`)).status).toBe(200)
    expect((await get(`/p/signed?deal=d1&amount=500&sig=${signature}`)).status).toBe(403)
  })
})

it('keeps of a sender’s address only its class, and limits how often one may ask', async () => {
  const limited = createCollector(folder, { perMinute: 20, behindProxy: true })
  await new Promise<void>(done => limited.server.listen(0, '127.0.0.1', done))
  const there = `http://127.0.0.1:${(limited.server.address() as AddressInfo).port}`
  const from = (address: string) =>
    fetch(`${there}/c/kits`, { redirect: 'manual', headers: { 'x-forwarded-for': address } })
  const classOf = async (address: string) => {
    await from(address)
    return journal().at(-1).from
  }
  const class6 = await classOf('2001:db8:1:2:3:4:5:6')
  expect(class6).toMatch(/^[\w-]{16}$/)
  expect(await classOf('2001:db8:1:2:ffff::1')).toBe(class6)
  expect(await classOf('2001:db8:1:3::1')).not.toBe(class6)
  expect(await classOf('203.0.113.200')).toBe(await classOf('203.0.113.201'))
  const statuses = await Promise.all(
    Array.from({ length: 30 }, async () => (await from('203.0.113.77')).status),
  )
  expect(JSON.stringify(journal())).not.toContain('203.0.113')
  expect(statuses.filter(s => s === 302).length).toBe(20)
  expect(statuses.filter(s => s === 429).length).toBe(10)
  expect((await from('203.0.113.78')).status).toBe(302)
  await limited.close()
})

it('tells a browser to come by TLS alone, and to send its cookies so, behind a proxy that speaks it', async () => {
  const behind = createCollector(folder, { behindProxy: true })
  await new Promise<void>(done => behind.server.listen(0, '127.0.0.1', done))
  const there = `http://127.0.0.1:${(behind.server.address() as AddressInfo).port}/c/kits`
  const ask = async (headers: Record<string, string>) =>
    (await fetch(there, { redirect: 'manual', headers })).headers
  const secure = await ask({ 'x-forwarded-proto': 'https' })
  expect(secure.get('set-cookie')).toContain('; Secure')
  expect(secure.get('strict-transport-security')).toContain('max-age=')
  const plain = await ask({})
  expect(plain.get('set-cookie')).not.toContain('Secure')
  expect(plain.get('strict-transport-security')).toBeNull()
  await behind.close()
})

it('tells what it did in the OpenMetrics text format', async () => {
  for (let i = 0; i < 3; i++) await get(`/c/kits?n=${i}`)
  await get('/c/split/next?aq_click=0199aaaa-0000-7000-8000-000000000001')
  await get('/p/open?deal=counted')
  for (const path of ['/p/nobody?deal=1', '/p/open', '/e?site=nobody', '/o/site1', '/c/un/known/'])
    await get(path)
  const response = await get('/metrics')
  const text = await response.text()
  expect(response.headers.get('content-type')).toContain('openmetrics-text')
  expect(text.trimEnd().endsWith('# EOF')).toBe(true)
  const value = (name: string) => Number(new RegExp(`^${name} (\\S+)`, 'm').exec(text)?.[1])
  const requests = (kind: string, outcome: string) =>
    value(`aequant_requests_total\\{kind="${kind}",outcome="${outcome}"\\}`)
  expect([
    requests('click', 'recorded'),
    requests('hop', 'recorded'),
    requests('postback', 'recorded'),
  ]).toEqual([3, 1, 1])
  expect(['click', 'event', 'postback', 'order'].map(kind => requests(kind, 'refused'))).toEqual([1, 1, 2, 1])
  expect(value('aequant_journal_records')).toBe(5)
  expect(value('aequant_journal_failing')).toBe(0)
  for (const [name, count] of [
    ['aequant_redirect_seconds', 3],
    ['aequant_journal_write_seconds', 5],
  ] as const) {
    expect(text).toContain(`# TYPE ${name} histogram`)
    expect(value(`${name}_count`)).toBe(count)
    expect(value(`${name}_bucket\\{le="\\+Inf"\\}`)).toBe(count)
    expect(value(`${name}_bucket\\{le="1"\\}`)).toBe(count)
    expect(value(`${name}_sum`)).toBeGreaterThan(0)
    expect(value(`${name}_sum`)).toBeLessThan(5)
  }
  // What each means is said beside it.
  for (const [name, help] of [
    ['aequant_requests', 'went on without a record'],
    ['aequant_journal_write_seconds', 'on disk'],
    ['aequant_redirect_seconds', 'redirect was sent'],
    ['aequant_journal_records', 'journal took'],
    ['aequant_journal_failing', 'cannot be written'],
  ])
    expect(text).toMatch(new RegExp(`^# HELP ${name} .*${help}`, 'm'))
  expect(text).toContain('process_cpu_seconds')
})

it('tells the same in plain text where that is asked for', async () => {
  const response = await get('/metrics', { accept: 'text/plain;version=0.0.4' })
  const text = await response.text()
  expect(response.headers.get('content-type')).toContain('text/plain')
  expect(text).toMatch(/^# TYPE aequant_requests_total counter$/m)
  expect(text).not.toContain('# EOF')
  const both = await get('/metrics', {
    accept: 'application/openmetrics-text;version=1.0.0,text/plain;q=0.5',
  })
  expect(both.headers.get('content-type')).toContain('openmetrics-text')
})

describe('when the disk is full', () => {
  it('refuses what can be sent again, lets shoppers go on, and says how many it did not record', async () => {
    const full = mkdtempSync(join(tmpdir(), 'aequant-full-'))
    writeFileSync(join(full, 'routing.json'), routing('https://tarnbrook.example/kits'))
    const disk = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=64k', 'tmpfs', full])
    // Without the right to mount, a file where the folder should be makes every write fail as well.
    if (disk.status !== 0) writeFileSync(join(full, 'journal'), '')
    writeFileSync(join(full, 'routing.json'), routing('https://tarnbrook.example/kits'))
    const crowded = createCollector(full)
    await new Promise<void>(done => crowded.server.listen(0, '127.0.0.1', done))
    const there = `http://127.0.0.1:${(crowded.server.address() as AddressInfo).port}`
    const said = vi.spyOn(console, 'error').mockImplementation(() => {})
    try {
      let last = 200
      for (let i = 0; i < 600 && last === 200; i++)
        last = (await fetch(`${there}/p/open?deal=${i}&note=${'x'.repeat(300)}`)).status
      expect(last).toBe(503)
      const click = await fetch(`${there}/c/kits`, { redirect: 'manual' })
      expect(click.status).toBe(302)
      const health = await (await fetch(`${there}/health`)).text()
      expect(JSON.parse(health)).toMatchObject({ status: 'disk', notRecorded: 1 })
      expect(health).not.toContain(full)
    } finally {
      said.mockRestore()
      await crowded.close()
      if (disk.status === 0) spawnSync('umount', [full])
    }
  })
})

it('takes up a new routing table, and keeps the last good one when the new one is broken', async () => {
  publish(routing('https://tarnbrook.example/yarn'))
  await vi.waitFor(
    async () => expect((await get('/c/kits')).headers.get('location')).toContain('/yarn'),
    3000,
  )
  const said = vi.spyOn(console, 'error').mockImplementation(() => {})
  publish('{ broken')
  await vi.waitFor(() => expect(said).toHaveBeenCalled(), 3000)
  expect((await get('/c/kits')).headers.get('location')).toContain('/yarn')
  said.mockRestore()
})

it('lives through ten thousand requests that make no sense', async () => {
  const { port } = collector.server.address() as AddressInfo
  const path = fc.oneof(
    fc.webPath(),
    fc.string({ unit: 'binary', maxLength: 200 }).map(encodeURI),
    fc.constantFrom('/c/', '/p/open?', '/e?', '/c/kits?', '/c/split/next?', '/aq.js', '/e?site=site1&name='),
  )
  const request = fc.record({
    method: fc.constantFrom('GET', 'POST', 'PUT', 'HEAD', 'NONSENSE', ''),
    path: fc.tuple(path, fc.webQueryParameters()).map(parts => parts.join('')),
    header: fc.constantFrom(
      '',
      'cookie: aqv=;;;=\r\n',
      'content-length: -1\r\n',
      'host:\r\n',
      '\u0000: x\r\n',
    ),
    body: fc.oneof(fc.json(), fc.string({ maxLength: 300 }), fc.constant('[[[[')),
  })
  const send = (text: string) =>
    new Promise<string>(done => {
      let answer = ''
      const socket = connect(port, '127.0.0.1', () => socket.end(text))
      socket.on('data', data => (answer += data))
      socket.on('error', () => done(answer))
      socket.on('close', () => done(answer))
    })
  const requests = fc.sample(request, 10_000)
  for (let i = 0; i < requests.length; i += 200) {
    const answers = await Promise.all(
      requests
        .slice(i, i + 200)
        .map(({ method, path: address, header, body }) =>
          send(
            `${method} ${address} HTTP/1.1\r\nhost: t\r\nconnection: close\r\ncontent-length: ${Buffer.byteLength(body)}\r\n${header}\r\n${body}`,
          ),
        ),
    )
    for (const answer of answers) expect(answer).not.toMatch(/^HTTP\/1.1 5/)
  }
  expect((await get('/health')).status).toBe(200)
}, 120_000)

it('answers what it does not know without falling over', async () => {
  const strange = [
    '/',
    '/c/',
    `/c/${'x'.repeat(200)}`,
    `/c/kits?${'y'.repeat(9000)}`,
    '/c/kits?%',
    '/c/%00',
    '/../../etc/passwd',
  ]
  const statuses = await Promise.all(strange.map(async path => (await get(path)).status))
  expect(statuses.every(status => status < 500)).toBe(true)
  expect((await get('/health')).status).toBe(200)
})
