import { randomUUID } from 'node:crypto'
import type { Reject } from '@/core/intake/fields'
import { type FileKind, fileKinds } from '@/core/intake/records'
import { zoneClock } from '@/core/shared/days'
import { minor } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import type { Database, Executor } from '@/data/connect'
import { loadRates, storeRecords } from '@/data/exchange'
import { type ImportOutcome, raiseVersion, recordBatch, type Workspace } from '@/data/workspace'
import { type ReadFile, readExchangeFile } from '@/formats/csv'

export const isFileKind = (kind: string): kind is FileKind => fileKinds.some(k => k === kind)

/**
 * Takes in one exchange file: the good rows go in, the bad ones are kept with line, column and reason,
 * all in one transaction. The same file twice changes nothing.
 *
 * @throws FileRefused when the file cannot be taken at all; then nothing has changed
 */
export async function importFile(
  database: Database,
  workspace: Workspace,
  kind: FileKind,
  content: string,
  file = `${kind}.csv`,
): Promise<ImportOutcome & { columns: ReadFile<FileKind>['columns'] }> {
  const read = readExchangeFile(kind, content, file)
  return database.transaction(async transaction => {
    const { kept, withoutRate } = await splitByRate(transaction, workspace, kind, read)
    const rejected = [...read.rejected, ...withoutRate].sort((a, b) => a.line - b.line)
    const outcome = { ...(await storeRecords(transaction, workspace.id, kind, kept)), rejected }
    await recordBatch(transaction, workspace.id, randomUUID(), kind, file, new Date(), outcome)
    if (outcome.accepted > 0) await raiseVersion(transaction, workspace.id)
    return { ...outcome, columns: read.columns }
  })
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
  const toOwn = converter(await loadRates(database, workspace.id))
  const localTime = zoneClock(workspace.settings.time_zone)
  const withoutRate: Reject[] = []
  const kept = read.records.filter((record, i) => {
    const fields: Record<string, unknown> = { ...record }
    const currency = typeof fields.currency === 'string' ? fields.currency : own
    const at = Number(fields.ordered_at ?? fields.claimed_at ?? 0)
    const day = typeof fields.date === 'number' ? fields.date : localTime(at).day
    if (toOwn(minor(0), currency, own, day) !== null) return true
    withoutRate.push({ line: read.lines[i]!, column: 'currency', reason: 'no_rate', value: currency })
    return false
  })
  return { kept, withoutRate }
}
