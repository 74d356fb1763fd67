import Papa from 'papaparse'

const LONGEST_KEPT = 4096

export interface Damaged {
  line: number
  text: string
}

/** A quoted cell of more lines than this is a quotation mark that nobody closed. */
const MOST_LINES = 100

/**
 * Text with one kind of line break between rows. A file whose header and rows were written by two programs
 * has two, and a reader that goes by the first finds one long row. Breaks within cells become `\n` then.
 */
export function evenBreaks(text: string): string {
  const windows = countOf(text, '\r\n')
  if (windows === 0) return text
  const bare = countOf(text, '\n') - windows
  const first = text.indexOf('\n')
  const byHeader = text[first - 1] === '\r' ? bare > 0 : windows > bare
  return byHeader ? text.replaceAll('\r\n', '\n') : text
}

/**
 * Text without lines that open a quoted cell which nobody closes: each is left empty, so that it swallows
 * none of those that follow, and the others keep their numbers.
 *
 * @returns with these lines, numbered from 1
 */
export function withoutStrayQuotes(text: string, delimiter: string): { text: string; damaged: Damaged[] } {
  if (!text.includes('"')) return { text, damaged: [] }
  const lines = text.split('\n')
  const damaged: Damaged[] = []
  let opened = -1
  for (let i = 0; i <= lines.length; i++) {
    if (opened >= 0 && (i - opened > MOST_LINES || i === lines.length)) {
      damaged.push({ line: opened + 1, text: lines[opened]!.slice(0, LONGEST_KEPT) })
      lines[opened] = ''
      // Those between had their quotation marks in pairs; they are looked at by the reader itself.
      opened = -1
    }
    if (i === lines.length) continue
    const open = isOpenAfter(lines[i]!, opened >= 0, delimiter)
    if (open !== opened >= 0) opened = open ? i : -1
  }
  return { text: damaged.length === 0 ? text : lines.join('\n'), damaged }
}

/** Whether a quoted cell is open after a line, by whether one was before it. */
export function isOpenAfter(line: string, open: boolean, delimiter: string): boolean {
  // A line closes or opens a cell only where its quotation marks are not in pairs.
  if (countOf(line, '"') % 2 === 0) return open
  return (
    !open && Papa.parse(line, { delimiter, preview: 1 }).errors.some(error => error.code === 'MissingQuotes')
  )
}

export function countOf(text: string, part: string): number {
  let found = 0
  for (let at = text.indexOf(part); at >= 0; at = text.indexOf(part, at + part.length)) found++
  return found
}
