import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { LinkChange } from '@/core/links/change'
import { shippedProfiles } from '@/core/links/profiles'
import { ownRequest } from '@/core/shared/ownRequest'
import { writeCsv } from '@/formats/csv'
import { freePort } from './freePort'
import type { Measure } from './measure'
import { median } from './median'
import { benchStation } from './station'
import { benchWeigh } from './weigh'

const PORT = await freePort()
const COLLECTOR_PORT = await freePort()
const SENT_PORT = await freePort()
const ADS = 10_000
const ROUNDS = 7
const ORIGIN = `http://127.0.0.1:${PORT}`

/** The application on an empty folder, with ten thousand ads of one day's report. */
async function startWithAds(folder: string): Promise<ChildProcess> {
  const child = spawn('node', ['scripts/start.mjs', 'start'], {
    env: { ...process.env, AEQUANT_DATA: folder, PORT: String(PORT), COLLECTOR_PORT: String(COLLECTOR_PORT) },
    stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
  })
  await new Promise<void>((ready, failed) => {
    child.stdout?.on('data', chunk => String(chunk).includes('Aequant is ready') && ready())
    child.once('exit', code => failed(new Error(`the application ended (${code})`)))
  })
  child.removeAllListeners('exit')
  const networks = shippedProfiles.filter(profile => profile.id === 'norrfeed')
  const workspace = { format: 'aequant-workspace', version: 1, name: 'Bench', settings: {}, networks }
  const begun = await fetch(`${ORIGIN}/api/workspace/take`, {
    method: 'POST',
    headers: { ...ownRequest, 'content-type': 'application/json' },
    body: JSON.stringify(workspace),
  })
  if (!begun.ok) throw new Error(`the network was answered ${begun.status}: ${await begun.text()}`)
  const rows = Array.from({ length: ADS }, (_, i) => ({
    date: '2026-10-01',
    network: 'norrfeed',
    campaign_id: `c${Math.floor(i / 500)}`,
    campaign_name: `Campaign ${Math.floor(i / 500)}`,
    ad_set_id: `s${Math.floor(i / 20)}`,
    ad_set_name: `Ad set ${Math.floor(i / 20)}`,
    ad_id: `a${i}`,
    ad_name: `Ad number ${i}`,
    currency: 'EUR',
    spend: '1.00',
  }))
  const answer = await fetch(`${ORIGIN}/api/import/delivery`, {
    method: 'POST',
    headers: { ...ownRequest, 'content-type': 'text/csv' },
    body: writeCsv(Object.keys(rows[0]!), rows),
  })
  if (!answer.ok) throw new Error(`the import answered ${answer.status}: ${await answer.text()}`)
  await answer.text()
  return child
}

async function took(ask: () => Promise<Response>): Promise<{ ms: number; bytes: number }> {
  const began = performance.now()
  const answer = await ask()
  const body = await answer.arrayBuffer()
  if (!answer.ok) throw new Error(`${answer.url} answered ${answer.status}`)
  return { ms: performance.now() - began, bytes: body.byteLength }
}

/** A bare Node server that sends as many bytes as it is asked for. */
async function bare() {
  const server = createServer((request, response) => {
    request.resume()
    request.on('end', () => response.end(Buffer.alloc(Number(request.headers['x-bytes'] ?? 0), 'x')))
  })
  await new Promise<void>(ready => server.listen(SENT_PORT, '127.0.0.1', ready))
  const send = (bytes: number, body: string | null) =>
    fetch(`http://127.0.0.1:${SENT_PORT}/`, { method: 'POST', headers: { 'x-bytes': String(bytes) }, body })
  return { send, close: () => server.close() }
}

/** One setting on every ad, and nothing on every ad again: each round changes all ten thousand. */
const bulk = (round: number): string =>
  JSON.stringify(
    Array.from({ length: ADS }, (_, i): LinkChange => {
      const [set, none] = [{ season: 'winter' }, {}]
      return {
        what: 'plan',
        network: 'norrfeed',
        level: 'ad',
        scope: `a${i}`,
        before: round % 2 ? set : none,
        after: round % 2 ? none : set,
      }
    }),
  )

/** The station of links in a browser, and the server's time for pages, ads and a bulk change of all, at 10,000 ads. */
export async function benchPages(): Promise<Measure[]> {
  const folder = mkdtempSync(join(tmpdir(), 'aequant-bench-'))
  const child = await startWithAds(folder)
  const reference = await bare()
  try {
    const asks: Record<string, (round: number) => { own: () => Promise<Response>; sent: string | null }> = {
      'pages.links': () => ({ own: () => fetch(`${ORIGIN}/links`), sent: null }),
      'pages.links_ads': () => ({ own: () => fetch(`${ORIGIN}/api/links`), sent: null }),
      'pages.links_bulk': round => ({
        own: () =>
          fetch(`${ORIGIN}/api/links/changes`, {
            method: 'POST',
            headers: { ...ownRequest, 'content-type': 'application/json' },
            body: bulk(round),
          }),
        sent: bulk(round),
      }),
      'pages.results': () => ({ own: () => fetch(`${ORIGIN}/results`), sent: null }),
      'pages.intake': () => ({ own: () => fetch(`${ORIGIN}/intake`), sent: null }),
      'pages.reconcile': () => ({ own: () => fetch(`${ORIGIN}/reconcile`), sent: null }),
      ...Object.fromEntries(
        ['changed', 'bench', 'rules', 'client'].map(part => [
          `pages.reconcile_${part}`,
          () => ({ own: () => fetch(`${ORIGIN}/reconcile/${part}`), sent: null }),
        ]),
      ),
      'pages.weigh': () => ({ own: () => fetch(`${ORIGIN}/weigh`), sent: null }),
    }
    const measures: Measure[] = []
    for (const [name, ask] of Object.entries(asks)) {
      const [own, bareMs]: [number[], number[]] = [[], []]
      for (let round = 0; round <= ROUNDS; round++) {
        const { own: asked, sent } = ask(round)
        const { ms, bytes } = await took(asked)
        const { ms: other } = await took(() => reference.send(bytes, sent))
        // The first round finds nothing compiled or cached.
        if (round > 0) {
          own.push(ms)
          bareMs.push(other)
        }
      }
      measures.push({
        name,
        value: median(own),
        unit: `ms at ${ADS} ads`,
        against: 'a bare Node server taking and sending as many bytes',
        ratio: median(own) / median(bareMs),
      })
    }
    return [...(await benchStation(ORIGIN, ADS)), ...(await benchWeigh(ORIGIN, ADS)), ...measures]
  } finally {
    reference.close()
    child.kill('SIGINT')
    await new Promise(done => child.once('exit', done))
    rmSync(folder, { recursive: true, force: true })
  }
}
