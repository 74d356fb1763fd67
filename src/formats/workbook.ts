import Papa from 'papaparse'
import readXlsxFile, { type Sheet } from 'read-excel-file/node'
import type { HowRead, ReadAs } from '@/core/intake/readAs'
import { isTooDeep } from '@/core/shared/jsonDepth'
import { FileRefused } from './csv'
import { decodeText, encodingOf } from './encoding'
import { isJson, jsonTable } from './jsonTable'
import { headingAmong } from './sheet'
import { checkWorkbook } from './workbookBounds'

/** Workbooks are ZIP archives, which begin so; older ones are compound files. */
export const isWorkbook = ([p, k]: Uint8Array) => p === 0x50 && k === 0x4b
const isOldWorkbook = ([a, b, c, d]: Uint8Array) => a === 0xd0 && b === 0xcf && c === 0x11 && d === 0xe0

/**
 * The text of a table: delimited text as it is, JSON and a workbook's sheet as CSV.
 *
 * @returns with how it was read
 * @throws FileRefused for a workbook that cannot be opened, or in which no sheet holds a table
 */
export async function tableText(
  bytes: Uint8Array,
  file: string,
  asked: Partial<ReadAs> = {},
): Promise<{ text: string; how: HowRead }> {
  if (isOldWorkbook(bytes)) throw new FileRefused('not_a_workbook', { file })
  if (isWorkbook(bytes)) return workbookText(bytes, file, asked.sheet ?? null)
  const encoding = asked.encoding ?? encodingOf(bytes)
  const how = { encoding, sheets: [], read: [] }
  const text = decodeText(bytes, encoding)
  if (!isJson(text)) return { text, how }
  // Of a longer file only the beginning may be here, which ends within a line.
  if (isTooDeep(text)) throw new FileRefused('too_deep', { file })
  const read = jsonTable(text, file) ?? jsonTable(text.slice(0, text.lastIndexOf('\n')), file)
  if (read === null) throw new FileRefused('no_table', { file })
  return { text: read, how }
}

type Cells = readonly unknown[]
interface Table {
  name: string
  heading: Cells
  rows: Cells[]
}

/**
 * The sheet with a table's headings and the most rows below them; others of the same headings go on below it, in the
 * order of the workbook. One that is asked for stands alone.
 */
async function workbookText(
  bytes: Uint8Array,
  file: string,
  asked: string | null,
): Promise<{ text: string; how: HowRead }> {
  checkWorkbook(bytes, file)
  const sheets: Sheet[] = await readXlsxFile(Buffer.from(bytes)).catch(() => {
    throw new FileRefused('not_a_workbook', { file })
  })
  const tables = sheets.flatMap(({ sheet, data }) => tableOf(sheet, data))
  const [largest] = [...tables].sort((a, b) => b.rows.length - a.rows.length)
  const chosen = tables.find(({ name }) => name === asked)
  if (!largest || (asked !== null && !chosen)) throw new FileRefused('no_table', { file })
  const headed = String(largest.heading)
  const read = chosen ? [chosen] : tables.filter(({ heading }) => String(heading) === headed)
  const rows = [read[0]!.heading, ...read.flatMap(table => table.rows)]
  return {
    text: Papa.unparse(rows.map(textsOf(rows))),
    how: {
      encoding: null,
      sheets: tables.map(table => ({ name: table.name, rows: table.rows.length })),
      read: read.map(({ name }) => name),
    },
  }
}

/** A sheet's table without what stands above its headings; none where nothing is below them. */
function tableOf(name: string, data: readonly Cells[]): Table[] {
  const at = headingAmong(data, cell => cell !== null && String(cell).trim() !== '')
  const rows = data.slice(at + 1).filter(row => row.some(cell => cell !== null))
  return at >= 0 && rows.length > 0 ? [{ name, heading: data[at]!, rows }] : []
}

/** Text cells that write a comma before fractions, and those that write a point. */
const COMMA = /\d,\d{1,2}(?!\d)/
const POINT = /\d\.\d{1,2}(?!\d)/
const DIGITS = 15

/**
 * A row's cells as a person would write them: numbers with the mark that text cells beside them have, days and times
 * without a zone, as workbooks hold them.
 */
function textsOf(rows: readonly Cells[]): (row: Cells) => string[] {
  const texts = rows.flatMap(row => row.filter(cell => typeof cell === 'string'))
  const count = (form: RegExp) => texts.filter(text => form.test(text)).length
  const mark = count(COMMA) > count(POINT) ? ',' : '.'
  return row =>
    row.map(cell => {
      if (cell === null || cell === undefined) return ''
      if (typeof cell === 'number') return String(Number(cell.toPrecision(DIGITS))).replace('.', mark)
      if (!(cell instanceof Date)) return String(cell)
      // A day and its part as one number are a little off the second.
      const [day, time] = new Date(Math.round(cell.getTime() / 1000) * 1000)
        .toISOString()
        .slice(0, 19)
        .split('T') as [string, string]
      return time === '00:00:00' ? day : `${day} ${time}`
    })
}
