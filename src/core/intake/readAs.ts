import type { Encoding } from '../shared/encodings'

/** How somebody wants a file to be read; null for what is found out from the file. */
export interface ReadAs {
  encoding: Encoding | null
  /** name of a workbook's sheet */
  sheet: string | null
}

export const FOUND_OUT: ReadAs = { encoding: null, sheet: null }

/** How a file was read. */
export interface HowRead {
  /** null for a workbook, which says its own */
  encoding: Encoding | null
  /** sheets of a workbook that hold a table, with their rows; none of other files */
  sheets: { name: string; rows: number }[]
  /** those that were read: one, or all with the same headings */
  read: string[]
}
