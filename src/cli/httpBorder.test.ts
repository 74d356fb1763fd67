import { createServer } from 'node:http'
import { type AddressInfo, connect } from 'node:net'
import { expect, it } from 'vitest'
import { guardServer, malformed } from './httpBorder'

it.each([
  ['GET', '/intake/orders/A%2F1?x=%ff', null],
  ['POST', '/api/profiles/k%C3%B6ln', null],
  ['GET', '/intake/orders/%ff', 400],
  ['GET', '/api/profiles/%ed%a0%80', 400],
  ['GET', '/guide/%', 400],
  ['TRACE', '/weigh', 405],
] as const)('%s %s is answered with %s', (method, url, status) => {
  expect(malformed({ method, url })?.status ?? null).toBe(status)
})

it('answers before whoever else listens', async () => {
  let served = 0
  const server = guardServer(createServer((_, response) => void response.end(String((served += 1)))))
  await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
  const { port } = server.address() as AddressInfo
  const ask = (line: string) =>
    new Promise<string>(done => {
      let answer = ''
      const socket = connect(port, '127.0.0.1', () =>
        socket.write(`${line} HTTP/1.1\r\nhost: t\r\nconnection: close\r\n\r\n`),
      )
      socket.on('data', chunk => (answer += chunk))
      socket.on('close', () => done(answer))
    })
  expect(await ask('TRACE /')).toMatch(/^HTTP\/1\.1 405 [\s\S]*allow: GET/)
  expect(await ask('GET /guide/%ff')).toMatch(/^HTTP\/1\.1 400 [\s\S]*not percent-encoded/)
  expect(served).toBe(0)
  expect(await ask('GET /guide')).toMatch(/^HTTP\/1\.1 200/)
  server.close()
})
