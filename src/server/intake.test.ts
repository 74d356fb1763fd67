import { appendFileSync, mkdirSync, mkdtempSync, realpathSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { PGLiteSocketServer } from '@electric-sql/pglite-socket'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ClickArrival } from '@/core/intake/arrival'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { type Database, migrateDatabase, openDatabase } from '@/data/connect'
import { loadClicks, loadRecords } from '@/data/exchange'
import { socketFile } from '@/data/socket'
import { createWorkspace, findWorkspace, savePlan, type Workspace } from '@/data/workspace'
import { FileRefused, writeCsv } from '@/formats/csv'
import { drainOnce } from './drain'
import { exportFiles } from './exportFiles'
import { importFile } from './importFile'

/** The same driver and protocol as in use, on a database in memory. */
let database: Database
let stop: () => Promise<void>
let workspace: Workspace
const folder = mkdtempSync(join(tmpdir(), 'aequant-test-'))

beforeAll(async () => {
  const memory = await PGlite.create()
  const server = new PGLiteSocketServer({
    db: memory,
    path: socketFile(realpathSync(folder)),
    maxConnections: 8,
  })
  await server.start()
  process.env.AEQUANT_DATA = folder
  const opened = openDatabase()
  database = opened.database
  stop = async () => {
    await opened.close()
    await server.stop()
    await memory.close()
  }
  await migrateDatabase(database)
  await createWorkspace(
    database,
    'w',
    'Test',
    settingsSchema.parse({ time_zone: 'Europe/Lisbon' }),
    shippedProfiles,
  )
  workspace = (await findWorkspace(database, 'w'))!
})
afterAll(() => stop())

const delivery = writeCsv(
  [
    'date',
    'network',
    'campaign_id',
    'campaign_name',
    'ad_set_id',
    'ad_id',
    'ad_name',
    'currency',
    'spend',
    'clicks',
    'mood',
  ],
  [
    {
      date: '2026-10-01',
      network: 'norrfeed',
      campaign_id: 'c1',
      campaign_name: 'Old name',
      ad_set_id: 's1',
      ad_id: 'a1',
      ad_name: '=HYPERLINK("x")',
      currency: 'EUR',
      spend: '10.50',
      clicks: 5,
      mood: 'calm',
    },
    {
      date: '2026-10-02',
      network: 'norrfeed',
      campaign_id: 'c1',
      campaign_name: 'New name',
      ad_set_id: 's1',
      ad_id: 'a1',
      ad_name: '=HYPERLINK("x")',
      currency: 'EUR',
      spend: '11.00',
      clicks: 6,
      mood: '',
    },
  ],
)
const claimLine = '2026-10-03T10:00:00Z,norrfeed,a1,purchase,click,T1,20.00,EUR'
const claims = `claimed_at,network,ad_id,conversion,kind,transaction_id,value,currency\n${claimLine}\n${claimLine}\n`

it('keeps many connections’ queries apart', async () => {
  const numbers = Array.from({ length: 200 }, (_, i) => i)
  const echo = (i: number) =>
    database.execute<{ n: number }>(sql`select ${i}::int as n, ${'x'.repeat(i * 50)}::text as t`)
  expect((await Promise.all(numbers.map(echo))).map(r => r.rows[0]!.n)).toEqual(numbers)
})

describe('importing', () => {
  it('changes nothing when the same file comes again, and keeps a claim that was reported twice', async () => {
    expect(await importFile(database, workspace, 'delivery', delivery)).toMatchObject({
      accepted: 2,
      duplicates: 0,
    })
    expect(await importFile(database, workspace, 'claim-rows', claims)).toMatchObject({
      accepted: 2,
      duplicates: 0,
    })
    const before = await exportFiles(database, workspace)
    const { version } = (await findWorkspace(database, 'w'))!
    expect(await importFile(database, workspace, 'delivery', delivery)).toMatchObject({
      accepted: 0,
      duplicates: 2,
    })
    expect(await importFile(database, workspace, 'claim-rows', claims)).toMatchObject({
      accepted: 0,
      duplicates: 2,
    })
    expect(await exportFiles(database, workspace)).toEqual(before)
    expect((await findWorkspace(database, 'w'))!.version).toBe(version)
  })
  it('sets aside what has no exchange rate, and takes it in once there is one', async () => {
    const foreign =
      'order_id,ordered_at,status,currency,total\nF1,2026-10-05T10:00:00Z,paid,USD,100.00\nF2,2026-10-05T10:00:00Z,paid,EUR,50.00\n'
    const first = await importFile(database, workspace, 'orders', foreign)
    expect(first).toMatchObject({
      accepted: 1,
      rejected: [{ line: 2, column: 'currency', reason: 'no_rate' }],
    })
    await importFile(database, workspace, 'rates', 'date,base,quote,rate\n2026-10-01,EUR,USD,1.10\n')
    expect(await importFile(database, workspace, 'orders', foreign)).toMatchObject({
      accepted: 1,
      duplicates: 1,
      rejected: [],
    })
  })
  it('leaves nothing behind of a file that is refused', async () => {
    const before = await loadRecords(database, 'w')
    await expect(importFile(database, workspace, 'orders', 'order_id,total\nX1,1\n')).rejects.toThrow(
      FileRefused,
    )
    expect(await loadRecords(database, 'w')).toEqual(before)
  })
  it('exports what it took in: names, attributes, and formulas made harmless', async () => {
    const files = await exportFiles(database, workspace)
    const rows = files['delivery.csv']!
    expect(rows.map(r => [r.date, r.spend, r.campaign_name, r.mood]).sort()).toEqual([
      ['2026-10-01', '10.50', 'Old name', 'calm'],
      ['2026-10-02', '11.00', 'New name', ''],
    ])
    expect(writeCsv(Object.keys(rows[0]!), rows)).not.toMatch(/,"?=HYPERLINK/)
    const names = await database.execute(
      sql`select name from ad_entity_names where level = 'campaign' order by first_day`,
    )
    expect(names.rows.map(r => r.name)).toEqual(['Old name', 'New name'])
  })
})

describe('draining the journal', () => {
  const segment = join(folder, 'journal', '000000000000001.ndjson')
  const click = (id: string, query: string): ClickArrival => ({
    kind: 'click',
    id,
    at: Date.UTC(2026, 9, 6, 12),
    workspace: 'w',
    network: 'norrfeed',
    code: 'no1',
    query,
    landing: `https://tarnbrook.example/?${query}`,
    visitor: 'v1',
    device: 'phone',
  })
  const write = (...records: unknown[]) =>
    appendFileSync(segment, records.map(r => `${JSON.stringify(r)}\n`).join(''))
  const drained = async () => loadClicks(database, 'w')
  const drainAll = async () => {
    while ((await drainOnce(database, folder)) > 0);
  }
  beforeAll(async () => {
    mkdirSync(join(folder, 'journal'), { recursive: true })
    await savePlan(
      database,
      'w',
      { network: 'norrfeed', level: 'account', scope: '' },
      {
        utm_source: 'norrfeed',
        utm_campaign: '{campaign.name}',
        utm_content: '{ad.id}',
        spot: '{placement}',
      },
    )
  })
  it('names campaign and ad by the tag plan, and leaves an unresolved value out', async () => {
    write(
      click('k1', 'utm_source=norrfeed&utm_campaign=New%20name&utm_content=a1&spot=feed&nfref=nf1'),
      click('k2', 'utm_content=[[ad_ref]]'),
    )
    await drainAll()
    const [k1, k2] = (await drained()).sort((a, b) => a.click_id.localeCompare(b.click_id))
    expect(k1).toMatchObject({
      campaign_id: 'c1',
      ad_set_id: 's1',
      ad_id: 'a1',
      placement: 'feed',
      network_click_id: 'nf1',
      visitor_id: 'v1',
    })
    expect(k2).toMatchObject({ network: 'norrfeed', ad_id: null })
  })
  it('takes each record once: after a failure half-way, a torn line, or a position that was lost', async () => {
    await database.execute(
      sql`alter table drain_positions add constraint fails check ("offset" < 0) not valid`,
    )
    write(click('k3', ''))
    await expect(drainOnce(database, folder)).rejects.toThrow()
    expect((await drained()).map(c => c.click_id)).not.toContain('k3')
    await database.execute(sql`alter table drain_positions drop constraint fails`)
    const whole = JSON.stringify(click('k4', ''))
    appendFileSync(segment, whole.slice(0, 30))
    await drainAll()
    expect((await drained()).map(c => c.click_id)).not.toContain('k4')
    appendFileSync(segment, `${whole.slice(30)}\nnot json at all\n`)
    await drainAll()
    await database.execute(sql`delete from drain_positions`)
    await drainAll()
    expect((await drained()).map(c => c.click_id).sort()).toEqual(['k1', 'k2', 'k3', 'k4'])
  })
})
