import { crc32 } from 'node:zlib'

const CHECK_LENGTH = 8

/** A record as one line of the journal: its CRC-32 in hex, a space, its JSON. */
export function writeLine(record: object): string {
  const json = JSON.stringify(record)
  return `${crc32(json).toString(16).padStart(CHECK_LENGTH, '0')} ${json}\n`
}

export type LineProblem = 'torn_line' | 'not_a_record'

/** The JSON of a journal line; a problem where it is not what was written. */
export function readLine(line: string): { value: unknown } | { problem: LineProblem } {
  const json = line.slice(CHECK_LENGTH + 1)
  const whole = line[CHECK_LENGTH] === ' ' && Number.parseInt(line.slice(0, CHECK_LENGTH), 16) === crc32(json)
  if (!whole) return { problem: 'torn_line' }
  try {
    return { value: JSON.parse(json) }
  } catch {
    return { problem: 'not_a_record' }
  }
}
