import { closeSync, fstatSync, openSync, readSync } from 'node:fs'
import { type ClickFacts, gatherClicks } from '@/core/intake/clicks'
import { plainRow, type Reject } from '@/core/intake/fields'
import { parseInstant } from '@/core/shared/days'
import { readEachRow } from './csv'

const FILE = 'clicks.csv'

export interface ReadClicks {
  gathered: ReturnType<typeof gatherClicks>
  /** rows that went in */
  read: number
  rejected: Reject[]
}

/**
 * Reads the text of a file of clicks, with its header line.
 *
 * @throws FileRefused
 */
export function readClicks(content: string): ReadClicks {
  const gathered = gatherClicks()
  let read = 0
  const take = (row: ClickFacts) => {
    gathered.add(row)
    read += 1
  }
  const { rejected } = readEachRow('clicks', content, FILE, take, keys => plainClicks(keys, take))
  return { gathered, read, rejected }
}

/** Takes clicks that are plainly good as their cells. */
function plainClicks(keys: readonly string[], take: (row: ClickFacts) => void) {
  const isPlain = plainRow(keys)
  const at = (column: keyof ClickFacts) => keys.indexOf(column)
  const [id, instant, network, campaign, adSet, ad] = [
    at('click_id'),
    at('clicked_at'),
    at('network'),
    at('campaign_id'),
    at('ad_set_id'),
    at('ad_id'),
  ] as const
  const [visitor, networkId, device] = [at('visitor_id'), at('network_click_id'), at('device')] as const
  return (cells: readonly string[]): boolean => {
    if (!cells[id] || !cells[network] || !isPlain(cells)) return false
    const clicked_at = parseInstant(cells[instant]!)
    if (clicked_at === null) return false
    take({
      click_id: cells[id],
      clicked_at,
      network: cells[network],
      campaign_id: cells[campaign] || null,
      ad_set_id: cells[adSet] || null,
      ad_id: cells[ad] || null,
      visitor_id: cells[visitor] || null,
      network_click_id: cells[networkId] || null,
      device: cells[device] || null,
    })
    return true
  }
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
const QUOTE = 34
const RETURN = 13

/**
 * Parts the rows of a file into stretches of about so large shares of it; null where lines are so long that it
 * cannot be told where they end.
 */
export function stretchesOf(path: string, shares: readonly number[]): Stretch[] | null {
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
    const whole = shares.reduce((sum, share) => sum + share, 0)
    let [from, shared] = [first, 0]
    const stretches: Stretch[] = []
    for (const [i, share] of shares.entries()) {
      shared += share
      const to =
        i === shares.length - 1 ? size : lineFrom(first + Math.round(((size - first) * shared) / whole))
      if (to === null) return null
      stretches.push({ path, header: header.toString('utf8'), from, to })
      from = to
    }
    return stretches
  } finally {
    closeSync(file)
  }
}

/**
 * Reads a stretch of a file of clicks; lines of what was rejected are counted from the stretch's first, which is 1.
 *
 * @returns with the lines that it has; null where a line may be no row, so that the file is to be read as a whole
 * @throws FileRefused
 */
export function readStretch({ path, header, from, to }: Stretch): (ReadClicks & { lines: number }) | null {
  const bytes = Buffer.alloc(to - from)
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
  if (bytes.includes(QUOTE) || bytes.includes(RETURN) || /["\r]/.test(header)) return null
  let lines = 0
  for (let at = bytes.indexOf(NEWLINE); at >= 0; at = bytes.indexOf(NEWLINE, at + 1)) lines += 1
  const { gathered, read, rejected } = readClicks(header + bytes.toString('utf8'))
  return { gathered, read, lines, rejected: rejected.map(one => ({ ...one, line: one.line - 1 })) }
}
