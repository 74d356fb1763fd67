import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Database } from '@/data/connect'
import { loadRecords } from '@/data/exchange'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { FileRefused, writeCsv } from '@/formats/csv'
import { exportFiles } from './exportFiles'
import { importFile } from './import/importFile'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
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
