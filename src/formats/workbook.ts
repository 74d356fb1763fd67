import Papa from 'papaparse'
import readXlsxFile from 'read-excel-file/node'
import { FileRefused } from './csv'
import { isJson, jsonTable } from './jsonTable'
import { decodeText } from './sheet'

/** Workbooks are ZIP archives, which begin so. */
const isWorkbook = ([p, k]: Uint8Array) => p === 0x50 && k === 0x4b

/**
 * The text of a table: delimited text as it is, JSON and a workbook's sheet as CSV. Further sheets that begin with the same
 * headings go on below the first.
 *
 * @throws FileRefused for a workbook that cannot be opened, or in which no sheet holds a table
 */
export async function tableText(bytes: Uint8Array, file: string): Promise<string> {
  if (!isWorkbook(bytes)) {
    const text = decodeText(bytes)
    if (!isJson(text)) return text
    // Of a longer file only the beginning may be here, which ends within a line.
    const read = jsonTable(text) ?? jsonTable(text.slice(0, text.lastIndexOf('\n')))
    if (read === null) throw new FileRefused('no_table', { file })
    return read
  }
  const sheets = await readXlsxFile(Buffer.from(bytes)).catch(() => {
    throw new FileRefused('not_text', { file })
  })
  const [first, ...others] = sheets.map(({ data }) => data).filter(rows => rows.length > 1)
  if (!first) throw new FileRefused('no_table', { file })
  const heading = String(first[0])
  const more = others.flatMap(rows => (String(rows[0]) === heading ? rows.slice(1) : []))
  return Papa.unparse([...first, ...more].map(row => row.map(textOf)))
}

/** A cell as a person would write it; days and times without a zone, as workbooks have them. */
function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return ''
  if (!(cell instanceof Date)) return String(cell)
  const [day, time] = cell.toISOString().slice(0, 19).split('T') as [string, string]
  return time === '00:00:00' ? day : `${day} ${time}`
}
