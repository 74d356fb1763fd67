import { mkdtempSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { corvane } from './corvane'

const told: URLSearchParams[] = []
const server = createServer((request, response) => {
  told.push(new URL(request.url ?? '/', 'http://x').searchParams)
  response.end('OK')
})
beforeAll(() => new Promise<void>(done => server.listen(0, '127.0.0.1', done)))
afterAll(() => server.close())

it('fills each macro of the postback, and tells of the same deal again when it is settled otherwise', async () => {
  const file = join(mkdtempSync(join(tmpdir(), 'corvane-')), 'state.json')
  const partner = corvane(file)
  const { port } = server.address() as AddressInfo
  partner.takePostback(
    `http://localhost:${port}/p/x?p1=#p1#&deal=#deal#&sum=#amount#&cur=#cur#&is=#state#&key=s`,
  )
  await partner.enrol(new URLSearchParams('p1=click%201&p7=ignored'), Date.now())
  const deal = told[0]!.get('deal')!
  expect(Object.fromEntries(told[0]!)).toEqual({
    p1: 'click 1',
    deal,
    sum: '49.00',
    cur: 'EUR',
    is: 'ok',
    key: 's',
  })
  // It remembers over a restart.
  await corvane(file).settle(deal, 'void')
  expect([told[1]!.get('deal'), told[1]!.get('is')]).toEqual([deal, 'void'])
  expect(() => partner.takePostback('javascript:alert(1)')).toThrow()
})
