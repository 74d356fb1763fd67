import { createHash, randomUUID } from 'node:crypto'
import type { Reject } from '@/core/intake/fields'
import { type FileKind, fileKinds, type RecordOf } from '@/core/intake/records'
import { type Day, zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import type { Database, Executor } from '@/data/connect'
import { keepAside, type SetAside } from '@/data/intake'
import { markTestOrders } from '@/data/liveTests'
import { loadRates } from '@/data/loadRecords'
import { rowsOf, storeRows } from '@/data/storeRecords'
import { type ImportOutcome, type Part, raiseVersion, recordBatch, type Workspace } from '@/data/workspace'
import { cellsOnLines, type ReadFile, readExchangeFile } from '@/formats/csv'
import { publishRoutes } from '../routes'
import { settleCorrected, type TakenRows } from './corrected'
import { checkRowNames, type NameCheck } from './names'

export const isFileKind = (kind: string): kind is FileKind => fileKinds.some(k => k === kind)

/** Who waits for a long import hears how far it is, and may stop it. */
export interface Watch {
  progress?: (rows: number, of: number) => void
  signal?: AbortSignal
}

/** What of a workspace is another after a file of a kind, beside rows that bear a revision; reports and ads bring names. */
const partsOf: Record<FileKind, readonly Part[]> = {
  delivery: ['delivery', 'rules'],
  claims: ['claims'],
  ads: ['rules'],
  rates: ['rules'],
  clicks: [],
  orders: [],
  'claim-rows': [],
}

/** Rows stored at a time: between two such parts others get at the database. */
const PART = 4000

/**
 * Takes in one exchange file: the good rows go in, the bad ones are set aside with line, column and
 * reason. The same file twice changes nothing, so one that was stopped half-way is simply taken again.
 *
 * @throws FileRefused when the file cannot be taken at all; then nothing has changed
 */
export async function importFile(
  database: Database,
  workspace: Workspace,
  kind: FileKind,
  content: string,
  { file = `${kind}.csv`, progress, signal }: Watch & { file?: string } = {},
): Promise<ImportOutcome & { columns: ReadFile<FileKind>['columns']; names: NameCheck }> {
  const read = readExchangeFile(kind, content, file)
  const { kept, withoutRate } = await splitByRate(database, workspace, kind, read)
  const cells =
    withoutRate.length > 0 && cellsOnLines(kind, content, file, new Set(withoutRate.map(r => r.line)))
  if (cells) for (const reject of withoutRate) reject.cells = cells.get(reject.line)
  const rejected = [...read.rejected, ...withoutRate].sort((a, b) => a.line - b.line)
  const rows = rowsOf(workspace.id, kind, kept)
  let accepted = 0
  let done = 0
  try {
    while (done < rows.length && !signal?.aborted) {
      const part = rows.slice(done, done + PART)
      accepted += await database.transaction(inner => storeRows(inner, workspace.id, kind, part))
      done += part.length
      progress?.(done, rows.length)
    }
    if (kind === 'ads' && accepted > 0) await publishRoutes(database, workspace.id)
    if (kind === 'orders' && accepted > 0) await markTestOrders(database, workspace.id)
  } finally {
    if (accepted > 0) await raiseVersion(database, workspace.id, ...partsOf[kind])
  }
  const cancelled = done < rows.length
  const duplicates = (cancelled ? done : kept.length) - accepted
  const outcome = { accepted, duplicates, rejected, cancelled }
  await database.transaction(async inner => {
    const aside = rejected.map(asideOf(kind, file))
    await keepAside(inner, workspace.id, aside)
    if (!cancelled) {
      const ids = new Set(aside.map(item => item.id))
      await settleCorrected(inner, workspace.id, kind, takenRows(kind, content, file, kept, rejected), ids)
    }
    await recordBatch(inner, workspace.id, { id: randomUUID(), kind, file, imported_at: new Date() }, outcome)
  })
  const names = await checkRowNames(database, workspace.id, isNaming(kind) ? (kept as NamingRow[]) : [])
  return { ...outcome, columns: read.columns, names }
}

/** What of a file went in, as rows that were rejected before are held against it. */
function takenRows<Kind extends FileKind>(
  kind: Kind,
  content: string,
  file: string,
  kept: readonly RecordOf[Kind][],
  rejected: readonly Reject[],
): TakenRows<Kind> {
  const refused = new Set(rejected.map(reject => reject.line))
  const cellsOn = (lines: ReadonlySet<number>) =>
    cellsOnLines(kind, content, file, new Set([...lines].filter(line => !refused.has(line))))
  let lines: string[] | undefined
  return { kept, cellsOn, textOn: line => (lines ??= content.split(/\r?\n/))[line - 1] ?? '' }
}

type NamingRow = RecordOf['delivery' | 'ads']
const isNaming = (kind: FileKind): boolean => kind === 'delivery' || kind === 'ads'

/** Reasons for which rows with the same value are alike, and are mended together. */
const alikeByValue: ReadonlySet<string> = new Set([
  'unknown_status',
  'unknown_kind',
  'not_a_currency',
  'no_rate',
])

/** A rejected row as it is kept. The same row again is the same. */
export const asideOf =
  (kind: FileKind, file: string) =>
  ({ line, column, reason, value, cells, text }: Reject): SetAside => {
    const raw = JSON.stringify({ file, line, cells, text })
    const content = cells ? JSON.stringify([kind, cells]) : raw
    return {
      id: `row ${createHash('sha256').update(content).digest('base64url').slice(0, 22)}`,
      kind: 'row',
      at: new Date(),
      reason,
      facts: { file: kind, column, ...(alikeByValue.has(reason) ? { value: value ?? '' } : {}) },
      raw,
    }
  }

/** Says of a currency and day whether amounts can be brought into the workspace's currency. */
export async function rateFinder(database: Executor, { id, settings }: Workspace) {
  const toOwn = converter(await loadRates(database, id))
  return (currency: string, day: Day) => toOwn(minor(0), currency, settings.currency, day) !== null
}

/** Rows in a currency without a rate are set aside: they could be in no sum. */
async function splitByRate<Kind extends FileKind>(
  database: Executor,
  workspace: Workspace,
  kind: Kind,
  read: ReadFile<Kind>,
) {
  const own = workspace.settings.currency
  const foreign = read.records.some(r => 'currency' in r && r.currency && r.currency !== own)
  if (!foreign || kind === 'rates') return { kept: read.records, withoutRate: [] }
  const hasRate = await rateFinder(database, workspace)
  const localTime = zoneClock(workspace.settings.time_zone)
  const withoutRate: Reject[] = []
  const kept = read.records.filter((record, i) => {
    const fields: Record<string, unknown> = { ...record }
    const currency = typeof fields.currency === 'string' ? fields.currency : own
    const at = Number(fields.ordered_at ?? fields.claimed_at ?? 0)
    const day = typeof fields.date === 'number' ? fields.date : localTime(at).day
    if (hasRate(currency, day)) return true
    withoutRate.push({ line: read.lines[i]!, column: 'currency', reason: 'no_rate', value: currency })
    return false
  })
  return { kept, withoutRate }
}
