import { stat } from 'node:fs/promises'
import { request } from 'node:http'
import { join } from 'node:path'
import * as z from 'zod'
import type { Database } from '@/data/connect'
import { listPositions } from '@/data/journalPositions'
import { dataFolder } from '@/formats/dataFolder'
import { journalFolder, journalId, listSegments } from '@/formats/journalFolder'
import { countLines } from './drain/readJournal'
import { WORKSPACE } from './workspace'

const ANSWER_MS = 3000
/** An answer, or none within three seconds: whoever asks how we are shall not wait for it. */
export const within = <T>(answer: Promise<T>): Promise<T> =>
  Promise.race([
    answer,
    new Promise<never>((_, late) =>
      setTimeout(() => late(new Error('no answer in time')), ANSWER_MS).unref(),
    ),
  ])

interface CollectorHealth {
  /** what it says of itself; `silent` where nothing answers */
  status: string
  journal: string | null
}

/** What the collector says of itself. */
export function askCollector(port: number): Promise<CollectorHealth> {
  const silent = { status: 'silent', journal: null }
  return new Promise(done => {
    const sent = request({ host: collectorHost(), port, path: '/health', timeout: 1000 }, response => {
      let body = ''
      response.on('data', chunk => (body += chunk))
      response.on('end', () => {
        const read = healthSchema.safeParse(parseOr(body, null))
        done(read.success ? read.data : silent)
      })
    })
    sent.on('timeout', () => sent.destroy())
    sent.on('error', () => done(silent))
    sent.end()
  })
}

const healthSchema = z.object({ status: z.string(), journal: z.string().nullable() })
function parseOr(text: string, otherwise: unknown): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return otherwise
  }
}
/** Where the collector is asked from this machine: one that listens on all addresses answers at this one too. */
const collectorHost = (): string => {
  const host = process.env.COLLECTOR_HOST ?? process.env.HOST ?? '127.0.0.1'
  return host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host
}

/** Whether the collector answers and can write, and how much of its journal is not in the database yet. */
export async function collectorState(
  database: Database | null,
): Promise<{ alive: boolean; status: string; lag_records: number; lag_seconds: number }> {
  const journal = journalFolder(dataFolder())
  const segments = listSegments(journal)
  const positions =
    database && segments.length > 0
      ? await within(listPositions(database, WORKSPACE, journalId(journal))).catch(() => null)
      : null
  let records = 0
  let oldest = 0
  for (const segment of segments) {
    const from = positions?.get(segment) ?? 0
    const { size, mtimeMs } = await stat(join(journal, segment))
    if (from < 0 || size <= from) continue
    records += await countLines(join(journal, segment), from)
    oldest = Math.max(oldest, Date.now() - mtimeMs)
  }
  const { status } = await askCollector(Number(process.env.COLLECTOR_PORT ?? 4610))
  const lag_seconds = records > 0 ? Math.round(oldest / 1000) : 0
  return { alive: status !== 'silent', status, lag_records: records, lag_seconds }
}
