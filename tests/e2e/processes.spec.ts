import { execFileSync, spawn, spawnSync } from 'node:child_process'
import {
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { Webhook } from 'standardwebhooks'
import { ownRequest } from '../../src/core/shared/ownRequest'
import { hasPostgres, type PostgresServer, startPostgres } from '../postgres'
import { type Application, processOn, startApplication } from './application'
import { daysAgo } from './days'
import { expect, test } from './test'

/** So often is a database killed; `KILLS=20` for as often as it was shown to stand. */
const KILLS = Number(process.env.KILLS ?? 6)
const health = async (app: Application): Promise<{ status: string; [more: string]: unknown }> =>
  fetch(`${app.origin}/api/health`).then(
    r => r.json(),
    () => ({ status: 'silent' }),
  )
const status = async (app: Application) => (await health(app)).status
const post = (app: Application, path: string, body: string) =>
  fetch(app.origin + path, { method: 'POST', headers: { ...ownRequest, 'content-type': 'text/csv' }, body })
const isAlive = (pid: number) => {
  try {
    return readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]?.[0] !== 'Z'
  } catch {
    return false
  }
}
const lockOf = (app: Application): { process: number } =>
  JSON.parse(readFileSync(join(app.folder, 'database.lock'), 'utf8'))
/** The database's process, or null between one that is gone and the one that takes its place. */
const databaseOf = (app: Application): number | null => {
  try {
    return lockOf(app).process
  } catch {
    return null
  }
}
const startAgain = (app: Application, more: Record<string, string> = {}) =>
  spawnSync('node', ['scripts/start.mjs', 'start'], {
    env: { ...app.environment, ...more },
    encoding: 'utf8',
    timeout: 60_000,
  })

test.describe('one application on its own folder', () => {
  let app: Application
  test.beforeAll(async () => {
    app = await startApplication('start', 5050)
    const answer = await post(
      app,
      '/api/import/ads',
      'network,campaign_id,ad_id,landing_page\nnorrfeed,c1,a1,https://tarnbrook.example/kits\nnorrfeed,c1,a2,javascript:alert(1)\n',
    )
    expect(await answer.json()).toMatchObject({
      accepted: 1,
      rejected: [{ line: 3, column: 'landing_page', reason: 'not_a_web_address' }],
    })
  })
  test.afterAll(() => app?.stop())

  test('keeps its folder to itself, and opens it once whatever TMPDIR says', () => {
    for (const name of ['', ...readdirSync(app.folder).filter(n => n !== 'output.log')]) {
      const { mode } = statSync(join(app.folder, name))
      expect([name, mode & 0o077]).toEqual([name, 0])
    }
    const TMPDIR = mkdtempSync(join(tmpdir(), 'aequant-elsewhere-'))
    const second = startAgain(app, { TMPDIR, PORT: '5059' })
    expect(second.status).toBe(1)
    expect(second.stderr).toContain(`process ${lockOf(app).process}`)
    // The command line finds the database that is open already.
    const out = join(TMPDIR, 'out')
    execFileSync('node', ['scripts/aequant.mjs', 'aequant', 'export', '--dir', out], {
      env: { ...app.environment, TMPDIR },
      stdio: 'ignore',
    })
    expect(readFileSync(join(out, 'ads.csv'), 'utf8')).toContain('https://tarnbrook.example/kits')
  })
  test('says which process holds a port', () => {
    const taken = startAgain(app, { AEQUANT_DATA: mkdtempSync(join(tmpdir(), 'aequant-other-')) })
    expect(taken.status).toBe(1)
    expect(taken.stderr).toContain(`Port 5050 is taken by process ${processOn(5050)}`)
    expect(taken.stderr).toContain('set PORT')
  })
  test('lets nobody else on the network in unasked', () => {
    const open = startAgain(app, { HOST: '0.0.0.0', PORT: '5058' })
    expect(open.status).toBe(1)
    expect(open.stderr).toContain('COLLECTOR_HOST=0.0.0.0')
  })
  test('answers 413 to what is longer than it may be, however it is sent, and 400 to what it cannot read', async () => {
    const sendLong = () => {
      const endless = new ReadableStream<Uint8Array>({
        pull: to => to.enqueue(new Uint8Array(1 << 20).fill(120)),
      })
      const body = endless.pipeThrough(limited(3))
      return fetch(`${app.origin}/api/orders`, { method: 'POST', body, duplex: 'half' } as RequestInit).then(
        answer => answer.status,
        // Who still writes when the rest is read no further may be cut off before the answer is read.
        () => 'cut off',
      )
    }
    await expect.poll(sendLong).toBe(413)
    const json = { 'content-type': 'application/json' }
    const nul = JSON.stringify({ about: 'claim', claim: '\0', order: null, why: '' })
    const cases: [path: string, headers: Record<string, string>, body?: string][] = [
      ['/api/reports/compare?network=norrfeed', { 'x-mapping': '{' }],
      ['/api/reports/compare?network=norrfeed', { 'x-mapping': '%' }],
      ['/api/import/orders', { 'x-file-name': '%E0%A4%A' }],
      ['/api/import/orders', { 'x-file-name': 'orders%00.csv' }],
      ['/api/import/orders?network=%00', {}],
      ['/api/decisions', json, nul],
      ['/api/decisions', json, '{'],
    ]
    for (const [path, headers, body = 'a,b\n1,2\n'] of cases) {
      const answer = await fetch(app.origin + path, {
        method: 'POST',
        headers: { ...ownRequest, ...headers },
        body,
      })
      expect([path, answer.status, typeof (await answer.json()).error]).toEqual([path, 400, 'string'])
    }
    expect((await fetch(`${app.origin}/api/judge?from=9999-12-31&to=9999-12-31`)).status).toBe(400)
    const row = 'order_id,ordered_at,status,currency,total\nX,9999-12-31T00:00:00Z,paid,EUR,1.00\n'
    expect(await (await post(app, '/api/import/orders', row)).json()).toMatchObject({
      rejected: [{ reason: 'not_an_instant' }],
    })
  })
  test('goes on however often its database is killed', async () => {
    test.setTimeout(420_000)
    let running = true
    let number = 0
    const load = (async () => {
      while (running) {
        const day = `2026-10-${String((number++ % 28) + 1).padStart(2, '0')}`
        await Promise.all([
          post(
            app,
            '/api/import/delivery',
            `date,network,campaign_id,currency,spend\n${day},norrfeed,c1,EUR,${number}.00\n`,
          ).catch(() => null),
          ...['/api/links', '/weigh', '/intake'].map(path => fetch(app.origin + path).catch(() => null)),
        ])
      }
    })()
    for (let kill = 0; kill < KILLS; kill++) {
      const { process: pid } = lockOf(app)
      process.kill(pid, 'SIGKILL')
      await expect.poll(() => [null, pid].includes(databaseOf(app)), { timeout: 60_000 }).toBe(false)
      await expect.poll(() => status(app), { timeout: 60_000 }).toBe('ok')
    }
    running = false
    await load
    expect(await status(app)).toBe('ok')
    const last = `date,network,campaign_id,currency,spend\n2026-11-01,norrfeed,c1,EUR,7.00\n`
    expect(await (await post(app, '/api/import/delivery', last)).json()).toMatchObject({ accepted: 1 })
  })
  test('leaves one bad route out and says so, and starts whatever its database holds', async () => {
    const client = new pg.Client({
      host: JSON.parse(readFileSync(join(app.folder, 'database.lock'), 'utf8')).socket,
      user: 'postgres',
      database: 'postgres',
    })
    await client.connect()
    await client.query('begin')
    for (const broken of [
      `insert into routes (workspace, code, network, landings) values ('main', 'broken1', 'norrfeed', '[{"address":"javascript:alert(1)","weight":1}]')`,
      `insert into results (workspace, id, definition) values ('main', 'odd', '{}')`,
      `insert into rules (workspace, id, rule) values ('main', 'odd', '[]')`,
      `insert into journeys (workspace, id, journey) values ('main', 'odd', 'null')`,
      `insert into network_profiles (workspace, id, profile) values ('main', 'odd', '{"id":5}')`,
      `insert into partners (workspace, id, code, partner) values ('main', 'odd', 'odd', '{}')`,
      `update workspaces set settings = settings || '{"time_zone":"Mars/Base","margin":-3}', routing = routing + 1`,
    ])
      await client.query(broken)
    await client.query('commit')
    await client.end()
    await app.stop()
    app = await startApplication('start', 5050, app.folder)
    for (const path of ['/weigh', '/links', '/results', '/signals', '/intake/routes', '/intake/partners'])
      expect([path, (await fetch(app.origin + path)).status]).toEqual([path, 200])
    const said = await health(app)
    expect(said.status).toBe('ok')
    expect(JSON.stringify(said.left_out)).toContain('broken1')
    expect(JSON.stringify(said.left_out)).toContain('network profiles, odd')
    expect(await (await fetch(`${app.origin}/intake/routes`)).text()).toContain(
      'leads nowhere until it is mended',
    )
    const routing = JSON.parse(readFileSync(join(app.folder, 'routing.json'), 'utf8'))
    expect(Object.keys(routing.codes)).toHaveLength(1)
    expect(JSON.stringify(said)).not.toContain(app.folder)
  })
  test('ends as a whole when its launcher is killed', async () => {
    const pids = [5050, 5060].map(processOn)
    pids.push(lockOf(app).process)
    expect(pids.every(isAlive)).toBe(true)
    app.kill()
    await expect.poll(() => pids.filter(isAlive)).toEqual([])
    app = await startApplication('start', 5050, app.folder)
    expect(await status(app)).toBe('ok')
  })
  test('says that a table was cut, or that the files cannot be opened, and what to do', async () => {
    await app.stop()
    const sizes: Record<string, number> = JSON.parse(
      readFileSync(join(app.folder, 'database.sizes.json'), 'utf8'),
    )
    const [file, size] = Object.entries(sizes).sort((a, b) => b[1] - a[1])[0]!
    const path = join(app.folder, 'database', file)
    const whole = readFileSync(path)
    truncateSync(path, Math.floor(size / 2))
    const cut = startAgain(app)
    expect(cut.status).toBe(1)
    expect(cut.stderr).toContain(`where it held ${size} (file ${file})`)
    expect(cut.stderr).toContain('restore')
    writeFileSync(path, whole)
    const control = join(app.folder, 'database/global/pg_control')
    const good = readFileSync(control)
    writeFileSync(control, Buffer.alloc(good.length))
    const damaged = startAgain(app)
    expect(damaged.status).toBe(1)
    expect(damaged.stderr).toContain('cannot be opened')
    expect(damaged.stderr).toContain('restore')
    const exported = spawnSync(
      'node',
      ['scripts/aequant.mjs', 'aequant', 'export', '--dir', `${app.folder}/out`],
      {
        env: app.environment,
        encoding: 'utf8',
        timeout: 60_000,
      },
    )
    expect([exported.status, exported.stderr]).toEqual([1, expect.stringContaining('could not be opened')])
    for (const said of [cut.stderr, damaged.stderr]) expect(said).not.toMatch(/\n\s+at .*\d+:\d+/)
    writeFileSync(control, good)
    app = await startApplication('start', 5050, app.folder)
    expect(await status(app)).toBe('ok')
  })
})

/** Ends a stream after so many chunks. */
function limited(most: number): TransformStream<Uint8Array, Uint8Array> {
  let passed = 0
  return new TransformStream({
    transform(chunk, to) {
      to.enqueue(chunk)
      passed += 1
      if (passed === most) to.terminate()
    },
  })
}

test('a start that fails late leaves nothing running', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'aequant-late-'))
  const child = spawn('node', ['scripts/start.mjs', 'start'], {
    env: { ...process.env, AEQUANT_DATA: folder, PORT: '5150', COLLECTOR_PORT: '5160' },
    stdio: ['ignore', 'ignore', 'pipe'],
  })
  let said = ''
  child.stderr.on('data', chunk => (said += chunk))
  const ended = new Promise<number | null>(done => child.once('exit', done))
  await expect.poll(() => processOn(5160), { timeout: 60_000 }).toBeGreaterThan(0)
  const database = JSON.parse(readFileSync(join(folder, 'database.lock'), 'utf8')).process
  process.kill(processOn(5160), 'SIGKILL')
  expect(await ended).toBe(1)
  expect(said).toContain('The collector ended')
  await expect.poll(() => [5150, 5160].map(processOn).filter(Boolean)).toEqual([])
  expect(isAlive(database)).toBe(false)
})

/** Mounts a disk of its own, where that is allowed. */
function smallDisk(megabytes: number): string | null {
  const disk = mkdtempSync(join(tmpdir(), 'aequant-disk-'))
  const { status } = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m,mode=700`, 'tmpfs', disk])
  return status === 0 ? disk : null
}

test.describe('on a disk that fills up', () => {
  let disk: string | null
  let ballast: string
  let app: Application
  test.beforeAll(async () => {
    disk = smallDisk(224)
    test.skip(disk === null, 'No disk can be mounted here.')
    ballast = join(disk!, 'ballast')
    app = await startApplication('start', 5450, join(disk!, 'data'))
  })
  test.afterAll(async () => {
    await app?.stop()
    if (disk) execFileSync('umount', ['-l', disk])
  })
  const order = (id: string) =>
    `order_id,ordered_at,status,currency,total\n${id},2026-10-01T10:00:00Z,paid,EUR,84.00\n`
  const fill = () => spawnSync('sh', ['-c', `head -c 200000000 /dev/zero > ${ballast}`])
  const orders = async () => {
    const answer = await fetch(`${app.origin}/api/export/orders`)
    return (await answer.text()).split('\n').filter(line => line.startsWith('full-')).length
  }

  test('figures can be read, whoever sends is told, and all goes on once there is room', async ({ page }) => {
    expect((await post(app, '/api/import/orders', order('full-1'))).status).toBe(200)
    fill()
    await expect.poll(() => health(app)).toMatchObject({ database: 'ok', disk: 'full' })
    const refused = await post(app, '/api/import/orders', order('full-2'))
    expect([refused.status, await refused.text()]).toEqual([503, expect.stringContaining('The disk is full')])
    await page.goto(`${app.origin}/results`)
    await expect(page.getByRole('alert').filter({ hasText: 'disk' })).toContainText('nothing is taken in')
    expect(await orders()).toBe(1)

    // A form says that it is not kept, and holds what was typed until it is.
    await page.goto(`${app.origin}/settings`)
    await page.getByRole('button', { name: 'Change: What an order is worth' }).click()
    await page.getByLabel('Margin of an order').fill('37')
    await page.keyboard.press('Control+Enter')
    await expect(page.getByRole('alert').filter({ hasText: 'This was not done' })).toBeVisible()
    rmSync(ballast)
    await page.keyboard.press('Control+Enter')
    await expect(page.getByText('The settings are changed.')).toBeVisible()
    await expect(page.getByText('margin 37 %')).toBeVisible()
    // What is taken back in vain is said.
    fill()
    await expect.poll(() => health(app)).toMatchObject({ disk: 'full' })
    await page.keyboard.press('u')
    await expect(page.getByText('It could not be taken back')).toBeVisible()
    rmSync(ballast)
    await expect.poll(() => status(app)).toBe('ok')
    expect((await post(app, '/api/import/orders', order('full-2'))).status).toBe(200)
    expect(await orders()).toBe(2)
  })
  test('a database that got stuck there is started again once there is room', async () => {
    const before = await orders()
    expect((await post(app, '/api/import/orders', order('full-3'))).status).toBe(200)
    fill()
    const stuck = lockOf(app).process
    process.kill(stuck, 'SIGSTOP')
    await expect.poll(() => isAlive(stuck)).toBe(false)
    rmSync(ballast)
    await expect.poll(() => status(app)).toBe('ok')
    expect(await orders()).toBe(before + 1)
  })
})

test.describe('two applications on one PostgreSQL', () => {
  test.skip(!hasPostgres(), 'There is no PostgreSQL server on this machine.')
  let server: PostgresServer
  const apps: Application[] = []
  test.beforeAll(async () => {
    server = await startPostgres()
    const start = (port: number) => startApplication('start', port, undefined, { DATABASE_URL: server.url })
    // At once: one migrates, the other waits for it.
    apps.push(...(await Promise.all([start(5250), start(5350)])))
  })
  test.afterAll(async () => {
    for (const app of apps) await app.stop()
    server?.stop('fast')
  })
  const query = async (text: string) => {
    const client = new pg.Client({ connectionString: server.url })
    await client.connect()
    try {
      return (await client.query(text)).rows
    } finally {
      await client.end()
    }
  }

  test('answer by the same routes, and take in each journal once', async () => {
    const [one, two] = apps as [Application, Application]
    const ads = 'network,campaign_id,ad_id,landing_page\nnorrfeed,c1,a1,https://tarnbrook.example/kits\n'
    expect((await post(one, '/api/import/ads', ads)).status).toBe(200)
    const [{ code }] = (await query('select code from routes')) as [{ code: string }]
    const click = async (app: Application) =>
      (await fetch(`${app.collector}/c/${code}?utm_content=a1`, { redirect: 'manual' })).status
    // Each learns of the code by itself, whoever comes first.
    for (const app of [one, two]) await expect.poll(() => click(app)).toBe(302)
    const before = Number((await query('select count(*) as n from clicks'))[0]!.n)
    expect(before).toBeLessThanOrEqual(2)
    for (let i = 0; i < 20; i++) expect(await Promise.all([click(one), click(two)])).toEqual([302, 302])
    const count = async () => Number((await query('select count(*) as n from clicks'))[0]!.n)
    await expect.poll(count).toBe(42)
    const journals = await query('select distinct journal from drain_positions')
    expect(journals).toHaveLength(2)
    for (const app of apps) await expect.poll(() => status(app)).toBe('ok')
  })
  test('say how far a page has come whose records take long to read, and show it then', async ({ page }) => {
    const [, two] = apps as [Application, Application]
    const delivery = `date,network,campaign_id,currency,spend\n${daysAgo(2)},norrfeed,c1,EUR,7.00\n`
    expect((await post(two, '/api/import/delivery', delivery)).status).toBe(200)
    const other = new pg.Client({ connectionString: server.url })
    await other.connect()
    try {
      await other.query('begin; lock table rates in access exclusive mode')
      await page.goto(`${two.origin}/weigh`)
      await expect(page.getByRole('status').filter({ hasText: 'Reading orders' })).toBeVisible()
      await expect(page.getByRole('progressbar')).toBeVisible()
      await expect(page.getByRole('link', { name: 'Reconcile' })).toBeVisible()
      // Whoever gives up, before or while it is worked on, takes nothing from the others.
      const gone = new AbortController()
      const given = ['judge', 'weigh', 'figure?figure=spend'].map(path =>
        fetch(`${two.origin}/api/${path}`, { signal: gone.signal }).then(
          () => 'answered',
          () => 'given up',
        ),
      )
      gone.abort()
      expect(await Promise.all(given)).toEqual(given.map(() => 'given up'))
      await other.query('commit')
    } finally {
      await other.end()
    }
    await expect(page.getByRole('row').filter({ hasText: 'Norrfeed' }).first()).toContainText('7.00')
    await expect(page.getByText('Reading orders')).toHaveCount(0)
  })
  test('go on when the server was killed and comes back', async ({ page }) => {
    server.stop('immediate')
    const [one] = apps as [Application]
    await expect.poll(() => status(one)).toBe('degraded')
    const answer = await fetch(`${one.origin}/api/orders`, { method: 'POST', body: '{}' })
    expect(answer.status).toBe(503)
    // A page that cannot be made says so beside the stations, and can be tried again.
    await page.goto(`${one.origin}/intake/routes`)
    const heading = page.getByRole('heading', { level: 1 })
    await expect(heading).toHaveText('This page could not be shown.')
    await expect(page.getByRole('link', { name: 'Reconcile' })).toBeVisible()
    server.start()
    for (const app of apps) await expect.poll(() => status(app), { timeout: 60_000 }).toBe('ok')
    await page.getByRole('button', { name: 'Try again' }).click()
    await expect(heading).toContainText('leads clicks on')
  })
  test('keep the newer of two messages about one order, whichever is stored last', async () => {
    const [secret] = await query(`select value from secrets where name = 'orders_webhook'`)
    const send = async (app: Application, id: string, minute: number, refunded: string) => {
      const body = JSON.stringify({
        type: 'order.updated',
        timestamp: `2026-11-01T10:${String(minute).padStart(2, '0')}:00Z`,
        data: {
          order_id: id,
          ordered_at: '2026-11-01T10:00:00Z',
          status: 'paid',
          currency: 'EUR',
          total: '50.00',
          refunded,
        },
      })
      const [message, at] = [`${id}-${minute}`, new Date()]
      const answer = await fetch(`${app.origin}/api/orders`, {
        method: 'POST',
        headers: {
          'webhook-id': message,
          'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
          'webhook-signature': new Webhook(secret!.value).sign(message, at, body),
        },
        body,
      })
      expect(answer.status).toBe(200)
    }
    const [one, two] = apps as [Application, Application]
    for (let pair = 0; pair < 60; pair++) {
      const id = `R${pair}`
      await Promise.all([send(one, id, 1, '1.00'), send(two, id, 2, '2.00')])
    }
    const rows = await query(`select refunded from orders where order_id like 'R%'`)
    expect(rows.map(r => Number(r.refunded))).toEqual(Array(60).fill(200))
  })
})
