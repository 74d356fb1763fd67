import { readFileSync } from 'node:fs'
import { createServer, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { bundle } from '../../scripts/bundle.mjs'
import type { Routing } from '../../src/core/intake/routing'
import { chromium, expect, type Page, test } from './test'

/** Sites of every kind with the tag on them, and a collector that only listens. */
interface Event {
  id: string
  name: string
  page: string
  click?: string
  visitor?: string
  referrer?: string
  rule?: string
  value?: string
  view?: string
}
type Doing = Pick<Routing['sites'][string], 'rules' | 'networks' | 'hosts'> & { test: boolean }
interface SitePage {
  body: string
  head?: string
  policy?: string
  /** attributes of the tag's own script */
  tag?: string
}

let server: Server
let port: number
let told: Event[]
let seen: { called: { how: string; network: string }[]; page: string; view: string }[]
let asked: string[]
let doing: Doing
let pages: Record<string, SitePage>
const at = (host: string, path: string) => `http://${host}.localhost:${port}${path}`
/** What was told, once, however often it was sent. */
const hear = (events: Event[]) => told.push(...events.filter(e => !told.some(t => t.id === e.id)))
const bodyOf = async (request: IncomingMessage) => {
  let body = ''
  for await (const chunk of request) body += chunk
  return body
}

test.beforeAll(async () => {
  const root = process.cwd()
  await bundle(root)
  const script = (name: string) => readFileSync(join(root, 'dist', name), 'utf8')
  server = createServer(async (request, response) => {
    const { hostname, pathname } = new URL(request.url!, `http://${request.headers.host}`)
    const open = { 'access-control-allow-origin': '*' }
    if (hostname === 'tracking.localhost') {
      if (pathname === '/e') hear([JSON.parse(await bodyOf(request))].flat())
      if (pathname === '/t') seen.push(JSON.parse(await bodyOf(request)))
      const text: Record<string, string> = {
        '/aq.js': `self.aequantDoing=${JSON.stringify(doing)};${script('aq.js')}`,
        '/aq-test.js': script('aq-test.js'),
        '/r/s': JSON.stringify(doing),
        '/network.js': 'self.heard=[];self.network=(...said)=>heard.push(said)',
      }
      const found = text[pathname]
      response.writeHead(found || request.method === 'POST' ? 200 : 404, {
        ...open,
        'content-type': 'text/javascript',
      })
      return response.end(found)
    }
    asked.push(pathname)
    const page = pages[pathname]
    if (!page) return response.writeHead(404).end()
    response.writeHead(200, {
      'content-type': 'text/html; charset=utf-8',
      ...(page.policy && { 'content-security-policy': page.policy }),
    })
    const tag = `<script async src="${at('tracking', '/aq.js')}" data-site="s" ${page.tag ?? ''}></script>`
    response.end(
      `<!doctype html><html><head><title>A shop</title>${tag}${page.head ?? ''}</head><body>${page.body}</body></html>`,
    )
  })
  await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
  port = (server.address() as AddressInfo).port
})
test.afterAll(() => {
  server.closeAllConnections()
  return new Promise<void>(done => server.close(() => done()))
})
test.beforeEach(() => {
  told = []
  seen = []
  asked = []
  doing = { rules: [], networks: [], hosts: [], test: false }
  pages = { '/': { body: 'Looms' } }
})

const rule = (id: string, when: Routing['sites'][string]['rules'][number]['when'], path?: string) => ({
  id,
  result: id,
  when,
  where: { any: path ? [{ by: 'equals' as const, text: path }] : [], none: [] },
  facts: {},
})
const pagesTold = () => told.filter(e => e.name === 'page').map(e => e.page.replace(/^[^/]+\/\/[^/]+/, ''))
const results = () => told.filter(e => e.rule).map(e => e.name)
type Pieces = Routing['sites'][string]['networks'][number]['event']
const network = (base: string, event: Pieces) => ({
  id: 'norrfeed',
  base,
  event,
  slots: { thanks: { slot: 'purchase', value: '', currency: '' } },
})
const mark = { place: 'test' as const, as: 'string' as const }
const heard = (page: Page) => page.evaluate(() => (window as never as { heard?: unknown[] }).heard)

for (const kind of ['told by the browser', 'that a router changes in an older browser'] as const)
  test(`addresses ${kind} are pages, with their results`, async ({ page }) => {
    if (kind !== 'told by the browser')
      await page.addInitScript(() => Object.defineProperty(window, 'navigation', { value: undefined }))
    doing.rules = [
      rule('kits', { on: 'page' }, '/kits'),
      rule('thanks', { on: 'page' }, '/#/thanks'),
      rule('asked', { on: 'element_click', selector: '#ask' }, '/kits'),
    ]
    pages['/'] = { body: '<button id="ask">Ask</button><h2 id="care">Care</h2><a href="#care">Care</a>' }
    await page.goto(at('shop', '/?utm_source=norrfeed&aq_click=c-1'))
    await expect.poll(pagesTold).toEqual(['/?utm_source=norrfeed&aq_click=c-1'])
    await page.locator('#ask').click()
    await page.evaluate(() => history.pushState({}, '', '/kits'))
    await expect.poll(pagesTold).toHaveLength(2)
    await expect.poll(results).toEqual(['kits'])
    expect(told.findLast(e => e.name === 'page')).toMatchObject({
      page: at('shop', '/kits'),
      click: 'c-1',
      referrer: at('shop', '/?utm_source=norrfeed&aq_click=c-1'),
    })
    await page.locator('#ask').click()
    await expect.poll(results).toEqual(['kits', 'asked'])
    // A place on the page is no other page, and neither is what a search box writes into the same address.
    await page.locator('a[href="#care"]').click()
    await page.evaluate(() => history.replaceState({}, '', '/kits'))
    await page.evaluate(() => (location.hash = '#/thanks'))
    await page.evaluate(() => history.pushState({}, '', '/#/thanks'))
    await expect.poll(results).toEqual(['kits', 'asked', 'thanks'])
    await page.goBack()
    await page.goBack()
    await expect.poll(() => pagesTold().at(-1)).toBe('/kits')
    await page.locator('#ask').click()
    // Back on a page is another view, and the same result is none.
    await expect.poll(results).toEqual(['kits', 'asked', 'thanks', 'asked'])
    expect(pagesTold()).not.toContain('/kits#care')
    expect(new Set(told.map(e => e.visitor)).size).toBe(1)
  })

test('what a single-page site draws after its address is read once it is there, and fields are filled', async ({
  page,
}) => {
  const value = { from: 'element' as const, selector: '#total' }
  doing.rules = [{ ...rule('thanks', { on: 'page' }, '/thanks'), facts: { value } }]
  await page.goto(at('shop', '/?aq_click=c-2'))
  await page.evaluate(() => {
    history.pushState({}, '', '/thanks')
    requestAnimationFrame(() => {
      document.body.innerHTML = '<b id="total">149.00</b><input data-aq="click_id">'
    })
  })
  await expect.poll(() => told.find(e => e.rule)).toMatchObject({ name: 'thanks', value: '149.00' })
  await expect(page.locator('input')).toHaveValue('c-2')
})

test('a page that is made ready beforehand tells nothing until it is shown', async ({ page }) => {
  await page.addInitScript(() => {
    let ready = true
    Object.defineProperty(document, 'prerendering', { get: () => ready })
    addEventListener('opened', () => {
      ready = false
      document.dispatchEvent(new Event('prerenderingchange'))
    })
  })
  pages['/'] = { body: 'Looms', tag: 'onload="aequant(\'own\')"' }
  await page.goto(at('shop', '/?aq_click=c-3'))
  await page.mouse.click(10, 10)
  await page.waitForFunction(() => 'aequant' in window)
  // Another page, opened later and shown at once, has told of itself.
  const shown = await page.context().newPage()
  await shown.goto(at('shop', '/?shown'))
  await expect.poll(() => told.map(e => e.name)).toEqual(['page', 'own'])
  expect(told.filter(e => !e.page.includes('shown'))).toEqual([])
  await page.evaluate(() => dispatchEvent(new Event('opened')))
  await expect.poll(() => told.filter(e => e.page.includes('c-3')).map(e => e.name)).toEqual(['page', 'own'])
})

test('a page back from the browser’s own store is seen again, and its result is none', async () => {
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox'],
    ignoreDefaultArgs: ['--disable-back-forward-cache'],
  })
  const page = await browser.newPage()
  doing.rules = [rule('thanks', { on: 'page' }, '/thanks')]
  const kept = "addEventListener('pageshow', e => e.persisted && navigator.sendBeacon('/kept'))"
  pages['/thanks'] = { body: 'Thank you', head: `<script>${kept}</script>` }
  await page.goto(at('shop', '/thanks'))
  await expect.poll(results).toEqual(['thanks'])
  await page.goto(at('shop', '/'))
  await expect.poll(pagesTold).toEqual(['/thanks', '/'])
  await page.evaluate(() => setTimeout(() => history.back()))
  await expect.poll(() => asked).toContain('/kept')
  await expect.poll(pagesTold).toEqual(['/thanks', '/', '/thanks'])
  expect(results()).toEqual(['thanks'])
  await browser.close()
})

test.describe('under the policies of a page', () => {
  const script = () => `<script src="${at('tracking', '/network.js')}"></script>`
  const call = (end = "')"): Pieces => ["network('purchase','", mark, end]
  const image = (): Pieces => [
    `<img src="${at('tracking', '/nothing-here')}?t=`,
    { place: 'test', as: 'address' },
    '">',
  ]
  /** What the tag says that became of a network's code on the page of a result, in a live test. */
  async function tried(page: Page, policy: string, tag = '', calls = call()) {
    doing = {
      rules: [rule('thanks', { on: 'page' }, '/thanks')],
      networks: [network(`${script()}<script>network('begin')</script>`, calls)],
      hosts: [],
      test: true,
    }
    pages['/thanks'] = { body: 'Thank you', policy, tag }
    await page.goto(at('shop', '/thanks?aq_test=t'))
    await expect.poll(() => seen.flatMap(s => s.called).length).toBeGreaterThan(0)
    return seen.findLast(s => s.called.length > 0)!.called.map(c => c.how)
  }
  const sources = () => `${at('tracking', '')} 'nonce-n0'`

  test('the page’s nonce is passed on', async ({ page }) => {
    expect(await tried(page, `script-src ${sources()}`, 'nonce="n0"')).toEqual(['called'])
    expect(await heard(page)).toEqual([['begin'], ['purchase', 'yes']])
  })
  test('the nonce alone is enough where hosts are not listed', async ({ page }) => {
    const policy = "script-src 'nonce-n0' 'strict-dynamic'"
    expect(await tried(page, policy, 'nonce="n0"')).toEqual(['called'])
  })
  test('code that may not run is not said to be called', async ({ page }) => {
    expect(await tried(page, `script-src ${at('tracking', '')}`)).toEqual(['not_run'])
    expect(await heard(page)).toEqual([])
  })
  test('a script that may not be fetched is not said to be called', async ({ page }) => {
    const policy = `script-src ${at('tracking', '/aq.js')} ${at('tracking', '/aq-test.js')} 'unsafe-inline'`
    expect(await tried(page, policy)).toEqual(['not_loaded'])
  })
  test('code with a slip is not said to be called', async ({ page }) => {
    expect(await tried(page, '', '', call("'"))).toEqual(['not_run'])
  })
  test('an image that may not be fetched is not said to be called', async ({ page }) => {
    expect(await tried(page, "img-src 'none'", '', image())).toEqual(['not_run'])
  })
  test('an image is called whatever comes as an answer', async ({ page }) => {
    expect(await tried(page, '', '', image())).toEqual(['called'])
  })
  test('Trusted Types are given by a policy of our own', async ({ page }) => {
    const policy = "require-trusted-types-for 'script'; trusted-types aequant"
    expect(await tried(page, policy)).toEqual(['called'])
    expect(await heard(page)).toEqual([['begin'], ['purchase', 'yes']])
  })
  test('a page that forbids our policy has nothing placed, and is said to', async ({ page }) => {
    doing.networks = [network(script(), call())]
    doing.rules = [rule('thanks', { on: 'page' }, '/thanks')]
    pages['/thanks'] = { body: '', policy: "require-trusted-types-for 'script'; trusted-types 'none'" }
    await page.goto(at('shop', '/thanks'))
    await expect.poll(results).toEqual(['thanks'])
    expect(await page.locator('[data-aq-placed]').count()).toBe(0)
    expect(await page.evaluate(() => 'heard' in window)).toBe(false)
  })
})

test.describe('a shop on several domains', () => {
  const checkout = `<form method="get" action="http://HOST/pay"><button>By GET</button></form>
    <form method="post" action="http://HOST/pay"><input name="action" value="x"><button>By POST</button></form>
    <a href="http://HOST/pay?a=1#top">By link</a> <a href="http://other.localhost/pay">Elsewhere</a>`
  const host = () => `pay.localhost:${port}`
  test.beforeEach(() => {
    doing.hosts = ['shop.localhost', 'pay.localhost']
    pages['/'] = { body: checkout.replaceAll('HOST', host()) }
    pages['/pay'] = {
      body: `<input data-aq="click_id"><input data-aq="utm_source"><a href="${at('shop', '/')}">Back</a>`,
    }
  })
  for (const way of ['By GET', 'By POST', 'By link'])
    test(`carries the click to its checkout: ${way.toLowerCase()}`, async ({ page }) => {
      await page.goto(at('shop', '/?utm_source=norrfeed&aq_click=c-4'))
      await expect.poll(pagesTold).toHaveLength(1)
      await page.getByText(way).click()
      await expect(page.locator('input[data-aq="click_id"]')).toHaveValue('c-4')
      await expect.poll(() => told.at(-1)).toMatchObject({ name: 'page', click: 'c-4' })
      // Back again, the touch is still the one by which the shopper came.
      await page.getByText('Back').click()
      await expect.poll(pagesTold).toHaveLength(3)
      const memory = await page.evaluate(() => JSON.parse(localStorage.getItem('aequant')!))
      expect(memory.last).toMatchObject({ utm_source: 'norrfeed', aq_click: 'c-4' })
    })
  test('tells no other site', async ({ page }) => {
    await page.goto(at('shop', '/?aq_click=c-5'))
    await expect.poll(pagesTold).toHaveLength(1)
    const left = page.waitForRequest(/other\.localhost/)
    await page.getByText('Elsewhere').click()
    expect((await left).url()).toBe('http://other.localhost/pay')
  })
})

test('who refuses where nobody asked is followed on no other page', async ({ page }) => {
  await page.goto(at('shop', '/?aq_click=c-6'))
  await expect.poll(() => told.length).toBe(1)
  await page.evaluate(() =>
    (window as never as { aequant: (n: string, v: boolean) => void }).aequant('consent', false),
  )
  await page.goto(at('shop', '/?aq_click=c-7'))
  await expect.poll(() => told.length).toBe(2)
  expect(told[1]).toMatchObject({ name: 'page', page: at('shop', '/') })
  expect(told[1]!.visitor ?? told[1]!.click).toBeUndefined()
})

test('a live test observes every page of a single-page site on its own', async ({ page }) => {
  doing.test = true
  doing.rules = [rule('kits', { on: 'page' }, '/kits')]
  await page.goto(at('shop', '/?aq_test=t'))
  await expect.poll(() => seen.length).toBeGreaterThan(0)
  await page.evaluate(() => history.pushState({}, '', '/kits'))
  await expect.poll(() => seen.some(s => s.page === at('shop', '/kits'))).toBe(true)
  const [first, second] = [seen[0]!, seen.at(-1)!]
  expect(second.view).not.toBe(first.view)
  expect(told.find(e => e.rule)?.view).toBe(second.view)
})
