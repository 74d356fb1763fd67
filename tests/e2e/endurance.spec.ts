import { execFileSync, spawnSync } from 'node:child_process'
import { join } from 'node:path'
import pg from 'pg'
import { ownRequest } from '../../src/core/shared/ownRequest'
import { socketFolder } from '../../src/data/socket'
import { randomStream } from '../../src/practice/market/random'
import { type Application, processOn, startApplication } from './application'
import { daysAgo } from './days'
import { expect, test } from './test'

let app: Application
test.beforeAll(async () => {
  app = await startApplication('start', 4780)
})
test.afterAll(() => app?.stop())

test('an empty workspace teaches, and its first file gives the first figure', async ({ page }) => {
  await page.goto(app.origin)
  await expect(page).toHaveURL(/\/begin/)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Begin with the shop')
  for (const path of ['/links', '/reconcile', '/weigh']) {
    await page.goto(app.origin + path)
    await expect(page.getByRole('link', { name: 'Take in the first file' })).toBeVisible()
  }
  await page.goto(`${app.origin}/results`)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('say what else does')
  // Nothing was heard, so that nothing can be as usual.
  await expect(page.getByText('No signal has been heard for eight days yet')).toBeVisible()
  await page.goto(`${app.origin}/signals`)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('no rule says yet')
  const name = `${'Very long campaign name '.repeat(12)}& <b>bold</b>`
  const delivery = `date,network,campaign_id,campaign_name,ad_set_id,ad_id,ad_name,currency,spend,clicks\n${daysAgo(20)},norrfeed,c1,${name},s1,a1,${name},EUR,40.00,80\n`
  expect(
    (
      await page.request.post(`${app.origin}/api/import/delivery`, {
        data: delivery,
        headers: { ...ownRequest, 'content-type': 'text/csv' },
      })
    ).status(),
  ).toBe(200)
  await page.goto(`${app.origin}/weigh`)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('40.00 EUR')
  await expect(page.getByRole('heading', { level: 1 })).toContainText(
    '1 has spent 40.00 and brought no order',
  )
  await expect(page.getByRole('row', { name: /Very long campaign name/ })).toBeVisible()
  const judged = await (await page.request.get(`${app.origin}/api/judge?level=ad`)).json()
  expect(judged.rows[0]).toMatchObject({ id: 'a1', spend: 40, cost_per_result: { estimate: null } })
})

test('a second start on the same folder is refused', () => {
  const second = spawnSync('node', ['scripts/start.mjs', 'start'], {
    env: { ...app.environment, PORT: '4799' },
    encoding: 'utf8',
  })
  expect(second.status).toBe(1)
  expect(second.stderr).toContain('Another Aequant runs on')
})

test('application and collector are killed twenty times under load: every acknowledged record is there once', async ({
  page,
}) => {
  const settle = new pg.Client({ host: socketFolder(app.folder), user: 'postgres', database: 'postgres' })
  await settle.connect()
  await settle.query('begin')
  for (const statement of [
    `insert into routes (workspace, code, network, landings) values ('main', 't1', 'norrfeed', '[{"address":"https://tarnbrook.example/kits","weight":1}]')`,
    `insert into sites (key, workspace) values ('killed', 'main')`,
    `insert into partners (workspace, id, code, partner) values ('main', 'somebody', 'killed', '{"id":"somebody","name":"Somebody","currency":"EUR","click_parameter":"c","parameters":{"deal":"deal"}}')`,
    `update workspaces set routing = routing + 1`,
  ])
    await settle.query(statement)
  await settle.query('commit')
  await settle.end()
  const acknowledged: string[] = []
  const toldOf = { events: [] as string[], postbacks: [] as string[] }
  let number = 0
  // Killed in the midst of the load, after so many answers as a seeded stream says.
  const random = randomStream(7)
  let kills = 0
  let answers = 0
  let next = 20
  const answered = (status: number) => {
    if (status === 0 || ++answers < next || kills === 20) return
    next = answers + Math.round(random.between(20, 400))
    const pid = processOn(random.chance(0.5) ? 4780 : 4790)
    if (pid <= 0) return
    process.kill(pid, 'SIGKILL')
    kills += 1
  }
  const tell = async () => {
    const id = `told-${number++}-of-many`
    const event = await fetch(`${app.collector}/e`, {
      method: 'POST',
      body: JSON.stringify({ site: 'killed', id, name: 'page' }),
    }).catch(() => null)
    if (event?.status === 204) toldOf.events.push(id)
    answered(event?.status ?? 0)
    const postback = await fetch(`${app.collector}/p/killed?deal=${id}`).catch(() => null)
    if (postback?.status === 200) toldOf.postbacks.push(id)
    answered(postback?.status ?? 0)
    return [event?.status ?? 0, postback?.status ?? 0].includes(503) ? 503 : 0
  }
  const click = async () => {
    const response = await fetch(`${app.collector}/c/t1?utm_source=norrfeed`, { redirect: 'manual' }).catch(
      () => null,
    )
    // The collector itself is dead for a moment: nothing was acknowledged.
    if (response === null) return 0
    if (response.status === 302)
      acknowledged.push(new URL(response.headers.get('location')!).searchParams.get('aq_click')!)
    answered(response.status)
    return response.status
  }
  await expect.poll(click).toBe(302)
  const statuses = new Set<number>()
  while (kills < 20)
    for (const status of await Promise.all(Array.from({ length: 40 }, (_, i) => (i % 2 ? tell() : click()))))
      statuses.add(status)
  expect([...statuses].filter(s => s !== 302 && s !== 0)).toEqual([])
  expect(acknowledged.length).toBeGreaterThan(500)
  const exported = async () => {
    const health = await page.request.get(`${app.origin}/api/health`).then(
      r => r.json(),
      () => null,
    )
    return health?.collector.lag_records
  }
  await expect.poll(exported, { timeout: 60_000 }).toBe(0)
  const out = join(app.folder, 'out')
  execFileSync('node', ['scripts/aequant.mjs', 'aequant', 'export', '--dir', out], {
    env: app.environment,
    stdio: 'ignore',
  })
  const ids = execFileSync('cut', ['-d,', '-f1', join(out, 'clicks.csv')], {
    encoding: 'utf8',
    maxBuffer: 1e8,
  })
    .trim()
    .split('\n')
    .slice(1)
  expect(ids.length).toBe(new Set(ids).size)
  // One more may be on disk: killed after it was written, and before its answer was heard.
  const known = new Set(acknowledged)
  expect(ids.filter(id => known.has(id)).sort()).toEqual([...acknowledged].sort())

  const client = new pg.Client({ host: socketFolder(app.folder), user: 'postgres', database: 'postgres' })
  await client.connect()
  await client.query('begin')
  const found = async (query: string) =>
    (await client.query<{ id: string }>(query)).rows.map(row => row.id).sort()
  const events = await found('select event_id as id from events')
  const deals = await found("select replace(query, 'deal=', '') as id from postbacks")
  await client.query('commit')
  await client.end()
  expect(toldOf.events.length).toBeGreaterThan(200)
  expect(events.filter(id => toldOf.events.includes(id))).toEqual([...toldOf.events].sort())
  expect(deals.filter(id => toldOf.postbacks.includes(id))).toEqual([...toldOf.postbacks].sort())
})
