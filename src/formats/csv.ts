import Papa from 'papaparse'
import { type Cells, LONGEST_CELL, type Reject, type RejectReason, rowReader } from '@/core/intake/fields'
import { exchangeFiles, type FileKind, type RecordOf } from '@/core/intake/records'
import { layClaims, layDelivery } from '@/core/intake/stretch'
import { blocksOf, eachLine, isOfQuotes, readBlock, soundText } from './csvLines'

const refusals = {
  empty: file => `${file} is empty. It needs a header line and rows.`,
  not_text: file => `${file} is not text. Save it as CSV in UTF-8 and try again.`,
  not_a_workbook: file =>
    `${file} is a workbook of a kind that is not read here (XLS, ODS), or it is damaged. Save it as XLSX or CSV and try again.`,
  too_large: file =>
    `${file} is larger than 400 MB once it is unpacked. Export fewer days at a time, or save it as CSV. Nothing was imported.`,
  too_wide: file =>
    `${file} has a cell so far out that its table would have more than 20 million cells. Delete the empty rows and columns, or save the sheet as CSV. Nothing was imported.`,
  too_many_columns: file =>
    `${file} would make a table of more than 300 columns: its records have different keys each. Export one kind of record. Nothing was imported.`,
  too_deep: file => `${file} is nested deeper than 60 levels, which no export is. Nothing was imported.`,
  took_too_long: file =>
    `${file} could not be opened within two minutes, or needs more memory than there is. Export fewer days at a time, or save it as CSV. Nothing was imported.`,
  no_table: file =>
    `${file} holds no table: no line with at least two headings stands in its first 20 lines. Choose the report as CSV.`,
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

const tidy = (header: string) =>
  header
    .trim()
    .toLowerCase()
    .replace(/[\s-]+/g, '_')

export interface ReadColumns {
  /** each header cell and what it was taken for; `attribute` when the column is not one of the file's */
  columns: { header: string; takenFor: string | 'attribute' }[]
  rejected: Reject[]
}
export interface ReadFile<Kind extends FileKind> extends ReadColumns {
  records: RecordOf[Kind][]
  /** the line on which each record stands */
  lines: number[]
}

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
  const records: RecordOf[Kind][] = []
  const lines: number[] = []
  const read = readEachRow(kind, content, file, (record, line) => {
    records.push(record)
    lines.push(line)
  })
  return { ...read, records, lines }
}

/**
 * As `readExchangeFile`, but hands over each good row and forgets it, which a large file needs.
 *
 * @throws FileRefused
 */
export function readEachRow<Kind extends FileKind>(
  kind: Kind,
  content: string,
  file: string,
  take: (record: RecordOf[Kind], line: number) => void,
): ReadColumns {
  const { blocks, columns, rejected } = readBlocks(kind, content, file)
  for (const readNext of blocks) readNext(take)
  rejected.sort((a, b) => a.line - b.line)
  return { columns, rejected }
}

/**
 * Reads an exchange file a block at a time, so that whoever takes its rows may do something else in between.
 *
 * @returns `blocks` in the file's order, to be read in any, and how many `lines` there are below its header;
 *   `rejected` grows as they are read, and may be out of order
 * @throws FileRefused
 */
export function readBlocks<Kind extends FileKind>(kind: Kind, content: string, file: string) {
  const { text, damaged } = soundText(content)
  let taken: (record: RecordOf[Kind], line: number) => void = () => {}
  const { columns, keys, rejected, takeCells } = cellsReader<Kind>(kind, text, file, (record, line) =>
    taken(record, line),
  )
  for (const { line, text } of damaged)
    rejected.push({ line, column: keys[0] ?? '', reason: 'bad_quotes', text })
  const parts = blocksOf(text)
  const blocks = parts.map(block => (take: typeof taken) => {
    taken = take
    readBlock(block, (cells, at, errors) => at > 1 && takeCells(cells, at, errors))
  })
  const last = parts.at(-1)
  return { columns, rejected, blocks, lines: last ? last.line + last.lines - 2 : 0 }
}

/**
 * Reads rows of an exchange file line by line, which is for whoever knows that each line is one.
 *
 * @param text begins with the file's header line
 * @throws FileRefused
 */
export function lineReader<Kind extends FileKind>(
  kind: Kind,
  text: string,
  file: string,
  take: (record: RecordOf[Kind], line: number) => void,
): { keys: string[]; rejected: Reject[]; readLine: (text: string, line: number) => void } {
  const { keys, rejected, takeCells } = cellsReader(kind, text, file, take)
  const readLine = (own: string, line: number) =>
    eachLine(own, (cells, _, errors) => takeCells(cells, line, errors))
  return { keys, rejected, readLine }
}

/** Rows that sum a longer stretch are its days'. */
const layersOf: { [Kind in FileKind]?: (record: RecordOf[Kind]) => RecordOf[Kind][] } = {
  delivery: layDelivery,
  claims: layClaims,
}

/** What takes a row's cells as one of the file's records, or says what is wrong with them. */
function cellsReader<Kind extends FileKind>(
  kind: Kind,
  text: string,
  file: string,
  take: (record: RecordOf[Kind], line: number) => void,
) {
  const { schema, columns: known } = exchangeFiles[kind]
  const readRow = rowReader(schema)
  const lay = layersOf[kind]
  const laid = (record: RecordOf[Kind]): RecordOf[Kind][] => (lay ? lay(record) : [record])
  const { header, keys } = readHeader(kind, text, file)
  const blank: Cells = Object.fromEntries(known.map(column => [column, null]))
  const rejected: Reject[] = []
  const takeCells = (cells: string[], line: number, errors: readonly Papa.ParseError[]) => {
    const row: Cells = { ...blank }
    let long: string | undefined
    for (let i = 0; i < keys.length; i++) {
      const cell = cells[i] ?? ''
      if (cell.length > LONGEST_CELL) long = keys[i]
      row[keys[i]!] = unescapeFormula(cell) || null
    }
    const shape = shapeProblem(cells.length, keys.length, errors)
    if (shape || long) {
      const column = long ?? keys[Math.min(cells.length, keys.length) - 1] ?? ''
      rejected.push({
        line,
        column,
        reason: shape ?? 'too_long',
        text: cells.join(',').slice(0, LONGEST_CELL),
      })
      return
    }
    const read = readRow(row)
    if ('record' in read) {
      for (const record of laid(read.record as RecordOf[Kind])) take(record, line)
      return
    }
    const given = cellsOf(keys, cells)
    rejected.push({ line, ...read, value: given[read.column]?.slice(0, 80) ?? '', cells: given })
  }
  const columns = header.map((h, i) => ({
    header: h,
    takenFor: known.includes(keys[i]!) ? keys[i]! : ('attribute' as const),
  }))
  return { columns, keys, rejected, takeCells }
}

/** Hands over the rows of a good file as they came, with their lines. */
export function eachRowsCells(
  kind: FileKind,
  content: string,
  file: string,
  take: (cells: Record<string, string>, line: number) => void,
): void {
  const { text } = soundText(content)
  const { keys } = readHeader(kind, text, file)
  eachLine(text, (cells, line) => line > 1 && take(cellsOf(keys, cells), line))
}

const cellsOf = (keys: readonly string[], cells: readonly string[]) =>
  Object.fromEntries(keys.map((key, i) => [key, unescapeFormula(cells[i] ?? '')]))

function readHeader(kind: FileKind, text: string, file: string): { header: string[]; keys: string[] } {
  const { columns: known, required } = exchangeFiles[kind]
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
  return { header, keys }
}

function shapeProblem(
  cells: number,
  columns: number,
  errors: readonly Papa.ParseError[],
): RejectReason | null {
  if (errors.some(isOfQuotes)) return 'bad_quotes'
  return cells > columns ? 'extra_cells' : cells < columns ? 'missing_cells' : null
}

/** Looks at the start alone: the rest of a formula may hold any line break, of which `.` knows four. */
const formula = /^[=+\-@\t\r']/

/** Undoes what `writeCsv` does to a formula, so that an export read back is the same. */
const unescapeFormula = (cell: string) =>
  cell.charCodeAt(0) === 39 && formula.test(cell.slice(1, 2)) ? cell.slice(1) : cell

const hasOuterSpace = (value: unknown) => typeof value === 'string' && value !== value.trim()

/** Writes CSV with a header line; text that a spreadsheet would run as a formula is escaped. */
export function writeCsv(columns: readonly string[], rows: readonly Record<string, unknown>[]): string {
  const fields = [...columns]
  const data = rows.map(row => fields.map(field => row[field] ?? ''))
  const text = Papa.unparse(
    { fields, data },
    { newline: '\n', escapeFormulae: formula, quotes: hasOuterSpace },
  )
  // Of no rows at all the header line is written with its end.
  return text.endsWith('\n') ? text : `${text}\n`
}
