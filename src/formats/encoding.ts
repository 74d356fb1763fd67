import chardet from 'chardet'
import iconv from 'iconv-lite'
import jschardet from 'jschardet'
import { type Encoding, encodings } from '@/core/shared/encodings'

/** So much of a file is enough to tell. */
const LOOKED_AT = 256 * 1024
/** What a guess calls what is read as something of the list: the same, and all that it can write. */
const readAs: Readonly<Record<string, Encoding>> = {
  'iso-8859-1': 'windows-1252',
  'iso8859-15': 'windows-1252',
  cp932: 'shift_jis',
  gb2312: 'gb18030',
  gbk: 'gb18030',
}
const known = (name: string): Encoding | undefined =>
  encodings.find(one => one === name.toLowerCase()) ?? readAs[name.toLowerCase()]

/**
 * The encoding of a text: UTF-8 or UTF-16 where the bytes are that, else the likeliest of those that can read all
 * of it, by what letters follow each other in words. A file that was cut off may end within a letter.
 */
export function encodingOf(bytes: Uint8Array): Encoding {
  const [first, second] = bytes
  if (first === 0xff && second === 0xfe) return 'utf-16le'
  if (first === 0xfe && second === 0xff) return 'utf-16be'
  if (isUtf8(bytes)) return 'utf-8'
  const beginning = bytes.subarray(0, LOOKED_AT)
  const likely = [...likelihoods(telling(beginning))].sort((a, b) => b[1] - a[1])
  // Its last letter may be cut off.
  const canRead = (one: Encoding) => !decodeText(beginning, one).slice(0, -2).includes('\ufffd')
  return likely.find(([one]) => canRead(one))?.[0] ?? 'windows-1252'
}

/** Whether bytes are UTF-8, to the last letter but for one that is cut off. */
function isUtf8(bytes: Uint8Array): boolean {
  try {
    // Being told that more follows, it does not mind a letter that has only begun.
    new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true })
    return true
  } catch {
    return false
  }
}

/** How likely words are of each encoding. Two libraries know different languages: their shares are added. */
function likelihoods(words: Buffer): Map<Encoding, number> {
  const found = new Map<Encoding, number>()
  const take = (guesses: readonly { name: string; share: number }[]) => {
    const best = new Map<Encoding, number>()
    for (const { name, share } of guesses) {
      const encoding = known(name)
      if (encoding && encoding !== 'utf-8') best.set(encoding, Math.max(best.get(encoding) ?? 0, share))
    }
    for (const [encoding, share] of best) found.set(encoding, (found.get(encoding) ?? 0) + share)
  }
  take(chardet.analyse(words).map(one => ({ name: one.name, share: one.confidence / 100 })))
  const others = jschardet.detectAll(words)
  const most = Math.max(1e-9, ...others.map(one => one.confidence))
  take(others.map(one => ({ name: one.encoding ?? '', share: one.confidence / most })))
  return found
}

const WORD_ENDS = new Set([...' \t\r\n,;|"'].map(mark => mark.charCodeAt(0)))
/** The words of a beginning that hold more than ASCII, each once: figures, marks and what repeats tell nothing. */
function telling(bytes: Uint8Array): Buffer {
  const words = new Map<string, Uint8Array>()
  const end = bytes.length
  let from = 0
  for (let i = 0; i <= end; i++) {
    if (i < end && !WORD_ENDS.has(bytes[i]!)) continue
    const word = bytes.subarray(from, i)
    if (word.some(byte => byte > 0x7f)) words.set(String(word), word)
    from = i + 1
  }
  return Buffer.concat([...words.values()].flatMap(word => [word, Buffer.from(' ')]))
}

/**
 * Text from bytes.
 *
 * @param encoding found out where it is not said
 */
export const decodeText = (bytes: Uint8Array, encoding: Encoding = encodingOf(bytes)): string =>
  encoding.startsWith('utf-')
    ? new TextDecoder(encoding).decode(bytes)
    : // The platform's own reads Windows-1252 as Latin-1, which has no euro sign.
      iconv.decode(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), encoding)
