import Papa from 'papaparse'
import { countOf, evenBreaks, isOpenAfter, withoutStrayQuotes } from './lineBreaks'

type TakeCells = (cells: string[], line: number, errors: readonly Papa.ParseError[]) => void

/** Some whole rows of a text. */
export interface Block {
  text: string
  /** the line on which it begins, from 1 */
  line: number
  lines: number
  newline: Papa.ParseConfig['newline']
}

/** Characters of a block: reading one takes a few milliseconds. */
const BLOCK = 16_384

/** A file's text with what damages more than its own line taken out; `damaged` are the lines, from 1. */
export const soundText = (content: string, delimiter = ',') =>
  withoutStrayQuotes(evenBreaks(content.replace(/^\uFEFF/, '')), delimiter)

/**
 * Hands over each row with the line on which it begins, from 1; empty lines are left out. Spaces around a
 * cell are no part of it, those within quotation marks are. A row of several lines in which quotation marks
 * stand wrong is read line by line, so that only those lines are lost that hold one.
 */
export function eachLine(text: string, take: TakeCells, delimiter = ','): void {
  for (const block of blocksOf(text, delimiter)) readBlock(block, take, delimiter)
}

/** A text in blocks of whole rows; none ends within a quoted cell. */
export function blocksOf(text: string, delimiter = ','): Block[] {
  const newline = (/\r\n|\n|\r/.exec(text)?.[0] ?? '\n') as '\r\n' | '\n' | '\r'
  const endOfLine = (from: number) => {
    const end = text.indexOf(newline, from)
    return end < 0 ? text.length : end
  }
  const quoted = text.includes('"')
  const blocks: Block[] = []
  let line = 1
  for (let begin = 0; begin < text.length; ) {
    let end = endOfLine(begin + BLOCK)
    let own = text.slice(begin, end)
    if (quoted && own.includes('"')) {
      let open = false
      for (const row of own.split(newline)) open = isOpenAfter(row, open, delimiter)
      while (open && end < text.length) {
        const next = endOfLine(end + newline.length)
        open = isOpenAfter(text.slice(end + newline.length, next), open, delimiter)
        end = next
      }
      own = text.slice(begin, end)
    }
    const lines = 1 + countOf(own, newline === '\r' ? '\r' : '\n')
    blocks.push({ text: own, line, lines, newline })
    line += lines
    begin = end + newline.length
  }
  return blocks
}

/** As `eachLine`, the rows of a block. */
export function readBlock({ text, line, newline }: Block, take: TakeCells, delimiter = ','): void {
  if (text.includes('"')) readQuoted(text, line, newline, take, delimiter)
  // Without quotation marks a line is a row, so that all can be parsed at once.
  else
    for (const [i, cells] of Papa.parse<string[]>(text, { delimiter, newline }).data.entries()) {
      for (let k = 0; k < cells.length; k++) if (mayHaveSpace(cells[k]!)) cells[k] = cells[k]!.trim()
      if (!isEmpty(cells)) take(cells, line + i, NO_ERRORS)
    }
}
const NO_ERRORS: readonly Papa.ParseError[] = []
const isEmpty = (cells: readonly string[]): boolean => cells.length === 1 && cells[0] === ''

function readQuoted(
  text: string,
  first: number,
  newline: Block['newline'],
  take: TakeCells,
  delimiter: string,
): void {
  let line = first
  let begin = 0
  Papa.parse<string[]>(text, {
    delimiter,
    newline,
    step: ({ data, errors, meta }) => {
      const at = line
      const breaks = data.reduce((sum, cell) => sum + countOf(cell, '\n'), 0)
      const raw = () => text.slice(begin, meta.cursor)
      if (breaks > 0 && errors.some(isOfQuotes))
        for (const [i, own] of raw()
          .split(/\r?\n/)
          .slice(0, breaks + 1)
          .entries()) {
          const read = Papa.parse<string[]>(own, { delimiter })
          if (own !== '')
            take(
              trimmed(read.data[0] ?? [], () => own),
              at + i,
              read.errors,
            )
        }
      else if (!isEmpty(data)) take(trimmed(data, raw), at, errors)
      line += 1 + breaks
      begin = meta.cursor
    },
  })
}

/** Whether a cell may begin or end with a space of some kind; a million rows have hardly any. */
const mayHaveSpace = (cell: string): boolean => {
  const [first, last] = [cell.charCodeAt(0), cell.charCodeAt(cell.length - 1)]
  return first <= SPACE || last <= SPACE || first > TILDE || last > TILDE
}
const SPACE = 32
const TILDE = 126

export const isOfQuotes = (error: Papa.ParseError) => error.type === 'Quotes'

/** Cells without the spaces around them; what stands in quotation marks keeps its own. */
function trimmed(cells: readonly string[], raw: () => string): string[] {
  let row: string | undefined
  return cells.map(cell => {
    const bare = cell.trim()
    if (bare === cell) return cell
    row ??= raw()
    return row.includes(`"${cell.replaceAll('"', '""')}"`) ? cell : bare
  })
}
