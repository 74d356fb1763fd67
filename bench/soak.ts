/**
 * `npm run soak -- [--minutes 10] [--seed 7] [--database embedded|postgresql] [--apart 0]`: everything that arrives at
 * once, one record in twenty poisoned, a tenth of all events forged from 40 addresses, every process killed at
 * moments that nobody chose; with `--apart` Aequant's clocks stand so many minutes off. Prints what was acknowledged
 * and what became of it; ends with 1 where a record is missing or doubled, a forged one is in a figure or queued for a
 * network, something stands still, or memory grows.
 */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, readFileSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { randomInt, randomLcg } from 'd3-random'
import pg from 'pg'
import { Webhook } from 'standardwebhooks'
import { ownRequest } from '@/core/shared/ownRequest'
import { type PostgresServer, startPostgres } from '../tests/postgres'
import temporaryFolder from '../tests/temporary'
import { freePort } from './freePort'
import { median } from './median'

const { values: given } = parseArgs({
  options: {
    minutes: { type: 'string', default: '10' },
    seed: { type: 'string', default: '7' },
    database: { type: 'string', default: 'embedded' },
    apart: { type: 'string', default: '0' },
  },
})
const minutes = Number(given.minutes)
const chance = randomLcg(Number(given.seed))
const upTo = (n: number) => randomInt.source(chance)(n)()
const pick = <T>(list: readonly T[]): T => list[upTo(list.length)]!
const pause = (ms: number) => new Promise(next => setTimeout(next, ms))

/** The application is left alone in the last part, in which its memory is watched. */
const WATCHED_SHARE = 0.4
const POISON_ONE_IN = 20
const removeAll = temporaryFolder()
const folder = mkdtempSync(join(tmpdir(), 'aequant-soak-'))
const [port, collectorPort] = [await freePort(), await freePort()]
const origin = `http://127.0.0.1:${port}`
const collector = `http://127.0.0.1:${collectorPort}`
const server: PostgresServer | null = given.database === 'postgresql' ? await startPostgres() : null
const log = (text: string) => console.error(`${new Date().toISOString().slice(11, 19)} ${text}`)

let launcher: ChildProcess
let stopping = false
const errors: string[] = []
function launch(): void {
  launcher = spawn('node', ['scripts/start.mjs', 'start'], {
    env: {
      ...process.env,
      AEQUANT_DATA: folder,
      PORT: String(port),
      COLLECTOR_PORT: String(collectorPort),
      // Senders have addresses of their own, as behind a proxy.
      COLLECTOR_BEHIND_PROXY: '1',
      ...(Number(given.apart) !== 0 && {
        CLOCK_OFFSET: String(Number(given.apart) * 60_000),
        NODE_OPTIONS: `--require ${join(process.cwd(), 'tests', 'clock.cjs')}`,
      }),
      ...(server ? { DATABASE_URL: server.url } : {}),
    },
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
  })
  launcher.stderr?.on('data', (chunk: Buffer) => {
    for (const line of String(chunk).split('\n')) if (line.trim()) errors.push(line)
  })
  // Whoever runs it starts it again.
  launcher.once('exit', () => !stopping && setTimeout(launch, 500))
}

const health = async (): Promise<{ status: string; collector?: { lag_records: number } }> =>
  fetch(`${origin}/api/health`, { signal: AbortSignal.timeout(5000) }).then(
    r => r.json(),
    () => ({ status: 'silent' }),
  )
async function untilWell(within: number): Promise<number> {
  const began = Date.now()
  for (;;) {
    if ((await health()).status === 'ok') return Date.now() - began
    if (Date.now() - began > within)
      throw new Error(
        `not well within ${within / 1000} s: ${JSON.stringify(await health())}; said last: ${errors.slice(-4).join(' | ')}`,
      )
    await pause(100)
  }
}
async function query<Row extends pg.QueryResultRow>(text: string): Promise<Row[]> {
  const socket = () => JSON.parse(readFileSync(join(folder, 'database.lock'), 'utf8')).socket
  const client = new pg.Client(
    server ? { connectionString: server.url } : { host: socket(), user: 'postgres', database: 'postgres' },
  )
  await client.connect()
  try {
    await client.query('begin')
    const { rows } = await client.query<Row>(text)
    await client.query('commit')
    return rows
  } finally {
    await client.end()
  }
}

/** The clock of whoever is outside. */
const outside = () => Date.now() + Number(given.apart) * 60_000

/** What was acknowledged, by kind. */
const told = {
  clicks: new Set<string>(),
  events: new Set<string>(),
  postbacks: new Set<string>(),
  webhooks: new Set<string>(),
  imports: new Set<string>(),
}
const refused: Record<string, number> = {}
let sent = 0
let number = 0
const poison = [
  '\0',
  '\ud800',
  'x'.repeat(9000),
  '%00',
  '{"a":',
  '\u2028',
  "'; drop table clicks; --",
  '<script>',
  '__proto__',
]
const isPoisoned = () => upTo(POISON_ONE_IN) === 0
const note = (status: number) => {
  sent += 1
  if (status >= 400) refused[status] = (refused[status] ?? 0) + 1
}

/** A click as raw bytes, as a network may write them. */
const rawClick = (code: string, bytes: Buffer): Promise<string | null> =>
  new Promise(done => {
    const socket = connect(collectorPort, '127.0.0.1')
    let answer = ''
    socket.on('data', chunk => (answer += chunk.toString('latin1')))
    socket.on('close', () => done(/[?&]aq_click=([\w-]+)/.exec(answer)?.[1] ?? null))
    socket.on('error', () => done(null))
    socket.write(
      Buffer.concat([
        Buffer.from(`GET /c/${code}?utm_content=`),
        bytes,
        Buffer.from(
          ' HTTP/1.1\r\nhost: t\r\nuser-agent: Mozilla/5.0 Firefox/140.0\r\nconnection: close\r\n\r\n',
        ),
      ]),
    )
  })

interface Setting {
  code: string
  site: string
  secret: string
}
/** Addresses of shoppers, and of those who forge: each in a network of its own. */
const shopperAddress = () => `198.18.${upTo(250)}.${1 + upTo(250)}`
const forgerAddress = () => `203.0.${upTo(40)}.7`
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
async function sendEvents(from: string, events: object[]): Promise<boolean> {
  const answer = await fetch(`${collector}/e`, {
    method: 'POST',
    headers: { 'x-forwarded-for': from, 'user-agent': AGENT },
    body: JSON.stringify(events),
  })
  note(answer.status)
  return answer.status === 204
}
/** Booklets that shoppers asked for, and orders that their pages told of with the click that brought them. */
const booklets = new Set<string>()
const tied = new Map<string, string>()
let forged = 0
let orders = 0
const THANKS = 'https://tarnbrook.example/thanks'

async function sendOrder({ site, secret }: Setting, id: string, more: object = {}): Promise<boolean> {
  const at = new Date(outside())
  const order = { order_id: id, ordered_at: at.toISOString(), currency: 'EUR', total: '20.00' }
  const body = JSON.stringify({
    type: 'order.created',
    timestamp: at.toISOString(),
    data: { ...order, ...more },
  })
  const answer = await fetch(`${collector}/o/${site}`, {
    method: 'POST',
    headers: {
      'webhook-id': id,
      'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
      'webhook-signature': new Webhook(secret).sign(id, at, body),
    },
    body,
  })
  note(answer.status)
  return answer.status === 200
}

const senders: ((setting: Setting) => Promise<void>)[] = [
  async ({ code }) => {
    if (isPoisoned()) {
      const id = await rawClick(code, Buffer.from([0xc3, 0xa9, upTo(256), upTo(256), 0x20 + upTo(90)]))
      if (id) told.clicks.add(id)
      return
    }
    const answer = await fetch(`${collector}/c/${code}?utm_content=a${upTo(20)}`, { redirect: 'manual' })
    note(answer.status)
    const id = new URL(answer.headers.get('location') ?? collector).searchParams.get('aq_click')
    if (answer.status === 302 && id) told.clicks.add(id)
  },
  async ({ site }) => {
    const id = `event-${++number}`
    const text = isPoisoned() ? pick(poison) : 'https://tarnbrook.example/thanks'
    const body = JSON.stringify({
      site,
      id,
      name: 'page',
      page: text.slice(0, 2000),
      visitor: `v${upTo(500)}`,
    })
    const answer = await fetch(`${collector}/e`, { method: 'POST', body })
    note(answer.status)
    if (answer.status === 204) told.events.add(id)
  },
  async () => {
    const id = `n${++number}`
    const extra = isPoisoned()
      ? `&note=${encodeURIComponent(pick(poison).toWellFormed())}&amount=%00`
      : '&amount=12.50'
    const answer = await fetch(`${collector}/p/soak?deal=d${upTo(5000)}&mark=${id}${extra}`)
    note(answer.status)
    if (answer.status === 200) told.postbacks.add(id)
  },
  async setting => {
    const id = `W${++orders}`
    if (await sendOrder(setting, id, isPoisoned() ? { note: pick(poison) } : {})) told.webhooks.add(id)
  },
  // Somebody who reads some pages and then asks for a booklet, or orders by an ad.
  async setting => {
    const { site, code } = setting
    const from = shopperAddress()
    const visitor = `s${++number}`
    const page = (name: string, more: object = {}) => ({
      site,
      id: `event-${++number}`,
      name,
      page: THANKS,
      visitor,
      ...more,
    })
    const pages = Array.from({ length: 4 }, () => page('page'))
    if (await sendEvents(from, pages)) for (const { id } of pages) told.events.add(id)
    if (upTo(2) === 0) {
      const booklet = page('booklet', { rule: 'of-booklet' })
      if (!(await sendEvents(from, [booklet]))) return
      told.events.add(booklet.id)
      booklets.add(booklet.id)
      return
    }
    const click = await fetch(`${collector}/c/${code}?utm_content=a${upTo(20)}`, {
      redirect: 'manual',
      headers: { 'x-forwarded-for': from, 'user-agent': AGENT },
    })
    const clickId = new URL(click.headers.get('location') ?? collector).searchParams.get('aq_click')
    if (click.status !== 302 || !clickId) return
    told.clicks.add(clickId)
    const order = `W${++orders}`
    if (!(await sendOrder(setting, order))) return
    told.webhooks.add(order)
    const sign = page('order', {
      rule: 'of-order',
      transaction: order,
      value: '20.00',
      currency: 'EUR',
      click: clickId,
    })
    if (!(await sendEvents(from, [sign]))) return
    told.events.add(sign.id)
    tied.set(order, clickId)
  },
  // A stranger with the site key, a tenth of all events: half name orders that are still to come.
  async ({ site, code }) => {
    await pause(upTo(30))
    const event = { site, page: THANKS, value: '99999.00', currency: 'EUR', click: 'click-made-up' }
    // A click of their own, told as if an ad had led straight to the page.
    await sendEvents(forgerAddress(), [{ ...event, id: `event-${++number}`, name: 'arrival', code }])
    const forgeries = Array.from({ length: 2 }, (_, i) => ({
      ...event,
      id: `event-${++number}`,
      ...(i % 2 === 0
        ? { name: 'order', rule: 'of-order', transaction: `W${orders + 5000 + upTo(5000)}` }
        : { name: 'booklet', rule: 'of-booklet' }),
    }))
    if (!(await sendEvents(forgerAddress(), forgeries))) return
    forged += forgeries.length
    for (const { id } of forgeries) told.events.add(id)
  },
  async () => {
    const ids = Array.from({ length: 100 }, () => `I${++number}`)
    const rows = ids.map(id => `${id},2026-11-02T10:00:00Z,paid,EUR,10.00,`)
    if (isPoisoned())
      rows.push('bad,never,paid,EUR,1.00,', `I${'9'.repeat(5000)},2026-11-02T10:00:00Z,paid,EUR,1.00,"`)
    const answer = await fetch(`${origin}/api/import/orders`, {
      method: 'POST',
      headers: { ...ownRequest, 'content-type': 'text/csv' },
      body: `order_id,ordered_at,status,currency,total,landing_url\n${rows.join('\n')}\n`,
    })
    note(answer.status)
    if (answer.status === 200) for (const id of ids) told.imports.add(id)
    await pause(400)
  },
]

const listener = (on: number): number => {
  try {
    const found = execFileSync('sh', ['-c', `ss -ltnp 2>/dev/null | grep ':${on} ' || true`], {
      encoding: 'utf8',
    })
    return Number(/pid=(\d+)/.exec(found)?.[1] ?? 0)
  } catch {
    return 0
  }
}
const rss = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024
const databaseProcess = (): number => JSON.parse(readFileSync(join(folder, 'database.lock'), 'utf8')).process
const killed: Record<string, number> = {}
async function kill(what: 'application' | 'collector' | 'database' | 'launcher'): Promise<void> {
  if (what === 'database' && server) {
    server.stop('immediate')
    await pause(upTo(2000))
    server.start()
  } else {
    const pid =
      what === 'launcher'
        ? launcher.pid!
        : what === 'database'
          ? databaseProcess()
          : listener(what === 'application' ? port : collectorPort)
    if (pid === 0) return
    process.kill(pid, 'SIGKILL')
  }
  killed[what] = (killed[what] ?? 0) + 1
}

launch()
await untilWell(300_000)
const ads = 'network,campaign_id,ad_id,landing_page\nnorrfeed,c1,a1,https://tarnbrook.example/kits\n'
await fetch(`${origin}/api/import/ads`, { method: 'POST', headers: ownRequest, body: ads })
await query(
  `insert into partners (workspace, id, code, partner) values ('main', 'soak', 'soak', '{"id":"soak","name":"Soak","currency":"EUR","click_parameter":"c","parameters":{"deal":"deal","amount":"amount"}}')`,
)
const definition = { currency: 'EUR', count: 'every', networks: [], campaigns: [], archived: false }
for (const [id, kind, value] of [
  ['booklet', 'lead', { by: 'fixed', amount: 300 }],
  ['order', 'order', { by: 'event' }],
] as const) {
  const result = JSON.stringify({ ...definition, id, name: id, kind, value })
  await query(
    `insert into results (workspace, id, definition) values ('main', '${id}', '${result}') on conflict do nothing`,
  )
  const rule = JSON.stringify({
    id: `of-${id}`,
    result: id,
    when: { on: 'page' },
    where: { any: [], none: [] },
    facts: {},
  })
  await query(`insert into rules (workspace, id, rule) values ('main', 'of-${id}', '${rule}')`)
}
// A network that is told by our server, at an address that nobody answers.
const told_network = JSON.stringify({
  id: 'norrfeed',
  name: 'Norrfeed',
  dialect: {},
  relayed_since: '2026-01-01T00:00:00Z',
  outgoing: { method: 'POST', address: 'http://norrfeed.localhost:9/e', headers: [], body: '{event_id}' },
})
await query(
  `insert into network_profiles (workspace, id, profile) values ('main', 'norrfeed', '${told_network}') on conflict (workspace, id) do update set profile = excluded.profile`,
)
for (const result of ['order', 'booklet'])
  await query(
    `insert into signals (workspace, network, result, slot) values ('main', 'norrfeed', '${result}', '${result}')`,
  )
await query('update workspaces set routing = routing + 1, version = version + 1')
await fetch(`${origin}/intake/import`)
const [known] = await query<Setting>(
  `select (select code from routes limit 1) as code, (select key from sites limit 1) as site, (select value from secrets where name = 'orders_webhook') as secret`,
)
await pause(1500)

const began = Date.now()
const end = began + minutes * 60_000
const watched = began + minutes * 60_000 * (1 - WATCHED_SHARE)
let running = true
const load = senders.flatMap(send =>
  Array.from({ length: 3 }, async () => {
    while (running) {
      await send(known!).catch(() => {})
      await pause(upTo(12))
    }
  }),
)
let longest = 0
const samples: { at: number; mb: number }[] = []
const sampling = setInterval(() => {
  const pid = listener(port)
  if (pid > 0 && Date.now() > watched) samples.push({ at: Date.now(), mb: rss(pid) })
}, 2000)
while (Date.now() < end) {
  await pause(2000 + upTo(8000))
  const targets = [
    'collector',
    'database',
    ...(Date.now() < watched ? ['application', 'application', 'launcher'] : []),
  ]
  const what = pick(targets) as Parameters<typeof kill>[0]
  try {
    await kill(what)
    const took = await untilWell(60_000)
    longest = Math.max(longest, took)
    log(`${what} killed; all well again after ${took} ms; ${sent} sent`)
  } catch (error) {
    log(`${what}: ${error instanceof Error ? error.message : error}`)
    longest = Number.POSITIVE_INFINITY
  }
}
running = false
await Promise.all(load)
clearInterval(sampling)
await untilWell(60_000)
for (let i = 0; i < 300 && (await health()).collector?.lag_records !== 0; i++) await pause(200)
const lag = (await health()).collector?.lag_records ?? -1

const stored = {
  clicks: await query<{ id: string }>('select click_id as id from clicks'),
  events: await query<{ id: string }>('select event_id as id from events'),
  postbacks: await query<{ id: string }>(`select substring(query from 'mark=([^&]+)') as id from postbacks`),
  webhooks: await query<{ id: string }>(`select order_id as id from orders where order_id like 'W%'`),
  imports: await query<{ id: string }>(`select order_id as id from orders where order_id like 'I%'`),
}
let missing = 0
let doubled = 0
for (const kind of Object.keys(told) as (keyof typeof told)[]) {
  const ids = stored[kind].map(row => row.id)
  const there = new Set(ids)
  doubled += ids.length - there.size
  for (const id of told[kind]) if (!there.has(id)) missing += 1
}
// What was forged may be in no figure: of orders to the unit, of booklets within two in a hundred. It is looked through
// once a minute at the latest.
const BOOKLETS = `select count(*)::int as n from events where name = 'booklet' and attributes ? 'rule'`
const areIn = async () => (await query<{ n: number }>(BOOKLETS))[0]!.n
for (let i = 0; i < 90 && Math.abs((await areIn()) / Math.max(1, booklets.size) - 1) > 0.02; i++)
  await pause(1000)
const [counted] = await query<{ orders: number; worth: string; booklets: number; queued: number }>(
  `select (select count(*)::int from orders where status = 'paid') as orders,
    (select sum(total)::text from orders where status = 'paid') as worth,
    (select count(*)::int from events where name = 'booklet' and attributes ? 'rule') as booklets,
    (select count(*)::int from relays where result = 'order' and state <> 'unconfirmed'
      and not exists (select 1 from orders where order_id = facts->>'transaction')) as queued`,
)
const figures = (await (await fetch(`${origin}/api/judge?from=2026-01-01&to=2027-12-31`)).json()) as {
  gap: { orders: number; orders_value: number }
  totals: { proven: number }
}
const bookletsOff = Math.abs(counted!.booklets / Math.max(1, booklets.size) - 1)
const ordersHeld =
  figures.gap.orders === counted!.orders &&
  Math.round(figures.gap.orders_value * 100) === Number(counted!.worth) &&
  Math.abs(figures.totals.proven - tied.size) <= 0
const aside = await query(`select reason, count(*)::int as n from set_aside group by 1`)
const span = (from: number, to: number) => samples.filter(s => s.at >= from && s.at < to).map(s => s.mb)
// After half a minute of quiet: what is loaded once is loaded.
const warm = median(span(watched + 30_000, watched + 60_000))
const late = median(span(end - 30_000, end + 1))
const ratio = late / warm
console.log(
  JSON.stringify({
    name: 'soak',
    database: given.database,
    minutes,
    seed: Number(given.seed),
    killed,
    acknowledged: Object.fromEntries(Object.entries(told).map(([kind, ids]) => [kind, ids.size])),
    refused,
    missing,
    doubled,
    forged,
    figures: {
      orders: [figures.gap.orders, counted!.orders],
      value: [figures.gap.orders_value, Number(counted!.worth) / 100],
      proven: [figures.totals.proven, tied.size],
      booklets: [counted!.booklets, booklets.size],
      queued_unbooked: counted!.queued,
    },
    set_aside: Object.fromEntries(aside.map(r => [r.reason, r.n])),
    lag,
    longest_recovery_s: longest / 1000,
    memory_mb: { warm: Math.round(warm), end: Math.round(late), ratio: Number(ratio.toFixed(2)) },
  }),
)
const strange = errors.filter(
  line => !/started again|failed; it is tried again|cannot be written; it is tried|already holds/.test(line),
)
for (const line of strange.slice(0, 20)) log(`said: ${line.slice(0, 200)}`)
stopping = true
launcher!.kill('SIGINT')
await new Promise(done => launcher.once('exit', done))
server?.stop('fast')
const unforged = ordersHeld && bookletsOff <= 0.02 && counted!.queued === 0
const well =
  unforged && missing === 0 && doubled === 0 && lag === 0 && Number.isFinite(longest) && ratio <= 1.5
if (well) removeAll()
else log(`see ${folder}`)
process.exit(well ? 0 : 1)
