import { readdir, stat } from 'node:fs/promises'
import { request } from 'node:http'
import { join } from 'node:path'
import { eq } from 'drizzle-orm'
import type { Database } from '@/data/connect'
import { drainPositions } from '@/data/schema'
import { dataFolder } from '@/formats/dataFolder'
import { countLines, JOURNAL } from './drain/drain'

function answers(port: number): Promise<boolean> {
  return new Promise(done => {
    const sent = request({ host: '127.0.0.1', port, path: '/health', timeout: 1000 }, response => {
      response.resume()
      done(response.statusCode === 200)
    })
    sent.on('timeout', () => sent.destroy())
    sent.on('error', () => done(false))
    sent.end()
  })
}

/** Whether the collector answers, and how much of its journal is not in the database yet. */
export async function collectorState(
  database: Database,
): Promise<{ alive: boolean; lag_records: number; lag_seconds: number }> {
  const journal = join(dataFolder(), 'journal')
  const [position] = await database
    .select()
    .from(drainPositions)
    .where(eq(drainPositions.journal, JOURNAL))
    .catch(() => [])
  let records = 0
  let oldest = 0
  for (const segment of (await readdir(journal).catch(() => [])).filter(name => name.endsWith('.ndjson'))) {
    if (position && segment < position.segment) continue
    const from = position?.segment === segment ? position.offset : 0
    const { size, mtimeMs } = await stat(join(journal, segment))
    if (size <= from) continue
    records += await countLines(join(journal, segment), from)
    oldest = Math.max(oldest, Date.now() - mtimeMs)
  }
  const alive = await answers(Number(process.env.COLLECTOR_PORT ?? 4610))
  return { alive, lag_records: records, lag_seconds: records > 0 ? Math.round(oldest / 1000) : 0 }
}
