import type { ReadAs } from '@/core/intake/readAs'
import { FileRefused } from '@/formats/csv'
import { isWorkbook, type tableText, tableText as textOf } from '@/formats/workbook'
import { inThread, Unfinished } from '../threads'
import type { Opened } from './openWorker'

/** What is read here is plain text of so many bytes at most, in a time that grows with it alone. */
const PLAIN_BYTES = 200_000
const LONGEST_MS = 120_000
const MOST_MB = 1500

/**
 * The text of a table, whatever file holds it: what could be large once it is opened is opened in a thread of its
 * own, which ends where it takes too long or too much memory.
 *
 * @throws FileRefused
 */
export async function openFile(
  bytes: Uint8Array,
  file: string,
  asked: Partial<ReadAs> = {},
): ReturnType<typeof tableText> {
  const first = bytes.find(byte => byte > 0x20)
  const isPlain = bytes.length < PLAIN_BYTES && !isWorkbook(bytes) && first !== BRACE && first !== BRACKET
  if (isPlain) return textOf(bytes, file, asked)
  const pool = { bundle: 'open', most: 2, megabytes: MOST_MB } as const
  try {
    const task = { method: 'open', given: [bytes, file, asked], longest: LONGEST_MS }
    const opened = (await inThread('open', pool, task)) as Opened
    if ('refused' in opened) throw new FileRefused(opened.refused.code, opened.refused.facts)
    return opened
  } catch (error) {
    if (error instanceof Unfinished) throw new FileRefused('took_too_long', { file })
    throw error
  }
}
const BRACE = 0x7b
const BRACKET = 0x5b
