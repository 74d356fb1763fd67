import { plainLengths } from '@/core/intake/fields'

const [NEWLINE, RETURN, SPACE, QUOTE, APOSTROPHE, COMMA, TILDE] = [10, 13, 32, 34, 39, 44, 126]

/** A row that was looked at, as bytes. */
export type ByteRows = ReturnType<typeof byteRows>

/**
 * Looks at rows of CSV as bytes, one at a time, without making text of them.
 *
 * @param keys the columns' names
 * @param hashed those of which the cells' hashes are wanted
 */
export function byteRows(bytes: Buffer, keys: readonly string[], hashed: readonly string[]) {
  const isHashed = Uint8Array.from(keys, key => (hashed.includes(key) ? 1 : 0))
  const { most, isKey, mostOfKeys } = plainLengths(keys)
  const columns = keys.length
  const size = bytes.length
  const [from, to, hash] = [new Int32Array(columns), new Int32Array(columns), new Int32Array(columns)]
  const row = {
    /** where each cell begins and ends, without its quotation marks */
    from,
    to,
    /** of each wanted cell's bytes, as `hashOf` its text */
    hash,
    /** where the next row begins */
    next: 0,
    text: (cell: number): string => (cell < 0 ? '' : bytes.toString('utf8', from[cell]!, to[cell]!)),
    /** The whole line that begins at a byte, of the row that was looked at last. */
    line: (begin: number): string => {
      const end = bytes[row.next - 1] === NEWLINE ? row.next - 1 : row.next
      return bytes.toString('utf8', begin, bytes[end - 1] === RETURN ? end - 1 : end)
    },
    /**
     * Looks at the row that begins at a byte.
     *
     * @returns whether its cells are plainly as they should be; null where it may not end with its line
     */
    look: (begin: number): boolean | null => {
      let cell = 0
      let i = begin
      let keyBytes = 0
      let plain = true
      for (;;) {
        let h = NO_HASH
        const quoted = bytes[i] === QUOTE
        if (quoted) i += 1
        const first = i
        const ends = quoted ? ENDS_QUOTED : ENDS_CELL
        if (isHashed[cell] === 1)
          while (i < size) {
            const byte = bytes[i]!
            if (ends[byte] === 1) break
            h = Math.imul(h ^ byte, PRIME)
            i += 1
          }
        else while (i < size && ends[bytes[i]!] === 0) i += 1
        const last = i
        let byte = i < size ? bytes[i]! : NEWLINE
        if (quoted !== (byte === QUOTE)) return null
        if (quoted) byte = ++i < size ? bytes[i]! : NEWLINE
        if (byte === RETURN) {
          byte = ++i < size ? bytes[i]! : NEWLINE
          if (byte !== NEWLINE) return null
        }
        if (byte !== COMMA && byte !== NEWLINE) return null
        const length = last - first
        if (cell < columns) {
          from[cell] = first
          to[cell] = last
          hash[cell] = h
          if (length > most[cell]!) plain = false
          if (isKey[cell] === 1) keyBytes += length
          if (length > 0 && (isOuter(bytes[first]!) || isOuter(bytes[last - 1]!))) plain = false
        }
        cell += 1
        i += 1
        if (byte === COMMA) continue
        row.next = Math.min(i, size)
        return plain && cell === columns && keyBytes <= mostOfKeys
      }
    },
  }
  return row
}

/** 1 for bytes at which a cell ends, or at which something is wrong with it. */
const ENDS_QUOTED = new Uint8Array(256)
for (const byte of [NEWLINE, RETURN, QUOTE]) ENDS_QUOTED[byte!] = 1
const ENDS_CELL = ENDS_QUOTED.slice()
ENDS_CELL[COMMA!] = 1

/** Whether a cell that begins or ends with a byte may not be what it seems: a space, an escape, or of more bytes. */
const isOuter = (byte: number): boolean => byte <= SPACE || byte > TILDE || byte === APOSTROPHE

// FNV-1a of 32 bits (http://www.isthe.com/chongo/tech/comp/fnv/).
const PRIME = 0x01000193
/** The hash of no text. */
export const NO_HASH = 0x811c9dc5 | 0

export function hashOf(text: string): number {
  let h = NO_HASH
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i)
    if (code > 127) return hashOfBytes(Buffer.from(text, 'utf8'))
    h = Math.imul(h ^ code, PRIME)
  }
  return h
}
const hashOfBytes = (bytes: Buffer): number => bytes.reduce((h, byte) => Math.imul(h ^ byte, PRIME), NO_HASH)
