import { sql } from 'drizzle-orm'
import type { Database } from '@/data/connect'
import { findWorkspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { importFile } from '@/server/import/importFile'
import { onNewDatabase } from './hosted'
import type { Measure } from './measure'
import { median } from './median'

const ROWS = 300_000
const ROUNDS = 3
const BATCH = 4000

const rowOf = (i: number) => ({
  order_id: `T${10_000_000 + i}`,
  ordered_at: new Date(Date.UTC(2026, 0, 1) + i * 61_000).toISOString(),
  status: i % 40 === 0 ? 'cancelled' : 'paid',
  currency: 'EUR',
  total: `${20 + (i % 400)}.90`,
  tax: '5.40',
  shipping: '4.90',
  refunded: '',
  customer_id: `u${i % 90_000}`,
  visitor_id: `v${i % 120_000}`,
  click_id: i % 3 === 0 ? '' : `c${i}`,
  landing_url: 'https://tarnbrook.example/kits',
  utm_source: 'norrfeed',
  utm_campaign: `Autumn ${i % 12}`,
  utm_content: `na${i % 40}`,
})

/** The reference: the same rows into a table of the same columns and indexes, in batches, nothing read or checked. */
async function plainInsert(database: Database): Promise<number> {
  await database.execute(sql`create table plain (like orders including all)`)
  let spent = 0
  for (let from = 0; from < ROWS; from += BATCH) {
    const rows = Array.from({ length: Math.min(BATCH, ROWS - from) }, (_, i) => ({
      ...rowOf(from + i),
      total: 2490,
      tax: 540,
      shipping: 490,
      refunded: 0,
      workspace: 'main',
      result: 'order',
    }))
    const batch = JSON.stringify(rows)
    const start = performance.now()
    await database.execute(sql`
      insert into plain (workspace, order_id, ordered_at, status, result, currency, total, tax, shipping, refunded,
        customer_id, visitor_id, click_id, landing_url, utm_source, utm_campaign, utm_content)
      select * from json_to_recordset(${batch}::json) as r(workspace text, order_id text, ordered_at timestamptz,
        status text, result text, currency text, total bigint, tax bigint, shipping bigint, refunded bigint,
        customer_id text, visitor_id text, click_id text, landing_url text, utm_source text, utm_campaign text,
        utm_content text)`)
    spent += performance.now() - start
  }
  await database.execute(sql`drop table plain`)
  return ROWS / (spent / 1000)
}

/** Rows of a file of orders taken in a second, each read, checked and stored, against the database's share of it. */
export async function benchImport(): Promise<Measure[]> {
  const file = writeCsv(
    Object.keys(rowOf(0)),
    Array.from({ length: ROWS }, (_, i) => rowOf(i)),
  )
  const rates: number[] = []
  const plain: number[] = []
  for (let round = 0; round < ROUNDS; round++)
    await onNewDatabase(async database => {
      const workspace = (await findWorkspace(database, 'main'))!
      const start = performance.now()
      const { accepted } = await importFile(database, workspace, 'orders', file)
      if (accepted !== ROWS) throw new Error(`${accepted} of ${ROWS} rows went in`)
      rates.push(ROWS / ((performance.now() - start) / 1000))
      plain.push(await plainInsert(database))
    })
  return [
    {
      name: 'import',
      value: median(rates),
      unit: 'rows/s',
      against: `plain batched inserts of the same ${ROWS} rows, nothing read or checked`,
      ratio: median(rates) / median(plain),
    },
  ]
}
