import { type ChildProcess, fork } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { Agent, get } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import autocannon from 'autocannon'
import { v7 as uuidv7 } from 'uuid'
import { freePort } from './freePort'
import type { Measure } from './measure'
import { median } from './median'

const CONNECTIONS = 32
const SECONDS = 2
const ROUNDS = 7
const REPORT_SECONDS = 5
/** between two requests of one connection: about a thousand clicks a second in all */
const PAUSE_MS = 30
const BARE_PORT = await freePort()
const COLLECTOR_PORT = await freePort()

function start(name: string, args: string[], env: Record<string, string> = {}): Promise<ChildProcess> {
  return new Promise((ready, failed) => {
    const child = fork(join(process.cwd(), 'dist', `${name}.mjs`), args, {
      env: { ...process.env, ...env },
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    })
    child.once('message', () => ready(child))
    child.once('exit', code => failed(new Error(`${name} ended (${code})`)))
  })
}

interface Load {
  rate: number
  /** ms */
  p99: number
}
async function load(port: number, request: autocannon.Request): Promise<Load> {
  const result = await autocannon({
    url: `http://127.0.0.1:${port}`,
    connections: CONNECTIONS,
    duration: SECONDS,
    requests: [request],
  })
  if (result.errors > 0 || (result['4xx'] ?? 0) + (result['5xx'] ?? 0) > 0)
    throw new Error(`${request.path}: ${result.errors} errors, ${result['4xx']} 4xx, ${result['5xx']} 5xx`)
  return { rate: result.requests.average, p99: Math.max(result.latency.p99, 1) }
}

const agent = { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0' }
const click: autocannon.Request = {
  method: 'GET',
  path: '/c/kits?utm_source=norrfeed&utm_campaign=Autumn%20kits&utm_content=na102',
  headers: agent,
}
const event: autocannon.Request = {
  method: 'POST',
  path: '/e',
  headers: { ...agent, 'content-type': 'text/plain' },
  setupRequest: request => ({
    ...request,
    body: JSON.stringify({
      site: 'bench',
      id: uuidv7(),
      name: 'page',
      page: 'https://tarnbrook.example/kits',
      visitor: 'v1234567890',
      zone: 'Europe/Lisbon',
    }),
  }),
}
const postback: autocannon.Request = {
  method: 'GET',
  path: '/p/corvane?p1=c123&deal=d55&amount=49.00&cur=EUR&state=approved',
  headers: agent,
}
/** The same body for the reference, so that the generator works as hard. */
const kinds = [
  {
    name: 'collector.redirects',
    request: click,
    reference: click,
    against: 'a bare Node server answering 302',
  },
  { name: 'collector.events', request: event, reference: event, against: 'a bare Node server answering 204' },
  {
    name: 'collector.postbacks',
    request: postback,
    reference: click,
    against: 'a bare Node server answering 302',
  },
]

/** Redirects at a steady rate far below the most, one after the other on each of the connections. */
async function steadyP99(seconds: number): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: CONNECTIONS })
  const took: number[] = []
  const one = () =>
    new Promise<void>((done, failed) => {
      const start = performance.now()
      const { path, headers } = click
      get({ port: COLLECTOR_PORT, host: '127.0.0.1', path, headers, agent }, response => {
        response.resume()
        response.on('end', () => {
          took.push(performance.now() - start)
          done()
        })
      }).on('error', failed)
    })
  const end = performance.now() + seconds * 1000
  const connection = async () => {
    while (performance.now() < end) {
      await one()
      await new Promise(next => setTimeout(next, PAUSE_MS))
    }
  }
  await Promise.all(Array.from({ length: CONNECTIONS }, connection))
  agent.destroy()
  return took.sort((a, b) => a - b)[Math.floor(took.length * 0.99)]!
}

/** How much slower the slowest redirects are while a report runs for five seconds on the same machine. */
async function whileReporting(): Promise<Measure> {
  const quiet: number[] = []
  const busy: number[] = []
  for (let round = 0; round < 3; round++) {
    quiet.push(await steadyP99(REPORT_SECONDS))
    const report = await start('reporting', [])
    busy.push(await steadyP99(REPORT_SECONDS))
    report.disconnect()
  }
  return {
    name: 'collector.redirects.p99.during_report',
    value: median(busy),
    unit: 'ms',
    against: 'the same redirects without a report, p99',
    ratio: median(busy.map((p99, i) => p99 / quiet[i]!)),
  }
}

/** Durable redirects, events and postbacks a second against a bare Node server under the same load. */
export async function benchCollector(): Promise<Measure[]> {
  const folder = mkdtempSync(join(tmpdir(), 'aequant-bench-'))
  writeFileSync(
    join(folder, 'routing.json'),
    JSON.stringify({
      version: 2,
      codes: {
        kits: {
          workspace: 'main',
          network: 'norrfeed',
          landings: [{ address: 'https://tarnbrook.example/kits#looms' }],
        },
      },
      partners: { corvane: { workspace: 'main', partner: 'corvane', secret: null } },
      sites: { bench: { workspace: 'main' } },
    }),
  )
  const bare = await start('bare', [String(BARE_PORT)])
  const collector = await start('collector', [], {
    AEQUANT_DATA: folder,
    COLLECTOR_PORT: String(COLLECTOR_PORT),
  })
  const measures: Measure[] = []
  try {
    for (const { name, request, reference, against } of kinds) {
      const own: Load[] = []
      const other: Load[] = []
      for (let round = 0; round < ROUNDS; round++) {
        other.push(await load(BARE_PORT, reference))
        own.push(await load(COLLECTOR_PORT, request))
      }
      // Each round against the reference just before it: the machine may be slower a minute later.
      const ratio = (of: keyof Load) => median(own.map((l, i) => l[of] / other[i]![of]))
      const value = (of: keyof Load) => median(own.map(l => l[of]))
      measures.push(
        { name, value: value('rate'), unit: 'requests/s', against, ratio: ratio('rate') },
        {
          name: `${name}.p99`,
          value: value('p99'),
          unit: 'ms',
          against: `${against}, p99`,
          ratio: ratio('p99'),
        },
      )
    }
    measures.push(await whileReporting())
  } finally {
    bare.disconnect()
    collector.disconnect()
    rmSync(folder, { recursive: true, force: true })
  }
  return measures
}
