import { strFromU8, unzipSync } from 'fflate'
import { FileRefused } from './csv'

/** What of a workbook is read: its sheets, and the texts that they share. */
const READ = /^xl\/(?:worksheets\/[^/]+|sharedStrings|workbook|styles)\.xml$/
const SHEET = /^xl\/worksheets\//
/** Bytes after unpacking, of all that is read together. */
const MOST_BYTES = 400_000_000
const MOST_FILES = 2000
/** Cells of the rectangle that a sheet spans, which is what it takes to hold it. */
const MOST_CELLS = 20_000_000
const CELL = /<c\s[^>]*?\br="([A-Z]{1,3})(\d{1,7})"/g
const ROW = /<row\s[^>]*?\br="(\d{1,7})"/g

const columnOf = (letters: string): number =>
  [...letters].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0)

/**
 * Refuses a workbook that is larger than what can be read: unpacked, or by the cells that its sheets span. A file of
 * a kilobyte may claim a cell in the last row of the last column.
 *
 * @throws FileRefused
 */
export function checkWorkbook(bytes: Uint8Array, file: string): void {
  let size = 0
  let files = 0
  let sheets: Record<string, Uint8Array>
  try {
    sheets = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        files += 1
        if (READ.test(name)) size += originalSize
        if (size > MOST_BYTES || files > MOST_FILES) throw new FileRefused('too_large', { file })
        return SHEET.test(name) && READ.test(name)
      },
    })
  } catch (error) {
    throw error instanceof FileRefused ? error : new FileRefused('not_a_workbook', { file })
  }
  for (const sheet of Object.values(sheets)) {
    const text = strFromU8(sheet, true)
    let [rows, columns] = [1, 1]
    for (const [, letters, row] of text.matchAll(CELL)) {
      rows = Math.max(rows, Number(row))
      columns = Math.max(columns, columnOf(letters!))
    }
    for (const [, row] of text.matchAll(ROW)) rows = Math.max(rows, Number(row))
    if (rows * columns > MOST_CELLS) throw new FileRefused('too_wide', { file })
  }
}
