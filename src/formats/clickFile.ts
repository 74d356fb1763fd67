import { isUtf8 } from 'node:buffer'
import { closeSync, fstatSync, openSync, readFileSync, readSync } from 'node:fs'
import { type ClickColumns, gatherClicks, type NamedClicks } from '@/core/intake/clicks'
import type { Reject } from '@/core/intake/fields'
import { readEachRow } from './csv'
import { decodeText } from './encoding'
import { type Scan, scanClicks } from './scanClicks'

/** Of a file of clicks, those that something names. */
export interface FoundClicks {
  columns: ClickColumns
  /** rows that went in */
  read: number
  rejected: Reject[]
}

/**
 * Reads a file of clicks.
 *
 * @throws FileRefused
 */
export function readClicks(path: string, named: NamedClicks): FoundClicks {
  const [whole] = stretchesOf(path, 1) ?? []
  const scan = whole && readStretch(whole)
  if (!scan) return readClickText(decodeText(readFileSync(path)), named)
  return foundIn([scan], [scan.part(named, scan.visitorsByClick(named))])
}

/** As `readClicks`, of text whose rows may be of several lines. */
export function readClickText(content: string, named: NamedClicks): FoundClicks {
  const gathered = gatherClicks()
  let read = 0
  const { rejected } = readEachRow('clicks', content, 'clicks.csv', row => {
    gathered.add(row)
    read += 1
  })
  return { columns: gathered.columns(named), read, rejected }
}

/** What stretches of a file, one after the other, have found. */
export function foundIn(
  scans: readonly Pick<Scan, 'lines' | 'read' | 'rejected'>[],
  parts: readonly ReturnType<Scan['part']>[],
): FoundClicks {
  const clicks = gatherClicks()
  for (const part of parts) clicks.take(part)
  // The header's line, and those of the stretches before.
  let before = 1
  const rejected = scans.flatMap(scan => {
    const own = scan.rejected.map(reject => ({ ...reject, line: reject.line + before }))
    before += scan.lines
    return own
  })
  return { columns: clicks.columns(), read: scans.reduce((sum, { read }) => sum + read, 0), rejected }
}

/** Rows of a file, from one byte up to another; both stand at the beginning of a line. */
export interface Stretch {
  path: string
  header: string
  from: number
  to: number
}

/** Bytes that are looked through for the end of a line. */
const LONGEST_LINE = 1 << 20
const NEWLINE = 10

/**
 * Parts the rows of a file into so many stretches of about one size; null where lines are so long that it cannot be
 * told where they end, or where there are none.
 */
export function stretchesOf(path: string, count: number): Stretch[] | null {
  const file = openSync(path, 'r')
  try {
    const { size } = fstatSync(file)
    const window = Buffer.alloc(LONGEST_LINE)
    /** the beginning of the first line at or after a byte; null where none ends in sight */
    const lineFrom = (at: number): number | null => {
      if (at >= size) return size
      const length = readSync(file, window, 0, LONGEST_LINE, at - 1)
      const end = window.subarray(0, length).indexOf(NEWLINE)
      if (end < 0) return at - 1 + length >= size ? size : null
      return at + end
    }
    const first = lineFrom(1)
    if (first === null || first >= size) return null
    const header = Buffer.alloc(first)
    readSync(file, header, 0, first, 0)
    let from = first
    const stretches: Stretch[] = []
    for (let i = 1; i <= count; i++) {
      const to = i === count ? size : lineFrom(first + Math.round(((size - first) * i) / count))
      if (to === null) return null
      stretches.push({ path, header: header.toString('utf8').replace(/\r?\n$/, ''), from, to })
      from = to
    }
    return stretches
  } finally {
    closeSync(file)
  }
}

/**
 * Reads a stretch of a file of clicks.
 *
 * @returns null where a line may be no row, so that the file is to be read as a whole
 * @throws FileRefused
 */
export function readStretch({ path, header, from, to }: Stretch): Scan | null {
  // A lone break or quotation mark: the header may not end with its line.
  if (header.includes('\r') || header.split('"').length % 2 === 0) return null
  const bytes = Buffer.allocUnsafe(to - from)
  const file = openSync(path, 'r')
  try {
    for (let read = 0; read < bytes.length; ) {
      const more = readSync(file, bytes, read, bytes.length - read, from + read)
      if (more === 0) return null
      read += more
    }
  } finally {
    closeSync(file)
  }
  // In another encoding two names may be one where they are read as UTF-8.
  return isUtf8(bytes) && !header.includes('\ufffd') ? scanClicks(header, bytes) : null
}
