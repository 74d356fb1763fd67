import { mkdtempSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { createCollector } from './server'

const folder = mkdtempSync(join(tmpdir(), 'aequant-collector-'))
const publish = (text: string) => {
  writeFileSync(join(folder, 'routing.new'), text)
  renameSync(join(folder, 'routing.new'), join(folder, 'routing.json'))
}
const routing = (destination: string) =>
  JSON.stringify({ version: 1, codes: { kits: { workspace: 'w', network: 'norrfeed', destination } } })
const journal = () =>
  readdirSync(join(folder, 'journal')).flatMap(name =>
    readFileSync(join(folder, 'journal', name), 'utf8')
      .split('\n')
      .filter(Boolean)
      .map(line => JSON.parse(line)),
  )
let collector: ReturnType<typeof createCollector>
let origin: string
const get = (path: string, headers: Record<string, string> = {}) =>
  fetch(origin + path, { redirect: 'manual', headers })

beforeAll(async () => {
  publish(routing('https://tarnbrook.example/kits?lang=pt#looms'))
  collector = createCollector(folder)
  await new Promise<void>(done => collector.server.listen(0, '127.0.0.1', done))
  origin = `http://127.0.0.1:${(collector.server.address() as AddressInfo).port}`
})
afterAll(() => collector.close())

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
      device: 'phone',
    })
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
