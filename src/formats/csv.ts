import Papa from 'papaparse'
import { LONGEST_CELL, type Reject, type RejectReason } from '@/core/intake/fields'
import { exchangeFiles, type FileKind, type RecordOf } from '@/core/intake/records'

const refusals = {
  empty: file => `${file} is empty. It needs a header line and rows.`,
  not_text: file => `${file} is not text. Save it as CSV in UTF-8 and try again.`,
  missing_columns: (file, columns, found) =>
    `${file} lacks the required column ${columns}. Its header line (line 1) has: ${found || 'nothing'}. Add the column and try again; nothing was taken in.`,
  duplicate_columns: (file, columns) =>
    `${file} has the column ${columns} twice in its header line. Remove one and try again.`,
} satisfies Record<string, (file: string, columns: string, found: string) => string>

/** A file that cannot be taken at all: nothing of it goes in. */
export class FileRefused extends Error {
  constructor(
    readonly code: keyof typeof refusals,
    readonly facts: { file: string; columns?: string[]; found?: string[] },
  ) {
    super(refusals[code](facts.file, (facts.columns ?? []).join(', '), (facts.found ?? []).join(', ')))
  }
}

export interface ReadFile<Kind extends FileKind> {
  /** each header cell and what it was taken for; `attribute` when the column is not one of the file's */
  columns: { header: string; takenFor: string | 'attribute' }[]
  records: RecordOf[Kind][]
  /** the line on which each record stands */
  lines: number[]
  rejected: Reject[]
}

const tidy = (header: string) =>
  header
    .trim()
    .toLowerCase()
    .replace(/[\s-]+/g, '_')

/**
 * Reads one exchange file (UTF-8 CSV by RFC 4180, header line, columns in any order, unknown columns kept).
 * A bad row is rejected with line, column and reason; the good ones go in.
 *
 * @throws FileRefused when the header lacks a required column, or the content is no such file at all.
 */
export function readExchangeFile<Kind extends FileKind>(
  kind: Kind,
  content: string,
  file = `${kind}.csv`,
): ReadFile<Kind> {
  const { schema, columns: known, required } = exchangeFiles[kind]
  const text = content.replace(/^\uFEFF/, '')
  if (text.includes('\u0000')) throw new FileRefused('not_text', { file })
  if (text.trim() === '') throw new FileRefused('empty', { file, columns: [...required] })
  const header = (Papa.parse<string[]>(text, { delimiter: ',', preview: 1 }).data[0] ?? []).map(h => h.trim())
  const keys = header.map(h => (known.includes(tidy(h)) ? tidy(h) : h))
  const missing = required.filter(column => !keys.includes(column))
  if (missing.length > 0)
    throw new FileRefused('missing_columns', {
      file,
      columns: missing,
      found: header.slice(0, 40).map(h => h.slice(0, 60)),
    })
  const doubled = keys.filter((key, i) => key && keys.indexOf(key) !== i)
  if (doubled.length > 0) throw new FileRefused('duplicate_columns', { file, columns: doubled })

  const result: ReadFile<Kind> = {
    columns: header.map((h, i) => ({
      header: h,
      takenFor: known.includes(keys[i]!) ? keys[i]! : 'attribute',
    })),
    records: [],
    lines: [],
    rejected: [],
  }
  const breakable = text.includes('"')
  let line = 1
  let index = 0
  const take = (cells: string[], errors: readonly Papa.ParseError[]) => {
    const at = line
    line += 1 + (breakable ? countBreaks(cells) : 0)
    if (index++ === 0 || (cells.length === 1 && cells[0] === '')) return
    const row: Record<string, string | null> = {}
    let long: string | undefined
    for (let i = 0; i < keys.length; i++) {
      const cell = (cells[i] ?? '').trim()
      if (cell.length > LONGEST_CELL) long = keys[i]
      row[keys[i]!] = unescapeFormula(cell) || null
    }
    const shape = shapeProblem(cells.length, keys.length, errors)
    if (shape || long) {
      const column = long ?? keys[Math.min(cells.length, keys.length) - 1] ?? ''
      result.rejected.push({ line: at, column, reason: shape ?? 'too_long' })
      return
    }
    const read = schema.safeParse(row)
    if (read.success) {
      result.records.push(read.data as RecordOf[Kind])
      result.lines.push(at)
      return
    }
    const issue = read.error.issues[0]
    const column = String(issue?.path[0] ?? '')
    const reason = (issue?.message ?? 'required') as RejectReason
    result.rejected.push({ line: at, column, reason, value: row[column]?.slice(0, 80) ?? '' })
  }
  // Row by row: what was read of a row is given up before the next, which a large file needs.
  Papa.parse<string[]>(text, { delimiter: ',', step: ({ data, errors }) => take(data, errors) })
  return result
}

function shapeProblem(
  cells: number,
  columns: number,
  errors: readonly Papa.ParseError[],
): RejectReason | null {
  if (errors.some(e => e.type === 'Quotes')) return 'bad_quotes'
  return cells > columns ? 'extra_cells' : cells < columns ? 'missing_cells' : null
}

/** Undoes what `writeCsv` does to a formula, so that an export read back is the same. */
const unescapeFormula = (cell: string) =>
  cell.charCodeAt(0) === 39 && /^'[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell

function countBreaks(cells: readonly string[]): number {
  let breaks = 0
  for (const cell of cells)
    for (let at = cell.indexOf('\n'); at >= 0; at = cell.indexOf('\n', at + 1)) breaks++
  return breaks
}

/** Writes CSV with a header line; text that a spreadsheet would run as a formula is escaped. */
export function writeCsv(columns: readonly string[], rows: readonly Record<string, unknown>[]): string {
  const fields = [...columns]
  const data = rows.map(row => fields.map(field => row[field] ?? ''))
  return `${Papa.unparse({ fields, data }, { newline: '\n', escapeFormulae: true })}\n`
}
