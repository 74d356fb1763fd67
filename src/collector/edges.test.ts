import { mkdirSync, mkdtempSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import type { IncomingMessage } from 'node:http'
import { type AddressInfo, connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { Webhook } from 'standardwebhooks'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { LONGEST_ORDER_MESSAGE } from '@/core/intake/orderMessage'
import { listSegments } from '@/formats/journalFolder'
import { encodeRaw } from './mendRequest'
import { watchRouting } from './routing'
import { isSecure, limitSenders, senderOf } from './sender'
import { type CollectorOptions, createCollector } from './server'

const SECRET = `whsec_${Buffer.from('a secret of twenty-four.').toString('base64')}`
const table = (more: object = {}) =>
  JSON.stringify({
    version: 2,
    codes: {
      kits: { workspace: 'w', network: 'n', landings: [{ address: 'https://tarnbrook.example/kits' }] },
      rest: {
        workspace: 'w',
        network: 'n',
        paused: true,
        landings: [{ address: 'https://tarnbrook.example/' }],
      },
    },
    partners: { open: { workspace: 'w', partner: 'corvane', secret: null } },
    sites: {
      shop: {
        workspace: 'w',
        tests: ['token-1'],
        hosts: ['tarnbrook.example'],
        order_secrets: [{ value: SECRET, until: null }],
      },
      other: { workspace: 'x', tests: [], hosts: [] },
    },
    ...more,
  })

/** A collector of its own, with what it kept; closed behind whatever is done with it. */
async function within(
  { routing = table(), ...options }: CollectorOptions & { routing?: string },
  act: (of: {
    port: number
    ask: (path: string, init?: RequestInit) => Promise<Response>
    kept: () => Record<string, unknown>[]
  }) => Promise<void>,
) {
  const folder = mkdtempSync(join(tmpdir(), 'aequant-edges-'))
  writeFileSync(join(folder, 'routing.json'), routing)
  const collector = createCollector(folder, options)
  await new Promise<void>(done => collector.server.listen(0, '127.0.0.1', done))
  const { port } = collector.server.address() as AddressInfo
  try {
    await act({
      port,
      ask: (path, init = {}) => fetch(`http://127.0.0.1:${port}${path}`, { redirect: 'manual', ...init }),
      kept: () =>
        listSegments(join(folder, 'journal')).flatMap(name =>
          readFileSync(join(folder, 'journal', name), 'utf8')
            .split('\n')
            .filter(Boolean)
            .map(line => JSON.parse(line.slice(9))),
        ),
    })
  } finally {
    await collector.close()
  }
}

/** What is answered to bytes as they are. */
const sent = (port: number, bytes: string | Buffer, then = '') =>
  new Promise<string>(done => {
    let answer = ''
    const socket = connect(port, '127.0.0.1', () => {
      socket.write(bytes)
      if (then) setImmediate(() => socket.write(then))
    })
    socket.on('data', data => (answer += data))
    socket.on('error', () => done(answer))
    socket.on('close', () => done(answer))
  })

describe('an address with raw bytes', () => {
  it('is encoded byte by byte, and one without stays as it is', () => {
    expect(encodeRaw('/c/kits?k=\xc3\xa4 b')).toBe('/c/kits?k=%C3%A4%20b')
    expect(encodeRaw('\x00\x1f\x7f\x0a')).toBe('%00%1F%7F%0A')
    fc.assert(
      fc.property(fc.webPath(), fc.webQueryParameters(), (path, query) => {
        expect(encodeRaw(`${path}?${query}`)).toBe(`${path}?${query}`)
      }),
    )
  })
  it('is followed all the same when it is a click, with what else the browser says', () =>
    within({}, async ({ port, kept }) => {
      const head = 'host: t\r\nuser-agent: of-the-shopper\r\n'
      const line = Buffer.from('GET /c/kits?campaign=Ge\xdfn HTTP/1.1\r\n', 'latin1')
      const answer = await sent(port, Buffer.concat([line, Buffer.from(`${head}connection: close\r\n\r\n`)]))
      expect(answer).toMatch(/^HTTP\/1\.1 302/)
      expect(answer).toMatch(/location: https:\/\/tarnbrook\.example\/kits\?campaign=Ge%DFn/i)
      expect(kept()).toHaveLength(1)
      expect(kept()[0]).toMatchObject({ kind: 'click', agent: 'of-the-shopper', from: '' })
      // What comes in two packets is read to its end.
      const late = await sent(port, Buffer.concat([line, Buffer.from(head)]), 'connection: close\r\n\r\n')
      expect(late).toMatch(/^HTTP\/1\.1 302/)
      expect(kept()).toHaveLength(2)
    }))
  it.each([
    ['another method', Buffer.from('POST /c/kits?a=\xdf HTTP/1.1\r\nhost: t\r\n\r\n', 'latin1')],
    ['another address', Buffer.from('GET /e?a=\xdf HTTP/1.1\r\nhost: t\r\n\r\n', 'latin1')],
    ['no line that ends', Buffer.from(`GET /c/kits?a=${'\xdf'.repeat(40)}`, 'latin1')],
    ['what is no request', Buffer.from('nonsense\r\n\r\n')],
  ])('is refused with %s', (_, bytes) =>
    within({}, async ({ port, kept }) => {
      expect(await sent(port, Buffer.concat([bytes, Buffer.from('\r\n\r\n')]))).toBe(
        'HTTP/1.1 400 Bad Request\r\nconnection: close\r\n\r\n',
      )
      expect(kept()).toEqual([])
    }),
  )
  it('is refused as too long when its head is', () =>
    within({}, async ({ port }) => {
      const long = `GET /health HTTP/1.1\r\nhost: t\r\nx: ${'x'.repeat(200_000)}\r\n\r\n`
      expect(await sent(port, long)).toMatch(/^HTTP\/1\.1 431 Request Header Fields Too Large/)
    }))
})

describe('a request', () => {
  it.each([
    ['/nothing', {}, 404, 'Nothing here'],
    ['/x/c/kits', {}, 404, 'Nothing here'],
    ['/c/kits/next/further', {}, 404, 'Nothing here'],
    ['/c/kits', { method: 'PUT' }, 405, 'GET and POST'],
    [`/p/open?${'x'.repeat(9000)}`, {}, 414, 'too long'],
    ['/p/open', { method: 'POST', body: `deal=${'x'.repeat(70_000)}` }, 413, 'at most 65536 bytes'],
    [
      `/p/open?${'y'.repeat(4000)}`,
      { method: 'POST', body: 'x'.repeat(64_000) },
      413,
      'postback is too long',
    ],
    ['/p/open', {}, 400, 'no parameters'],
    ['/p/nobody?deal=1', {}, 404, 'No partner has this address'],
    ['/o/nobody', { method: 'POST', body: '{}' }, 404, 'no such site'],
    ['/o/shop', { method: 'POST', body: '{}' }, 401, 'Nothing was taken in'],
    ['/c/unknown', {}, 404, ''],
    ['/c/rest', {}, 404, ''],
    ['/c/kits/next', {}, 404, ''],
    ['/e', { method: 'POST', body: '{' }, 400, 'not JSON'],
  ] as const)('%#: is refused with its status and why', (path, init, status, words) =>
    within({}, async ({ ask, kept }) => {
      const response = await ask(path, init as RequestInit)
      expect(response.status).toBe(status)
      expect(await response.text()).toContain(words)
      expect(kept().filter(({ kind }) => kind !== 'click')).toEqual([])
    }),
  )
  it('of a click may be as long as a network makes it', () =>
    within({}, async ({ ask }) => {
      expect((await ask(`/c/kits?k=${'x'.repeat(8100)}`)).status).toBe(302)
      expect((await ask(`/c/kits?k=${'x'.repeat(9000)}`)).status).toBe(302)
    }))
  it('of a page elsewhere may be read by its script, refusals too', () =>
    within({}, async ({ ask }) => {
      expect((await ask('/e?site=nobody')).headers.get('access-control-allow-origin')).toBe('*')
      expect((await ask('/health')).headers.get('x-content-type-options')).toBe('nosniff')
      expect((await ask('/health')).headers.get('content-type')).toBe('application/json')
    }))
  it('goes where nothing else is known to lead, when such a place is set', () =>
    within({ routing: table({ fallback: 'https://tarnbrook.example/lost' }) }, async ({ ask }) => {
      for (const path of ['/c/unknown', '/c/rest', '/c/unknown/next']) {
        const response = await ask(path)
        expect([response.status, response.headers.get('location')]).toEqual([
          302,
          'https://tarnbrook.example/lost',
        ])
      }
    }))
})

describe('an order of the shop', () => {
  const message = (more: object = {}) =>
    JSON.stringify({
      type: 'order.created',
      timestamp: '2026-11-01T10:00:00Z',
      data: { order_id: 'T-1', ordered_at: '2026-11-01T10:00:00Z', currency: 'EUR', total: '49.00', ...more },
    })
  const signed = (body: string, id = 'm-1', at = new Date(), secret = SECRET) => ({
    method: 'POST',
    body,
    headers: {
      'webhook-id': id,
      'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
      'webhook-signature': new Webhook(secret).sign(id, at, body),
    },
  })
  it('is kept as it was signed, and answered with its ID', () =>
    within({}, async ({ ask, kept }) => {
      const response = await ask('/o/shop', signed(message()))
      expect([response.status, await response.json()]).toEqual([200, { order: 'T-1' }])
      expect(response.headers.get('content-type')).toBe('application/json')
      expect(kept()).toEqual([
        expect.objectContaining({ kind: 'order', workspace: 'w', id: 'm-1', message: message() }),
      ])
    }))
  it('is refused when it is long, long ago, signed by others, under too long an ID, or cannot be read', () =>
    within({}, async ({ ask, kept }) => {
      const long = message({ customer_id: 'x'.repeat(LONGEST_ORDER_MESSAGE) })
      const other = `whsec_${Buffer.from('another of twenty-four!!').toString('base64')}`
      const hourAgo = new Date(Date.now() - 3_600_000)
      for (const [init, status, words] of [
        [signed(long), 413, 'at most'],
        [signed(message(), 'm-2', hourAgo), 400, 'timestamp'],
        [signed(message(), 'm-3', new Date(), other), 401, 'Nothing was taken in'],
        [signed(message(), 'm'.repeat(300)), 400, 'webhook-id has at most'],
        [signed(message({ total: 'a lot' })), 422, 'total'],
        [signed('{'), 422, ''],
      ] as const) {
        const response = await ask('/o/shop', init)
        expect(response.status).toBe(status)
        expect(await response.text()).toContain(words)
      }
      expect((await ask('/o/other', signed(message()))).status).toBe(401)
      expect((await ask('/o/shop/next', signed(message()))).status).toBe(404)
      expect((await ask('/o/shop')).status).toBe(404)
      expect(kept()).toEqual([])
    }))
})

describe('a sender', () => {
  const request = (remoteAddress: string | undefined, headers: Record<string, string> = {}) =>
    ({ headers, socket: { remoteAddress } }) as unknown as IncomingMessage
  it.each([
    ['203.0.113.77', {}, false, '203.0.113.77', '203.0.113.0'],
    ['::ffff:203.0.113.77', {}, false, '203.0.113.77', '203.0.113.0'],
    ['2001:db8:1:2::6', {}, false, '2001:db8:1:2::', '2001:db8:1:2::'],
    ['127.0.0.1', { 'x-forwarded-for': '203.0.113.9' }, false, null, ''],
    ['127.0.0.1', { 'x-forwarded-for': '198.51.100.1, 203.0.113.9' }, true, '203.0.113.9', '203.0.113.0'],
    ['127.0.0.1', { 'x-forwarded-for': ' ' }, true, null, ''],
    ['127.0.0.1', {}, true, null, ''],
    ['127.0.0.1', { 'x-forwarded-for': 'unknown' }, true, 'unknown', ''],
    ['127.0.0.1', { 'x-forwarded-for': 'x'.repeat(80) }, true, 'x'.repeat(60), ''],
    [undefined, {}, false, '', ''],
  ] as const)(
    'at %s with %j, proxy %s, is limited as %s in %s',
    (remote, headers, proxy, limitedAs, network) => {
      const asked = request(remote, headers)
      for (let i = 0; i < 2; i++) expect(senderOf(asked, proxy)).toEqual({ limitedAs, network })
    },
  )
  it('speaks TLS when our own proxy says so, and nobody else', () => {
    const secure = request('127.0.0.1', { 'x-forwarded-proto': 'https' })
    expect([isSecure(secure, true), isSecure(secure, false), isSecure(request('127.0.0.1'), true)]).toEqual([
      true,
      false,
      false,
    ])
  })
  it('is answered so many times a minute, and our own machine always', async () => {
    vi.useFakeTimers({ toFake: ['Date', 'setTimeout'] })
    try {
      const limited = limitSenders({ requests: 2, events: 5, bytes: 1000 })
      const sender = (address: string) => senderOf(request(address), false)
      const may = (address: string) => limited(sender(address), 'requests')
      const asked = async (address: string) => [await may(address), await may(address), await may(address)]
      expect(await asked('203.0.113.1')).toEqual([true, true, false])
      expect(await asked('203.0.113.2')).toEqual([true, true, false])
      for (const own of ['127.0.0.1', '::1']) expect(await asked(own)).toEqual([true, true, true])
      // A whole /64 is one sender; events and bytes are counted by themselves.
      expect(await may('2001:db8:1:2::1')).toBe(true)
      expect(await may('2001:db8:1:2:3::1')).toBe(true)
      expect(await may('2001:db8:1:2:ffff::9')).toBe(false)
      expect(await limited(sender('203.0.113.1'), 'events', 5)).toBe(true)
      expect(await limited(sender('203.0.113.1'), 'events', 1)).toBe(false)
      expect(await limited(sender('203.0.113.1'), 'bytes', 1001)).toBe(false)
      vi.advanceTimersByTime(59_000)
      expect(await may('203.0.113.1')).toBe(false)
      vi.advanceTimersByTime(2_000)
      expect(await may('203.0.113.1')).toBe(true)
    } finally {
      vi.useRealTimers()
    }
  })
})

describe('the routing table', () => {
  it('is as the file says: what is not in it is nothing, not even what every object has', () => {
    const path = join(mkdtempSync(join(tmpdir(), 'aequant-routing-')), 'routing.json')
    writeFileSync(path, table({ fallback: 'https://tarnbrook.example/lost' }))
    const routing = watchRouting(path)
    expect(routing.route('kits')).toMatchObject({ network: 'n' })
    expect(routing.partner('open')).toMatchObject({ partner: 'corvane' })
    expect(routing.site('shop')).toMatchObject({ workspace: 'w' })
    for (const none of ['nothing', 'constructor', '__proto__', 'toString'])
      expect([routing.route(none), routing.partner(none), routing.site(none)]).toEqual([
        undefined,
        undefined,
        undefined,
      ])
    expect(routing.fallback()).toBe('https://tarnbrook.example/lost')
    expect([
      routing.isTest('w', 'token-1'),
      routing.isTest('x', 'token-1'),
      routing.isTest('w', 'no'),
    ]).toEqual([true, false, false])
    routing.stop()
  })
  it('is empty and silent before there is one, is taken up when it comes, and no more once it is stopped', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'aequant-routing-'))
    const path = join(folder, 'routing.json')
    const publish = (text: string) => {
      writeFileSync(join(folder, 'new'), text)
      renameSync(join(folder, 'new'), path)
    }
    const said = vi.spyOn(console, 'error').mockImplementation(() => {})
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] })
    try {
      const routing = watchRouting(path)
      expect(routing.route('kits')).toBeUndefined()
      expect(said).not.toHaveBeenCalled()
      publish(table())
      vi.advanceTimersByTime(1000)
      expect(routing.route('kits')).toBeDefined()
      publish('{ broken')
      vi.advanceTimersByTime(2000)
      // Said once, with why; not at each look.
      expect(said).toHaveBeenCalledTimes(1)
      expect(said.mock.calls[0]!.join(' ')).toMatch(/last good one stays.*JSON/s)
      expect(routing.route('kits')).toBeDefined()
      routing.stop()
      publish(table({ codes: {} }))
      vi.advanceTimersByTime(1000)
      expect(routing.route('kits')).toBeDefined()
    } finally {
      said.mockRestore()
      vi.useRealTimers()
    }
  })
})

describe('the script of the tag', () => {
  const built = mkdtempSync(join(tmpdir(), 'aequant-tag-'))
  beforeEach(() => {
    mkdirSync(join(built, 'dist'), { recursive: true })
    writeFileSync(join(built, 'dist', 'aq.js'), `self.tag=${'"once more";'.repeat(40)}`)
    writeFileSync(join(built, 'dist', 'aq-test.js'), 'self.observed=1')
    vi.spyOn(process, 'cwd').mockReturnValue(built)
  })
  afterEach(() => void vi.restoreAllMocks())
  it('comes as small as the browser takes it, and is not sent again while it is the same', () =>
    within({}, async ({ ask }) => {
      const as = async (encoding: string, path = '/aq.js') => {
        const response = await ask(path, { headers: { 'accept-encoding': encoding } })
        return { response, bytes: Buffer.from(await response.arrayBuffer()) }
      }
      const plain = await as('identity')
      expect(plain.response.headers.get('content-type')).toBe('text/javascript; charset=utf-8')
      expect(plain.response.headers.get('access-control-allow-origin')).toBe('*')
      expect(plain.response.headers.get('cache-control')).toBe('public, max-age=3600')
      expect(plain.response.headers.get('vary')).toBe('accept-encoding')
      expect(plain.response.headers.get('content-encoding')).toBeNull()
      for (const [encoding, kind] of [
        ['br, gzip', 'br'],
        ['gzip', 'gzip'],
        ['gzip;q=0, br;q=0', null],
      ] as const) {
        const { response, bytes } = await as(encoding)
        expect(response.headers.get('content-encoding')).toBe(kind)
        expect(bytes.equals(plain.bytes)).toBe(true)
      }
      const etag = plain.response.headers.get('etag')!
      expect(etag).toMatch(/^"[0-9a-f]{16}"$/)
      const again = await ask('/aq.js', { headers: { 'if-none-match': etag } })
      expect([again.status, await again.text(), again.headers.get('etag')]).toEqual([304, '', etag])
      expect((await ask('/aq.js', { headers: { 'if-none-match': '"other"' } })).status).toBe(200)
    }))
  it('says before it what it does on a site, which may be kept for a short time', () =>
    within({}, async ({ ask }) => {
      const alone = await (await ask('/aq.js')).text()
      const response = await ask('/aq.js?site=shop')
      const text = await response.text()
      expect(text).toMatch(
        /^self\.aequantDoing=\{.*"hosts":\["tarnbrook\.example"\],"parameters":\[\],"test":false\};/,
      )
      expect(text.endsWith(alone)).toBe(true)
      expect(Number(/max-age=(\d+)/.exec(response.headers.get('cache-control')!)![1])).toBeLessThan(3600)
      expect((await ask('/aq.js?site=shop')).headers.get('etag')).toBe(response.headers.get('etag'))
      expect((await ask('/aq.js?site=other')).headers.get('etag')).not.toBe(response.headers.get('etag'))
      expect(await (await ask('/aq.js?site=nobody')).text()).toBe(alone)
      expect((await ask('/aq-test.js')).status).toBe(200)
      expect(await (await ask('/aq-test.js')).text()).toBe('self.observed=1')
    }))
})

describe('a collector that faces the internet', () => {
  const holding = (port: number, sent: string) =>
    new Promise<string>(done => {
      const socket = connect(port, '127.0.0.1', () => socket.write(sent))
      let answer = ''
      socket.on('data', chunk => (answer += chunk))
      socket.on('close', () => done(answer))
      socket.on('error', () => done(answer))
    })
  it('cuts off who does not go on sending', { timeout: 40_000 }, () =>
    within({}, async ({ port, ask }) => {
      const head = 'POST /e HTTP/1.1\r\nhost: t\r\ncontent-length: 500\r\n\r\n[{"site"'
      const slow = [...Array.from({ length: 10 }, () => head), 'GET /c/kits HTTP/1.1\r\nhost:']
      const answers = await Promise.all(slow.map(sent => holding(port, sent)))
      for (const answer of answers) expect(answer).toContain('408')
      expect((await ask('/c/kits')).status).toBe(302)
    }),
  )
  it('leaves room for others where many connections are held open', () =>
    within({ connections: 12 }, async ({ port }) => {
      const held = Array.from({ length: 40 }, () => connect(port, '127.0.0.1'))
      for (const socket of held) socket.on('error', () => {})
      await vi.waitFor(() => expect(held.filter(socket => socket.destroyed).length).toBeGreaterThan(27))
      for (const socket of held) socket.destroy()
      await vi.waitFor(async () =>
        expect(await holding(port, 'GET /c/kits HTTP/1.1\r\nhost: t\r\nconnection: close\r\n\r\n')).toContain(
          '302',
        ),
      )
    }))
  it('counts the events and bytes of a request, and tells strangers nothing of itself', () =>
    within(
      { behindProxy: true, perMinute: 150, bytesPerMinute: 30_000, routing: table({ keys }) },
      async ({ ask }) => {
        const from = (address: string, more: object = {}) => ({
          headers: { 'x-forwarded-for': address, ...more },
        })
        const events = (n: number) => ({
          method: 'POST',
          body: JSON.stringify(
            Array.from({ length: n }, (_, i) => ({ site: 'shop', id: `event-${n}-${i}`, name: 'page' })),
          ),
        })
        const statusOf = async (path: string, init: RequestInit) => (await ask(path, init)).status
        expect(await statusOf('/e', { ...events(100), ...from('203.0.113.1') })).toBe(204)
        expect(await statusOf('/e', { ...events(90), ...from('203.0.113.1') })).toBe(429)
        expect(await statusOf('/e', { ...events(90), ...from('203.0.113.2') })).toBe(204)
        const large = { method: 'POST', body: ' '.repeat(20_000) }
        expect(await statusOf('/e', { ...large, ...from('203.0.113.3') })).toBe(400)
        expect(await statusOf('/e', { ...large, ...from('203.0.113.3') })).toBe(429)
        for (const path of ['/health', '/metrics']) {
          expect(await statusOf(path, from('203.0.113.4'))).toBe(404)
          expect(await statusOf(path, from('203.0.113.4', { authorization: 'Bearer a-guess' }))).toBe(404)
          expect(await statusOf(path, from('203.0.113.4', { authorization: `Bearer ${keys.status}` }))).toBe(
            200,
          )
          expect(await statusOf(path, {})).toBe(200)
        }
      },
    ))
})
const keys = { address: 'a key of addresses', status: 'a-key-of-status-xyz' }
