import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Database } from '@/data/connect'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { jobs } from './jobs'
import { lookAtReport } from './report'
import { lookAtExport } from './shopExport'
import { undoImport } from './undo'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  workspace = (await findWorkspace(database, 'w'))!
})
afterAll(() => stop())

const TABLES = [
  ...['orders', 'clicks', 'delivery', 'claim_sums', 'claim_rows', 'rates', 'ad_entities', 'ad_entity_names'],
  ...['set_aside', 'decisions'],
]
/** All that is held, but for the revisions under which it was written. */
async function held() {
  const tables: Record<string, string[]> = {}
  for (const table of TABLES) {
    const { rows } = await database.execute<{ row: string }>(
      `select (to_jsonb(t) - 'revision')::text as row from ${table} as t where workspace = 'w' order by 1`,
    )
    tables[table] = rows.map(({ row }) => row)
  }
  return tables
}

const csv = (header: string, ...rows: string[]) => [header, ...rows].join('\n')
const delivery = (spend: string, name: string) =>
  csv(
    'date,network,campaign_id,campaign_name,ad_id,currency,spend,impressions,clicks',
    `2026-11-02,kelpie,c1,${name},a1,EUR,${spend},100,7`,
    `2026-11-03,kelpie,c1,${name},a2,EUR,${spend},100,7`,
    `2026-11-33,kelpie,c1,${name},a2,EUR,${spend},100,7`,
  )
const file =
  (kind: 'delivery' | 'orders' | 'claims' | 'claim-rows' | 'rates' | 'ads' | 'clicks', content: string) =>
  () =>
    jobs.file(database, workspace, { kind, content, file: `${kind}.csv` }, {})
const report = (content: string) => async () => {
  const { mapping } = await lookAtReport(database, workspace, 'kelpie', content)
  return jobs.takeReport(database, workspace, { network: 'kelpie', file: 'r.csv', mapping, content }, {})
}
const shop = (content: string) => async () => {
  const { mapping } = await lookAtExport(database, workspace, content)
  return jobs.takeExport(database, workspace, { file: 's.csv', mapping, content }, {})
}

const orders = (...rows: string[]) => csv('order_id,ordered_at,status,currency,total,customer_id', ...rows)
const imports: [what: string, first: () => Promise<object>, then: () => Promise<{ batch: string | null }>][] =
  [
    [
      'spend',
      file('delivery', delivery('3.00', 'Autumn')),
      file('delivery', delivery('4.00', 'Autumn looms')),
    ],
    [
      'orders',
      file('orders', orders('1,2026-11-02T10:00:00Z,paid,EUR,20.00,c-1')),
      file(
        'orders',
        orders('1,2026-11-02T10:00:00Z,refunded,EUR,20.00,c-1', '2,2026-11-03T10:00:00Z,paid,EUR,30.00,c-2'),
      ),
    ],
    [
      'conversions',
      file('claims', csv('date,network,ad_id,conversion,click_through', '2026-11-02,kelpie,a1,purchase,1')),
      file(
        'claims',
        csv(
          'date,network,ad_id,conversion,click_through',
          '2026-11-02,kelpie,a1,purchase,2',
          '2026-11-04,kelpie,a1,purchase,1',
        ),
      ),
    ],
    [
      'listed conversions',
      file('rates', csv('date,base,quote,rate', '2026-11-02,USD,EUR,0.9')),
      file(
        'claim-rows',
        csv(
          'claimed_at,network,ad_id,conversion,kind,transaction_id',
          '2026-11-02T10:00:00Z,mothwire,m1,purchase,click,1',
        ),
      ),
    ],
    [
      'rates',
      file('rates', csv('date,base,quote,rate', '2026-11-02,USD,EUR,0.9')),
      file('rates', csv('date,base,quote,rate', '2026-11-02,USD,EUR,0.8', '2026-11-03,USD,EUR,0.8')),
    ],
    [
      'ads',
      file('ads', csv('network,campaign_id,campaign_name,ad_id,ad_name', 'kelpie,c1,Autumn,a1,Oak')),
      file(
        'ads',
        csv(
          'network,campaign_id,campaign_name,ad_id,ad_name',
          'kelpie,c1,Winter,a1,Elm',
          'kelpie,c2,New,a9,Ash',
        ),
      ),
    ],
    [
      'clicks',
      file('clicks', csv('click_id,clicked_at,network,ad_id', 'k1,2026-11-02T09:00:00Z,kelpie,a1')),
      file(
        'clicks',
        csv(
          'click_id,clicked_at,network,ad_id',
          'k1,2026-11-02T09:00:00Z,kelpie,a2',
          'k2,2026-11-02T09:00:00Z,kelpie,a1',
        ),
      ),
    ],
    [
      "a network's report",
      report(csv('Day,Campaign,Cost,Purchases', '2026-11-02,Autumn,9.00,1', '2026-11-03,Autumn,2.00,0')),
      report(
        csv(
          'Day,Campaign,Cost,Purchases',
          '2026-11-02,Autumn,1.00,2',
          '2026-11-02,Winter,5.00,1',
          'x,Winter,5.00,1',
        ),
      ),
    ],
    [
      'an export of the shop',
      shop(csv('Order,Date,Status,Total,Currency', '77,2026-11-02,paid,20.00,EUR')),
      shop(
        csv(
          'Order,Date,Status,Total,Currency',
          '77,2026-11-02,cancelled,20.00,EUR',
          '78,2026-11-02,paid,9.00,EUR',
        ),
      ),
    ],
    [
      'refunds',
      shop(csv('Order,Date,Status,Total,Currency', '79,2026-11-02,paid,20.00,EUR')),
      shop(csv('Order,Refunded', '79,5.00')),
    ],
  ]

describe('an import that is undone', () => {
  it.each(imports)('leaves everything as it was before: %s', async (_, first, then) => {
    await first()
    const before = await held()
    const { batch } = await then()
    expect(await held()).not.toEqual(before)
    expect(await undoImport(database, workspace, batch!)).toBeNull()
    expect(await held()).toEqual(before)
    expect(await undoImport(database, workspace, batch!)).not.toBeNull()
  })
  it('is the latest one, and nothing that came otherwise since', async () => {
    const early = await file(
      'orders',
      orders('90,2026-11-02T10:00:00Z,paid,EUR,20.00,c-1', '91,2026-11-02T10:00:00Z,paid,EUR,5.00,c-1'),
    )()
    const late = await file('orders', orders('90,2026-11-02T10:00:00Z,paid,EUR,25.00,c-1'))()
    expect(await undoImport(database, workspace, early.batch!)).toContain('another file was imported since')
    expect(await undoImport(database, workspace, late.batch!)).toBeNull()
    // The shop itself tells of one of them meanwhile.
    await database.execute(`update workspaces set version = version + 1 where id = 'w'`)
    await database.execute(
      `update orders set total = 2100, revision = (select version from workspaces where id = 'w') where order_id = '90'`,
    )
    expect(await undoImport(database, workspace, early.batch!)).toBeNull()
    const { rows } = await database.execute<{ order_id: string; total: string }>(
      `select order_id, total::text from orders where order_id in ('90', '91')`,
    )
    expect(rows).toEqual([{ order_id: '90', total: '2100' }])
  })
})
