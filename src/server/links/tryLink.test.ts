import { createServer, type Server } from 'node:http'
import { afterAll, beforeAll, expect, it, vi } from 'vitest'
import type { Database } from '@/data/connect'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { tryLink } from './tryLink'

let database: Database
let workspace: Workspace
let stop: () => Promise<void>
let server: Server
let port: number
const tracked = () => `http://localhost:${port}`
const shop = () => `http://shop.tarnbrook.localhost:${port}`
const asked: string[] = []

/** The tracking domain and a shop in one, each path with its own way to treat a click. */
function answers(path: string, query: string): { status: number; to?: string; page?: string } {
  const page = `<h2 id="looms">Looms</h2><a name="é 1"></a><script src="${tracked()}/aq.js?site=x"></script>`
  switch (path) {
    case '/c/well':
      return { status: 302, to: `${shop()}/kits?${query}&aq_click=c1` }
    case '/c/silent':
      return { status: 302, to: `${shop()}/kits?${query}` }
    case '/loses':
      return { status: 301, to: '/kits?utm_source=kelpie' }
    case '/doubles':
      return { status: 302, to: `/kits?${query}&utm_source=kelpie` }
    case '/encodes':
      return { status: 302, to: `/kits?${query.replaceAll('%', '%25')}` }
    case '/round':
      return { status: 302, to: '/round' }
    case '/away':
      return { status: 302, to: 'http://elsewhere.example/kits' }
    case '/inside':
      return { status: 302, to: 'http://169.254.1.1/secret' }
    case '/c/course':
      return { status: 302, to: `${shop()}/course?${query}&aq_click=c1` }
    case '/c/gone':
      return { status: 302, to: `${shop()}/course-gone?${query}&aq_click=c1` }
    case '/course':
      return {
        status: 200,
        page: `${page}<p><a href="/kits">Kits</a> <a href="${tracked()}/c/course/next">On</a>`,
      }
    case '/course-gone':
      return { status: 200, page: `${page}<a href="${tracked()}/c/gone/next?x=1">On</a>` }
    case '/c/course/next':
      return { status: 302, to: `${shop()}/offer?p1=${new URLSearchParams(query).get('aq_click')}` }
    case '/c/gone/next':
      return { status: 302, to: `${shop()}/offer-gone?x=1` }
    case '/c/silent-offer':
      return { status: 302, to: `${shop()}/course-silent?${query}&aq_click=c1` }
    case '/course-silent':
      return { status: 200, page: `${page}<a href="${tracked()}/c/silent-offer/next">On</a>` }
    case '/c/silent-offer/next':
      return { status: 302, to: `${shop()}/offer?p1=` }
    case '/offer':
      return { status: 200, page: '<h1>The partner’s offer</h1>' }
    case '/kits':
      return { status: 200, page }
    case '/bare':
      return { status: 200, page: '<p>No tag here.</p>' }
    default:
      return { status: 404, page: 'Nothing.' }
  }
}

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  server = createServer((request, response) => {
    const [path = '', query = ''] = (request.url ?? '').split('?')
    asked.push(`${request.headers.host} ${request.url}`)
    const { status, to, page } = answers(path, query)
    response.writeHead(status, to ? { location: to } : { 'content-type': 'text/html' }).end(page)
  })
  await new Promise<void>(ready => server.listen(0, '127.0.0.1', ready))
  const address = server.address()
  port = typeof address === 'object' && address ? address.port : 0
  vi.stubEnv('TRACKING_ORIGIN', tracked())
  vi.stubEnv('PRACTICE_PORT', String(port))
  vi.stubEnv('AEQUANT_PRACTICE', 'yes')
  const found = (await findWorkspace(database, 'w'))!
  workspace = {
    ...found,
    settings: { ...found.settings, hosts: ['shop.tarnbrook.localhost', '169.254.1.1'] },
  }
})
afterAll(async () => {
  vi.unstubAllEnvs()
  server.close()
  await stop()
})
const tried = (address: string) => tryLink(workspace, address)
const QUERY = 'utm_source=kelpie&utm_content=a%20b'

it('follows a link through the tracking domain to its page, and finds nothing wrong', async () => {
  const { hops, findings, reached } = await tried(`${tracked()}/c/well?${QUERY}#looms`)
  expect([reached, findings]).toEqual([true, []])
  expect(hops.map(h => h.status)).toEqual([302, 200])
  expect(hops[1]?.address).toBe(`${shop()}/kits?${QUERY}&aq_click=c1#looms`)
  expect(hops[0]?.parameters.map(p => [p.key, p.fate])).toEqual([
    ['utm_source', 'kept'],
    ['utm_content', 'kept'],
    ['aq_click', 'added'],
  ])
})

it('goes on from the landing page to the offer, with the click ID under the partner’s name', async () => {
  const { hops, findings, reached } = await tried(`${tracked()}/c/course?${QUERY}`)
  expect([reached, findings]).toEqual([true, []])
  expect(hops.map(h => [h.leg, h.status])).toEqual([
    ['landing', 302],
    ['landing', 200],
    ['offer', 302],
    ['offer', 200],
  ])
  expect(hops[2]?.address).toBe(`${tracked()}/c/course/next?aq_click=c1`)
  expect(hops[3]?.address).toBe(`${shop()}/offer?p1=c1`)
})

it('says where the offer does not answer, or is reached without the click ID', async () => {
  expect(await tried(`${tracked()}/c/gone?${QUERY}`)).toMatchObject({
    reached: false,
    findings: [{ code: 'bad_offer', status: 404 }],
  })
  expect(await tried(`${tracked()}/c/silent-offer?${QUERY}`)).toMatchObject({
    reached: true,
    findings: [{ code: 'no_click_at_offer' }],
  })
})

it.each([
  ['loses', [{ code: 'lost', hop: 0, key: 'utm_content' }]],
  ['doubles', [{ code: 'doubled', hop: 0, key: 'utm_source' }]],
  ['encodes', [{ code: 'encoded_again', hop: 0, key: 'utm_content' }]],
])('says at which hop a parameter suffers: %s', async (path, found) => {
  const { findings, reached } = await tried(`${shop()}/${path}?${QUERY}`)
  expect([reached, findings]).toEqual([true, found])
})

it('misses the click ID where our own domain did not add it, the tag and the anchor where they are not', async () => {
  expect((await tried(`${tracked()}/c/silent?${QUERY}`)).findings).toEqual([{ code: 'no_click_id' }])
  expect((await tried(`${shop()}/bare#looms`)).findings).toEqual([
    { code: 'no_tag' },
    { code: 'no_anchor', fragment: 'looms' },
  ])
})

it('reads a fragment in any script, with stray percent signs, and leaves routes of the page’s own alone', async () => {
  expect((await tried(`${shop()}/kits#%C3%A9%201`)).findings).toEqual([])
  expect((await tried(`${shop()}/kits#100%`)).findings).toEqual([{ code: 'no_anchor', fragment: '100%' }])
  expect((await tried(`${shop()}/kits#/basket`)).findings).toEqual([])
})

it('ends where a link goes round, leads to nothing, or away to a host that is not listed', async () => {
  expect(await tried(`${shop()}/round`)).toMatchObject({ reached: false, findings: [{ code: 'loop' }] })
  expect(await tried(`${shop()}/gone`)).toMatchObject({
    reached: false,
    findings: [{ code: 'bad_status', status: 404 }],
  })
  expect(await tried(`${shop()}/away`)).toMatchObject({
    reached: false,
    findings: [{ code: 'not_followed', host: 'elsewhere.example' }],
  })
  expect(await tried(`${shop()}/inside`)).toMatchObject({ reached: false, findings: [{ code: 'no_answer' }] })
  expect(asked.filter(a => !/^(localhost|shop\.tarnbrook\.localhost):/.test(a))).toEqual([])
})
