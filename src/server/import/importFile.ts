import { createHash, randomUUID } from 'node:crypto'
import type { Reject } from '@/core/intake/fields'
import { type FileKind, fileKinds, type RecordOf } from '@/core/intake/records'
import { type Day, zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import type { Database, Executor } from '@/data/connect'
import { currentImport } from '@/data/importLog'
import { keepAside, type SetAside } from '@/data/intake'
import { markTestOrders } from '@/data/liveTests'
import { loadRates } from '@/data/loadRecords'
import { ROWS_AT_ONCE } from '@/data/store'
import {
  inStoringOrder,
  isNaming,
  type NamingKind,
  prepareRows,
  type Row,
  rowMaker,
} from '@/data/storeRecords'
import { type ImportOutcome, type Part, raiseVersion, recordBatch, type Workspace } from '@/data/workspace'
import { eachRowsCells, type ReadColumns, readBlocks } from '@/formats/csv'
import { adsWereNamed } from '../links/unknownValues'
import { publishRoutes } from '../routes'
import { settleCorrected, type TakenRows } from './corrected'
import { checkRowNames, type NameCheck } from './names'

export const isFileKind = (kind: string): kind is FileKind => fileKinds.some(k => k === kind)

/** Who waits for a long import hears how far it is, and may stop it. */
export interface Watch {
  progress?: (rows: number, of: number) => void
  signal?: AbortSignal
}

const LINES_AT_ONCE = 5000
/** Tells of some lines alone how many are read. */
export const everySome =
  (progress: Watch['progress'], of: number): ((lines: number) => void) =>
  lines => {
    if (lines % LINES_AT_ONCE === 0) progress?.(lines, of)
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

/** Rows to store at once. */
interface ToStore {
  rows: number
  store: (database: Executor) => Promise<number>
  /** how many lines of the file are done with once they are stored */
  read: number
}

/**
 * Takes in one exchange file: the good rows go in, the bad ones are set aside with line, column and
 * reason. The same file twice changes nothing, so one that was stopped half-way is simply taken again.
 * It is read from its end while what was read is stored.
 *
 * @throws FileRefused when the file cannot be taken at all; then nothing has changed
 */
export async function importFile(
  database: Database,
  workspace: Workspace,
  kind: FileKind,
  content: string,
  { file = `${kind}.csv`, progress, signal }: Watch & { file?: string } = {},
): Promise<ImportOutcome & { columns: ReadColumns['columns']; names: NameCheck }> {
  const whole = readBlocks(kind, content, file)
  const found: Found = { good: 0, naming: [], withoutRate: [] }
  let accepted = 0
  let done = 0
  const storePart = async ({ rows, store, read }: ToStore) => {
    accepted += await database.transaction(store)
    done += rows
    progress?.(read, whole.lines)
  }
  let cancelled = false
  let storing = Promise.resolve()
  try {
    for await (const part of partsFromTheEnd(database, workspace, kind, whole, found)) {
      await storing
      if (signal?.aborted) {
        cancelled = true
        break
      }
      storing = storePart(part)
      // It is waited for above or below, while the next part is read.
      storing.catch(() => {})
    }
    await storing
    if (kind === 'ads' && accepted > 0) await publishRoutes(database, workspace.id)
    if (kind === 'orders' && accepted > 0) await markTestOrders(database, workspace.id)
  } finally {
    await storing.catch(() => {})
    if (accepted > 0) await raiseVersion(database, workspace.id, ...partsOf[kind])
    if (accepted > 0 && isNaming(kind)) await adsWereNamed(database, workspace.id)
  }
  const rejected = [...whole.rejected, ...withCells(kind, content, file, found.withoutRate)]
  rejected.sort((a, b) => a.line - b.line)
  const outcome = { accepted, duplicates: (cancelled ? done : found.good) - accepted, rejected, cancelled }
  const aside = rejected.map(asideOf(kind, file))
  // A part at a time: of a hundred thousand bad rows none keeps others from the database. Kept twice, a row is there once.
  for (let at = 0; at < aside.length; at += ROWS_AT_ONCE)
    await database.transaction(inner => keepAside(inner, workspace.id, aside.slice(at, at + ROWS_AT_ONCE)))
  await database.transaction(async inner => {
    if (!cancelled && found.good > 0) {
      const ids = new Set(aside.map(item => item.id))
      const refused = new Set(rejected.map(reject => reject.line))
      await settleCorrected(inner, workspace.id, kind, takenRows(kind, content, file, refused), ids)
    }
    await recordBatch(
      inner,
      workspace.id,
      { id: currentImport() ?? randomUUID(), kind, file, imported_at: new Date() },
      outcome,
    )
  })
  const names = await checkRowNames(database, workspace.id, found.naming.reverse())
  return { ...outcome, columns: whole.columns, names }
}

/** What is found in a file while its rows are made. */
interface Found {
  good: number
  /** its records from the last to the first, where they name ads */
  naming: RecordOf[NamingKind][]
  withoutRate: Reject[]
}

/** The rows of a file in parts, from its end; where their order matters, once all are read. */
async function* partsFromTheEnd<Kind extends FileKind>(
  database: Executor,
  workspace: Workspace,
  kind: Kind,
  whole: ReturnType<typeof readBlocks<Kind>>,
  found: Found,
): AsyncGenerator<ToStore> {
  const make = rowMaker(workspace.id, kind)
  const withoutRate = await rateChecker(database, workspace, kind)
  const toStore = (part: readonly Row[], read: number): ToStore => ({
    rows: part.length,
    store: prepareRows(workspace.id, kind, part),
    read,
  })
  let rows: Row[] = []
  let read = 0
  for (const readNext of whole.blocks.reverse()) {
    const block: [record: RecordOf[Kind], line: number][] = []
    readNext((record, line) => block.push([record, line]))
    for (const [record, line] of block.reverse()) {
      read = whole.lines + 2 - line
      const currency = withoutRate(record)
      if (currency) {
        found.withoutRate.push({ line, column: 'currency', reason: 'no_rate', value: currency })
        continue
      }
      found.good += 1
      if (isNaming(kind)) found.naming.push(record as RecordOf[NamingKind])
      const row = make(record)
      if (row) rows.push(row)
    }
    while (!isNaming(kind) && rows.length >= ROWS_AT_ONCE) {
      const part = rows.splice(0, ROWS_AT_ONCE)
      yield toStore(part.reverse(), read)
    }
    // What was read before may go to the database meanwhile.
    await new Promise(setImmediate)
  }
  rows = isNaming(kind) ? inStoringOrder(rows) : rows.reverse()
  for (let at = 0; at < rows.length; at += ROWS_AT_ONCE) {
    const part = rows.slice(at, at + ROWS_AT_ONCE)
    yield toStore(part, whole.lines - rows.length + at + part.length)
  }
}

/** Rejected rows with their cells. */
function withCells(kind: FileKind, content: string, file: string, rejected: readonly Reject[]): Reject[] {
  if (rejected.length === 0) return []
  const wanted = new Set(rejected.map(reject => reject.line))
  const found = new Map<number, Record<string, string>>()
  eachRowsCells(kind, content, file, (cells, line) => wanted.has(line) && found.set(line, cells))
  return rejected.map(reject => ({ ...reject, cells: found.get(reject.line) ?? {} }))
}

/** What of a file went in, as rows that were rejected before are held against it. */
function takenRows(kind: FileKind, content: string, file: string, refused: ReadonlySet<number>): TakenRows {
  let lines: string[] | undefined
  return {
    file,
    each: take =>
      eachRowsCells(kind, content, file, (cells, line) => {
        if (!refused.has(line)) take(cells, line)
      }),
    textOn: line => (lines ??= content.split(/\r?\n/))[line - 1] ?? '',
  }
}

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

/** Says of a record its currency where it has no rate: such rows are set aside, they could be in no sum. */
async function rateChecker<Kind extends FileKind>(database: Executor, workspace: Workspace, kind: Kind) {
  if (kind === 'rates') return () => null
  const own = workspace.settings.currency
  const localTime = zoneClock(workspace.settings.time_zone)
  const hasRate = await rateFinder(database, workspace)
  return (record: RecordOf[Kind]): string | null => {
    const { currency, ...fields }: Record<string, unknown> = record
    if (typeof currency !== 'string' || currency === own) return null
    const at = Number(fields.ordered_at ?? fields.claimed_at ?? 0)
    const day = typeof fields.date === 'number' ? (fields.date as Day) : localTime(at).day
    return hasRate(currency, day) ? null : currency
  }
}
