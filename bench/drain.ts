import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { v7 as uuidv7 } from 'uuid'
import type { Database } from '@/data/connect'
import { writeLine } from '@/formats/journalLine'
import { drainOnce } from '@/server/drain/drain'
import { onNewDatabase } from './hosted'
import type { Measure } from './measure'
import { median } from './median'

const BATCH = 4000
/** records in a segment of the journal, about as many as the collector writes */
const SEGMENT = 50_000
const LINE_BYTES = 650
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
async function plainInsert(database: Database, records: number): Promise<number> {
  await database.execute(sql`drop table if exists plain`)
  await database.execute(sql`create table plain (like clicks including all)`)
  let spent = 0
  for (let from = 0; from < records; from += BATCH) {
    const rows = Array.from({ length: Math.min(BATCH, records - from) }, (_, i) => plainRow(from + i))
    const start = performance.now()
    const batch = JSON.stringify(rows)
    await database.execute(sql`
      insert into plain (workspace, day, click_id, clicked_at, network, visitor_id, landing_url, attributes)
      select * from json_to_recordset(${batch}::json) as r(workspace text, day date, click_id text,
        clicked_at timestamptz, network text, visitor_id text, landing_url text, attributes jsonb)`)
    spent += performance.now() - start
  }
  return records / (spent / 1000)
}

function plainRow(i: number) {
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
}

/** Writes a journal in segments, as the collector leaves it when nobody drains. */
function writeJournal(folder: string, records: number): void {
  const journal = join(folder, 'journal')
  rmSync(journal, { recursive: true, force: true })
  mkdirSync(journal)
  for (let from = 0; from < records; from += SEGMENT) {
    const lines = Array.from({ length: Math.min(SEGMENT, records - from) }, (_, i) =>
      writeLine(clickOf(from + i)),
    )
    writeFileSync(join(journal, `${String(from).padStart(15, '0')}.ndjson`), lines.join(''))
  }
}

async function drain(database: Database, folder: string, records: number): Promise<number> {
  await database.execute(sql`truncate clicks, drain_positions`)
  writeJournal(folder, records)
  const start = performance.now()
  while ((await drainOnce(database, folder)) !== null);
  const seconds = (performance.now() - start) / 1000
  const [row] = (await database.execute<{ n: string }>(sql`select count(*) as n from clicks`)).rows
  if (Number(row?.n) !== records) throw new Error(`Drained ${row?.n} of ${records} records.`)
  return records / seconds
}

const measureDrain = (name: string, records: number, rounds: number): Promise<Measure[]> =>
  onNewDatabase(async (database, folder) => {
    const own: number[] = []
    const plain: number[] = []
    for (let round = 0; round < rounds; round++) {
      plain.push(await plainInsert(database, records))
      own.push(await drain(database, folder, records))
    }
    const against = 'plain inserts in batches into the same database'
    const value = median(own)
    return [
      { name, value, unit: 'records/s', against, ratio: value / median(plain) },
      {
        name: `${name}.memory`,
        value: process.resourceUsage().maxRSS / 1024,
        unit: 'MiB at most',
        against: 'the journal it read, MiB',
        ratio: process.resourceUsage().maxRSS / 1024 / ((records * LINE_BYTES) / 1048576),
      },
    ]
  })

/** Records a second from the journal into the database, against plain inserts of the same rows into it. */
export const benchDrain = () => measureDrain('drain', Number(process.env.BENCH_RECORDS ?? 60_000), 3)

/** A million records that waited, in one go. */
export const benchBacklog = () => measureDrain('backlog', 1_000_000, 1)
