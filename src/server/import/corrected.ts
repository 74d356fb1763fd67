import { distance } from 'fastest-levenshtein'
import { exchangeFiles, type FileKind } from '@/core/intake/records'
import type { Day } from '@/core/shared/days'
import { pathKey } from '@/core/shared/path'
import type { Executor } from '@/data/connect'
import { propose, settle, waitingRows } from '@/data/intake'

/** A rejected row as it is kept: its cells, or its text where it could not be told apart into cells. */
export interface RejectedRow {
  file: string
  line: number
  cells?: Record<string, string> | undefined
  text?: string | undefined
  /** where a row stands that looks like its correction */
  proposed?: { file: string; line: number }
}

/** What of a file went in. */
export interface TakenRows {
  /** hands over the cells of each row, with its line */
  each: (take: (cells: Record<string, string>, line: number) => void) => void
  /** the file's name */
  file: string
  /** the text of a line */
  textOn: (line: number) => string
}

/**
 * Settles rejected rows whose correction is in: those whose own ID or identity is among the rows that were imported.
 * What else looks like a correction, a row of the same line that differs in a cell or two, is only proposed: whether
 * it is one, whoever knows the file decides.
 *
 * @param rejected IDs of the rows that this file itself had rejected
 */
export async function settleCorrected(
  database: Executor,
  workspace: string,
  kind: FileKind,
  taken: TakenRows,
  rejected: ReadonlySet<string>,
): Promise<void> {
  const waiting = (await waitingRows(database, workspace, { file: kind })).filter(
    row => !rejected.has(row.id),
  )
  if (waiting.length === 0) return
  const file = exchangeFiles[kind]
  const keyOf = (cells: Record<string, string>) =>
    'known' in file && !cells[file.known]?.trim() ? null : identityOf(file.identity, cells)
  const rows = waiting.map(({ id, raw }) => ({ id, ...(JSON.parse(raw) as RejectedRow) }))
  const lines = new Set(rows.map(row => row.line))
  const wanted = new Set(rows.flatMap(({ cells }) => (cells ? (keyOf(cells) ?? []) : [])))
  const there = new Set<string>()
  const cellsNow = new Map<number, Record<string, string>>()
  taken.each((cells, line) => {
    const own = keyOf(cells)
    if (own !== null && wanted.has(own)) there.add(own)
    if (lines.has(line)) cellsNow.set(line, cells)
  })
  const isThere = ({ cells }: RejectedRow) => {
    const own = cells ? keyOf(cells) : null
    return own !== null && there.has(own)
  }
  await settle(
    database,
    workspace,
    rows.filter(isThere).map(row => row.id),
    'taken',
  )
  const alike = rows.filter(row => {
    const now = cellsNow.get(row.line)
    if (!now || isThere(row)) return false
    return row.cells
      ? isAlike(row.cells, now)
      : row.text !== undefined && isAlikeText(row.text, taken.textOn(row.line))
  })
  await propose(
    database,
    workspace,
    alike.map(({ id, line }) => ({ id, line, file: taken.file })),
  )
}

/** What a row is known by; null where it says nothing of it. */
function identityOf(columns: readonly string[], cells: Record<string, string>): string | null {
  const parts = columns.map(column => (cells[column] ?? '').trim())
  return parts.every(part => part === '') ? null : pathKey(...parts)
}

/** A corrected row differs from the one that was rejected in a cell or two. */
function isAlike(before: Record<string, string>, after: Record<string, string>): boolean {
  const columns = Object.keys(before)
  const different = columns.filter(column => before[column] !== after[column])
  return different.length <= 2 && columns.length - different.length >= 2
}

const isAlikeText = (before: string, after: string): boolean =>
  distance(before, after) <= Math.max(before.length, after.length) * 0.3

/** Settles rejected rows of a network's reports whose days a later one replaced: its own rows stand for them. */
export async function settleReport(
  database: Executor,
  workspace: string,
  network: string,
  days: readonly Day[],
  rejected: ReadonlySet<string>,
): Promise<void> {
  const replaced = new Set(days)
  const corrected = (await waitingRows(database, workspace, { file: 'report', network })).filter(
    ({ id, raw }) => {
      const { days: own = [] }: { days?: Day[] } = JSON.parse(raw)
      return !rejected.has(id) && own.length > 0 && own.every(day => replaced.has(day))
    },
  )
  await settle(
    database,
    workspace,
    corrected.map(row => row.id),
    'taken',
  )
}
