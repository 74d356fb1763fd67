import { isUtf8 } from 'node:buffer'
import { type FileHandle, open } from 'node:fs/promises'
import { type Arrival, arrivalSchema, LONGEST_TEXT } from '@/core/intake/arrival'
import { cleanRecord, isCleanText } from '@/core/shared/text'
import type { SetAside } from '@/data/intake'
import { readLine } from '@/formats/journalLine'

const CHUNK_BYTES = 4 * 1024 * 1024
const LINE_BREAK = 10
/** Bytes of a line that are kept when it is set aside: all of what could be a record, so that it can be taken in later. */
const LONGEST_RAW = 400_000

/** An arrival with the line it stood on, for the case that it cannot be stored. */
export interface Entry {
  arrival: Arrival
  /** segment, offset of the chunk, number within it */
  place: string
  line: Buffer
}

export interface Chunk {
  entries: Entry[]
  /** lines that hold no record */
  aside: SetAside[]
  /** where the next chunk begins */
  end: number
}

/**
 * Reads on in a segment: the whole lines from an offset, at most four megabytes, or one longer line.
 *
 * @param name by which places in it are told
 * @param ended whether nothing is written there any more: then a last line that was cut is set aside too
 * @returns null where there is nothing (yet)
 */
export async function readSegment(
  path: string,
  name: string,
  offset: number,
  ended: boolean,
): Promise<Chunk | null> {
  const file = await open(path, 'r')
  try {
    const bytes = await readBytes(file, offset)
    const whole = bytes.lastIndexOf(LINE_BREAK) + 1
    if (whole > 0) return readLines(bytes.subarray(0, whole), name, offset, offset + whole)
    const last = bytes.length < CHUNK_BYTES
    if (bytes.length === 0 || (last && !ended)) return null
    // A line of any length: its beginning is kept, and what follows it is read.
    const end = last ? offset + bytes.length : await endOfLine(file, offset + bytes.length)
    return end === null && !ended ? null : readLines(bytes, name, offset, end ?? (await file.stat()).size)
  } finally {
    await file.close()
  }
}

async function readBytes(file: FileHandle, offset: number): Promise<Buffer> {
  const { bytesRead, buffer } = await file.read(Buffer.alloc(CHUNK_BYTES), 0, CHUNK_BYTES, offset)
  return buffer.subarray(0, bytesRead)
}

/** The offset behind the next line break; null where none comes. */
async function endOfLine(file: FileHandle, from: number): Promise<number | null> {
  for (let at = from; ; ) {
    const bytes = await readBytes(file, at)
    if (bytes.length === 0) return null
    const found = bytes.indexOf(LINE_BREAK)
    if (found >= 0) return at + found + 1
    at += bytes.length
  }
}

function readLines(bytes: Buffer, name: string, offset: number, end: number): Chunk {
  const chunk: Chunk = { entries: [], aside: [], end }
  let number = 0
  for (let from = 0; from < bytes.length; ) {
    const found = bytes.indexOf(LINE_BREAK, from)
    const to = found < 0 ? bytes.length : found
    if (to > from) {
      const line = bytes.subarray(from, to)
      const place = `${name}:${offset}/${number++}`
      const read = readEntry(line)
      if ('arrival' in read) chunk.entries.push({ arrival: read.arrival, place, line })
      else chunk.aside.push(lineAside(line, place, read.problem))
    }
    from = to + 1
  }
  return chunk
}

/** The record of a line, or why it holds none. */
export function readEntry(line: Buffer): { arrival: Arrival } | { problem: string } {
  const read = readLine(line.toString('utf8'))
  if ('problem' in read) return read
  const { record, changed } = cleanRecord(read.value, LONGEST_TEXT)
  const arrival = arrivalSchema.safeParse(record)
  if (!arrival.success) return { problem: 'not_a_record' }
  return { arrival: changed.length > 0 ? { ...arrival.data, cleaned: changed } : arrival.data }
}

/** A line as it is set aside: its beginning, in base64 where it is not text that any database takes. */
export function lineAside(
  line: Buffer,
  place: string,
  reason: string,
  facts: Record<string, string> = {},
): SetAside {
  const start = line.subarray(0, LONGEST_RAW)
  const text = isUtf8(start) ? start.toString('utf8') : null
  const plain = text !== null && isCleanText(text)
  return {
    id: place,
    kind: 'line',
    at: new Date(),
    reason,
    facts: { place, ...facts, ...(plain ? {} : { written: 'base64' }) },
    raw: plain ? text : start.toString('base64'),
  }
}

/** How many records a segment holds behind an offset; between them stand empty lines. */
export async function countLines(path: string, offset: number): Promise<number> {
  const file = await open(path, 'r')
  try {
    let lines = 0
    let before = LINE_BREAK
    for (let at = offset; ; ) {
      const chunk = await readBytes(file, at)
      if (chunk.length === 0) return lines
      for (const byte of chunk) {
        if (byte === LINE_BREAK && before !== LINE_BREAK) lines += 1
        before = byte
      }
      at += chunk.length
    }
  } finally {
    await file.close()
  }
}
