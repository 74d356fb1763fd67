import Papa from 'papaparse'
import readXlsxFile from 'read-excel-file/node'
import type { Encoding } from '@/core/shared/encodings'
import { FileRefused } from './csv'
import { decodeText, encodingOf } from './encoding'
import { isJson, jsonTable } from './jsonTable'

/** Workbooks are ZIP archives, which begin so. */
const isWorkbook = ([p, k]: Uint8Array) => p === 0x50 && k === 0x4b

/**
 * The text of a table: delimited text as it is, JSON and a workbook's sheet as CSV. Further sheets that begin with the same
 * headings go on below the first.
 *
 * @param asked in which encoding text is to be read; found out where it is not said
 * @returns with the encoding, null for a workbook
 * @throws FileRefused for a workbook that cannot be opened, or in which no sheet holds a table
 */
export async function tableText(
  bytes: Uint8Array,
  file: string,
  asked?: Encoding,
): Promise<{ text: string; encoding: Encoding | null }> {
  if (!isWorkbook(bytes)) {
    const encoding = asked ?? encodingOf(bytes)
    const text = decodeText(bytes, encoding)
    if (!isJson(text)) return { text, encoding }
    // Of a longer file only the beginning may be here, which ends within a line.
    const read = jsonTable(text) ?? jsonTable(text.slice(0, text.lastIndexOf('\n')))
    if (read === null) throw new FileRefused('no_table', { file })
    return { text: read, encoding }
  }
  const sheets = await readXlsxFile(Buffer.from(bytes)).catch(() => {
    throw new FileRefused('not_text', { file })
  })
  const [first, ...others] = sheets.map(({ data }) => data).filter(rows => rows.length > 1)
  if (!first) throw new FileRefused('no_table', { file })
  const heading = String(first[0])
  const more = others.flatMap(rows => (String(rows[0]) === heading ? rows.slice(1) : []))
  return { text: Papa.unparse([...first, ...more].map(row => row.map(textOf))), encoding: null }
}

/** A cell as a person would write it; days and times without a zone, as workbooks have them. */
function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return ''
  if (!(cell instanceof Date)) return String(cell)
  const [day, time] = cell.toISOString().slice(0, 19).split('T') as [string, string]
  return time === '00:00:00' ? day : `${day} ${time}`
}
