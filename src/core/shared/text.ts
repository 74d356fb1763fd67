const REPLACEMENT = '\ufffd'

/** Whether text can be kept by any database as it is: no NUL, no half of a surrogate pair. */
export const isCleanText = (text: string): boolean => text.isWellFormed() && !text.includes('\0')

/**
 * Text that any database takes: U+FFFD stands where there was a NUL or half of a surrogate pair (Unicode
 * 16, 3.9), and what is longer than may be is cut between characters.
 *
 * @param most UTF-16 units
 * @example
 * cleanText('a\0b', 10) // 'a\ufffdb'
 */
export function cleanText(text: string, most = Number.POSITIVE_INFINITY): string {
  const clean = isCleanText(text) ? text : text.toWellFormed().replaceAll('\0', REPLACEMENT)
  if (clean.length <= most) return clean
  const cut = clean.slice(0, most)
  return cut.isWellFormed() ? cut : cut.slice(0, -1)
}

/**
 * A record with every text in it cleaned, and the names of the fields that had to be, by their path.
 * What needs no change is given back itself.
 *
 * @param most UTF-16 units of any one text
 */
export function cleanRecord<T>(record: T, most: number): { record: T; changed: string[] } {
  const changed: string[] = []
  return { record: cleanValue(record, '', most, changed) as T, changed }
}

function cleanValue(value: unknown, path: string, most: number, changed: string[]): unknown {
  if (typeof value === 'string') {
    const clean = cleanText(value, most)
    if (clean !== value) changed.push(path)
    return clean
  }
  if (typeof value !== 'object' || value === null) return value
  const before = changed.length
  if (Array.isArray(value)) {
    const items = value.map((item, i) => cleanValue(item, `${path}[${i}]`, most, changed))
    return changed.length > before ? items : value
  }
  const entries = Object.entries(value).map(([key, item]): [string, unknown] => {
    const name = cleanText(key, most)
    const at = path ? `${path}.${name}` : name
    if (name !== key) changed.push(at)
    return [name, cleanValue(item, at, most, changed)]
  })
  return changed.length > before ? Object.fromEntries(entries) : value
}

/** The parameters of a query as it came, still encoded: decoding may bring forth what no database takes. */
export function readParameters(query: string): URLSearchParams {
  const given = new URLSearchParams(query)
  return isCleanText(query) && !query.includes('%00')
    ? given
    : new URLSearchParams([...given].map(([key, value]) => [cleanText(key), cleanText(value)]))
}
