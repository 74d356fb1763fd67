import Papa from 'papaparse'
import type { ReportLine } from '@/core/intake/reports/read'
import { FileRefused } from './csv'
import { eachLine, soundText } from './csvLines'
import { type Damaged, evenBreaks } from './lineBreaks'

const FIRST_LINES = 20
const DELIMITERS = [',', ';', '\t', '|']
const MOST_CELLS = 300

/**
 * Reads a table of any columns from delimited text: the mark between cells is found out, and lines above
 * the headings are left out.
 *
 * @returns with the lines that could not be told apart into cells
 * @throws FileRefused when there is no table in it
 */
export function readSheet(
  content: string,
  file: string,
): { header: string[]; lines: ReportLine[]; damaged: Damaged[] } {
  if (content.includes('\u0000')) throw new FileRefused('not_text', { file })
  const delimiter = findDelimiter(evenBreaks(content).slice(0, 50_000))
  const { text, damaged } = soundText(content, delimiter)
  const all: ReportLine[] = []
  eachLine(text, (cells, line) => all.push({ cells, line }), delimiter)
  const at = headingAmong(
    all.map(({ cells }) => cells),
    cell => cell.trim() !== '',
  )
  const heading = all[at]
  if (!heading || heading.cells.length > MOST_CELLS) throw new FileRefused('no_table', { file })
  return { header: distinct(heading.cells), lines: all.slice(at + 1), damaged }
}

/** The place of a table's headings: the first of the upper lines that is nearly as filled as any; -1 for no table. */
export function headingAmong<Cell>(
  lines: readonly (readonly Cell[])[],
  isFilled: (cell: Cell) => boolean,
): number {
  const filled = lines.slice(0, FIRST_LINES).map(cells => cells.filter(isFilled).length)
  const most = Math.max(0, ...filled)
  return most < 2 ? -1 : filled.findIndex(count => count >= most * 0.8)
}

/** What a first line says of the mark between cells, as spreadsheets write it. */
const SAID_MARK = /^\ufeff?"?sep=(.)"?\s*$/i

/**
 * The mark between cells: as the first line says it, else the one that parts the most of the first lines into as
 * many cells as each other, the heading among them; of several, the one that parts them into most.
 */
function findDelimiter(text: string): string {
  const said = SAID_MARK.exec(text.slice(0, text.search(/[\r\n]|$/)))?.[1]
  if (said && DELIMITERS.includes(said)) return said
  const partedBy = (delimiter: string) => {
    const lines = Papa.parse<string[]>(text, { delimiter, preview: FIRST_LINES * 2 }).data
    const alike = new Map<number, number>()
    for (const { length } of lines) if (length > 1) alike.set(length, (alike.get(length) ?? 0) + 1)
    const [cells, times] = [...alike].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0] ?? [1, 0]
    return { delimiter, cells, times }
  }
  const [best] = DELIMITERS.map(partedBy).sort((a, b) => b.times - a.times || b.cells - a.cells)
  return best && best.times > 0 ? best.delimiter : ','
}

/** Headings told apart where two are the same. */
function distinct(cells: readonly string[]): string[] {
  const seen = new Map<string, number>()
  return cells.map((cell, i) => {
    const heading = cell.trim() || `column ${i + 1}`
    const times = (seen.get(heading) ?? 0) + 1
    seen.set(heading, times)
    return times === 1 ? heading : `${heading} (${times})`
  })
}
