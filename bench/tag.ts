import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Browser, chromium } from '@playwright/test'
import { createCollector } from '@/collector/server'
import { routingSchema } from '@/core/intake/routing'
import { freePort } from './freePort'
import type { Measure } from './measure'
import { median } from './median'

const PAGE_PORT = await freePort()
const COLLECTOR_PORT = await freePort()
const ROUNDS = 25
const RULES = 30
const SETTLED_MS = 900

/** Thirty rules of every kind, some on this page and some on others. */
const rules = Array.from({ length: RULES }, (_, i) => ({
  id: `r${i}`,
  result: 'order',
  when: [
    { on: 'page' },
    { on: 'link_click' },
    { on: 'element_click', selector: `.buy-${i}` },
    { on: 'form_sent' },
    { on: 'element_seen', selector: `#part-${i}` },
    { on: 'scroll', share: 50 },
    { on: 'video', share: 50 },
    { on: 'engaged', seconds: 30 },
    { on: 'own_event', name: 'basket' },
  ][i % 9],
  where: {
    any: [
      { by: 'pattern', text: `/page-${i % 2 === 0 ? '' : i}` },
      { by: 'contains', text: `/page?of=${i}` },
    ],
  },
}))

const page = (tag: string) =>
  `<!doctype html><html><head><title>A page</title>${tag}</head><body>${Array.from(
    { length: 200 },
    (_, i) => `<section id="part-${i}"><h2>Part ${i}</h2><p>Warp and weft, over and under.</p></section>`,
  ).join('')}</body></html>`

/** Main-thread time in ms that opening a page takes: until it is loaded, and until it has come to rest. */
async function mainThreadMs(browser: Browser, address: string): Promise<[loaded: number, rested: number]> {
  const context = await browser.newContext()
  const tab = await context.newPage()
  const session = await context.newCDPSession(tab)
  await session.send('Performance.enable')
  const taken = async () => {
    const { metrics } = await session.send('Performance.getMetrics')
    return (metrics.find(m => m.name === 'TaskDuration')?.value ?? 0) * 1000
  }
  await tab.goto(address, { waitUntil: 'load' })
  const loaded = await taken()
  await tab.waitForTimeout(SETTLED_MS)
  const rested = await taken()
  await context.close()
  return [loaded, rested]
}

/** What the tag with thirty rules adds to a page's load, against the page without it. */
export async function benchTag(): Promise<Measure[]> {
  const folder = mkdtempSync(join(tmpdir(), 'aequant-bench-tag-'))
  const routing = routingSchema.parse({ version: 2, sites: { bench: { workspace: 'main', rules } } })
  writeFileSync(join(folder, 'routing.json'), JSON.stringify(routing))
  const { server, close } = createCollector(folder)
  const tag = `<script async src="http://localhost:${COLLECTOR_PORT}/aq.js?site=bench" data-site="bench"></script>`
  // The least that any tag does: one script that sends one request.
  const least = `<script async src="/least.js"></script>`
  const leastScript = `setTimeout(() => fetch('/heard', { method: 'POST', body: '[]', keepalive: true }))`
  const site = createServer(({ url = '' }, response) => {
    if (url === '/least.js') response.writeHead(200, { 'content-type': 'text/javascript' }).end(leastScript)
    else if (url === '/heard') response.writeHead(204).end()
    else
      response
        .writeHead(200, { 'content-type': 'text/html' })
        .end(page(url.includes('tagged') ? tag : url.includes('least') ? least : ''))
  })
  await new Promise<void>(done => server.listen(COLLECTOR_PORT, '127.0.0.1', done))
  await new Promise<void>(done => site.listen(PAGE_PORT, '127.0.0.1', done))
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  const taken: Record<'plain' | 'least' | 'tagged', [loaded: number, rested: number][]> = {
    plain: [],
    least: [],
    tagged: [],
  }
  for (let round = 0; round <= ROUNDS; round++)
    for (const kind of ['plain', 'least', 'tagged'] as const) {
      const ms = await mainThreadMs(browser, `http://localhost:${PAGE_PORT}/page-0?${kind}`)
      // The first round warms the browser.
      if (round > 0) taken[kind].push(ms)
    }
  const { plain, least: bare, tagged } = taken
  const compare = (name: string, when: 0 | 1, reference: [number, number][], against: string): Measure => ({
    name,
    value: median(tagged.map((ms, i) => ms[when] - reference[i]![when])),
    unit: 'ms',
    against,
    ratio: median(tagged.map(ms => ms[when])) / median(reference.map(ms => ms[when])),
  })
  await browser.close()
  await close()
  site.close()
  rmSync(folder, { recursive: true, force: true })
  const leastOfAll = 'the same page with a script that only sends one request'
  return [
    compare(
      'tag: main-thread time it adds to a page load, with 30 rules',
      0,
      plain,
      'the same page without it',
    ),
    compare('tag: the same, of its own', 0, bare, leastOfAll),
    compare('tag: the same, until the page has come to rest', 1, bare, leastOfAll),
  ]
}
