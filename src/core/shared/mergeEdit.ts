/** A field that two people changed at once, to different values. */
export interface Clash {
  /** the field, with those that it stands in before it, by dots */
  at: string
  now: unknown
  mine: unknown
}

/** What came of keeping an edit: why it is not kept, or null when it is; or what it would take away from somebody. */
export type Saved = string | null | { clashes: Clash[] }

const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Whether two values are kept alike: what is missing, undefined or null is nothing, whatever order keys stand in. */
export function isSame(a: unknown, b: unknown): boolean {
  if (a === b || ((a ?? null) === null && (b ?? null) === null)) return true
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((one, i) => isSame(one, b[i]))
  if (!isPlain(a) || !isPlain(b)) return false
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].every(key => isSame(a[key], b[key]))
}

type Keyed = Record<string, unknown>
/** By what items of lists are known. */
const identities = [['id'], ['network', 'campaign'], ['group'], ['name']]

/** A list of things by what each is known by; null where they are known by nothing, and are one value together. */
function byIdentity(list: unknown): Keyed | null {
  if (!Array.isArray(list) || !list.every(isPlain)) return null
  if (list.length === 0) return {}
  const keys = identities.find(parts =>
    list.every(item => parts.every(part => typeof item[part] === 'string')),
  )
  if (!keys) return null
  const keyed = Object.fromEntries(list.map(item => [keys.map(key => item[key]).join(' '), item]))
  return Object.keys(keyed).length === list.length ? keyed : null
}

/**
 * An edit brought onto what is kept now: only what it touched changes, and what somebody else changed meanwhile stays.
 * Objects are merged key by key, lists of things that have an ID or a name thing by thing, all else as a whole.
 *
 * @param now what is kept
 * @param before what the edit began with
 * @param mine what it came to
 * @returns the merged value, with the edit's own where both changed a field
 */
export function mergeEdit<T extends object>(now: T, before: T, mine: T): { merged: T; clashes: Clash[] } {
  const clashes: Clash[] = []
  const merge = (at: string, now: unknown, before: unknown, mine: unknown): unknown => {
    if (isSame(before, mine)) return now
    if (isSame(now, before) || isSame(now, mine)) return mine
    if (isPlain(now) && isPlain(before) && isPlain(mine)) return mergeKeys(at, now, before, mine)
    const lists = [now, before, mine].map(byIdentity)
    if (lists.every(list => list !== null)) {
      const [a, b, c] = lists as [Keyed, Keyed, Keyed]
      return Object.values(mergeKeys(at, a, b, c))
    }
    clashes.push({ at, now: now ?? null, mine: mine ?? null })
    return mine
  }
  const mergeKeys = (
    at: string,
    now: Record<string, unknown>,
    before: Record<string, unknown>,
    mine: Record<string, unknown>,
  ): Record<string, unknown> => {
    const merged: Record<string, unknown> = {}
    // In the order of what is kept: of parameters the order is theirs in an address.
    for (const key of new Set([...Object.keys(now), ...Object.keys(mine)])) {
      const value = merge(at ? `${at}.${key}` : key, now[key], before[key], mine[key])
      if (value !== undefined) merged[key] = value
    }
    return merged
  }
  const merged = mergeKeys('', now as never, before as never, mine as never) as T
  return { merged, clashes }
}
