import { type ChildProcess, fork } from 'node:child_process'
import { mkdirSync, mkdtempSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { v7 as uuidv7 } from 'uuid'
import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { type Database, migrateDatabase, openDatabase } from '@/data/connect'
import { createWorkspace } from '@/data/workspace'
import { writeLine } from '@/formats/journalLine'
import { drainOnce } from '@/server/drain/drain'
import type { Measure } from './main'
import { median } from './median'

const RECORDS = Number(process.env.BENCH_RECORDS ?? 60_000)
const ROUNDS = 3
const BATCH = 4000
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'

function clickOf(i: number) {
  const id = uuidv7()
  return {
    kind: 'click' as const,
    id,
    at: Date.now(),
    workspace: 'main',
    from: '192.0.2.0',
    agent: AGENT,
    network: 'norrfeed',
    code: 'kits',
    query: `utm_source=norrfeed&utm_content=na${i % 40}`,
    landing: `https://tarnbrook.example/kits?utm_source=norrfeed&utm_content=na${i % 40}&aq_click=${id}`,
    visitor: `v${i % 20_000}`,
  }
}

/** The reference: the same facts in a table of the same columns and key, in batches, with nothing asked or checked. */
async function plainInsert(database: Database): Promise<number> {
  await database.execute(sql`drop table if exists plain`)
  await database.execute(sql`create table plain (like clicks including all)`)
  const rows = Array.from({ length: RECORDS }, (_, i) => {
    const { id, at, network, visitor, landing, ...rest } = clickOf(i)
    const instant = new Date(at).toISOString()
    return {
      workspace: 'main',
      day: instant.slice(0, 10),
      click_id: id,
      clicked_at: instant,
      network,
      visitor_id: visitor,
      landing_url: landing,
      attributes: { code: rest.code, query: rest.query, from: rest.from, agent: rest.agent },
    }
  })
  const start = performance.now()
  for (let i = 0; i < rows.length; i += BATCH) {
    const batch = JSON.stringify(rows.slice(i, i + BATCH))
    await database.execute(sql`
      insert into plain (workspace, day, click_id, clicked_at, network, visitor_id, landing_url, attributes)
      select * from json_to_recordset(${batch}::json) as r(workspace text, day date, click_id text,
        clicked_at timestamptz, network text, visitor_id text, landing_url text, attributes jsonb)`)
  }
  return RECORDS / ((performance.now() - start) / 1000)
}

async function drain(database: Database, folder: string): Promise<number> {
  await database.execute(sql`truncate clicks, drain_positions`)
  const journal = join(folder, 'journal')
  rmSync(journal, { recursive: true, force: true })
  mkdirSync(journal)
  const lines: string[] = []
  for (let i = 0; i < RECORDS; i++) lines.push(writeLine(clickOf(i)))
  writeFileSync(join(journal, '000000000000001.ndjson'), lines.join(''))
  lines.length = 0
  const start = performance.now()
  while ((await drainOnce(database, folder)) > 0);
  const seconds = (performance.now() - start) / 1000
  const [row] = (await database.execute<{ n: string }>(sql`select count(*) as n from clicks`)).rows
  if (Number(row?.n) !== RECORDS) throw new Error(`Drained ${row?.n} of ${RECORDS} records.`)
  return RECORDS / seconds
}

/** Records a second from the journal into the database, against plain inserts of the same rows into it. */
export async function benchDrain(): Promise<Measure[]> {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'aequant-bench-')))
  process.env.AEQUANT_DATA = folder
  const host: ChildProcess = fork(join(process.cwd(), 'dist/database.mjs'), {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  })
  await new Promise(ready => host.once('message', ready))
  const { database, close } = openDatabase()
  try {
    await migrateDatabase(database)
    await createWorkspace(database, 'main', 'Bench', settingsSchema.parse({}), shippedProfiles)
    const own: number[] = []
    const plain: number[] = []
    for (let round = 0; round < ROUNDS; round++) {
      plain.push(await plainInsert(database))
      own.push(await drain(database, folder))
    }
    const against = 'plain inserts in batches into the same database'
    const value = median(own)
    return [
      { name: 'drain', value, unit: 'records/s', against, ratio: value / median(plain) },
      {
        name: 'drain.memory',
        value: process.resourceUsage().maxRSS / 1024,
        unit: 'MiB at most',
        against: 'the journal it read, MiB',
        ratio: process.resourceUsage().maxRSS / 1024 / ((RECORDS * 650) / 1048576),
      },
    ]
  } finally {
    await close()
    host.kill('SIGTERM')
    await new Promise(done => host.once('exit', done))
    rmSync(folder, { recursive: true, force: true })
  }
}
