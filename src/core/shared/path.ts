/** A text that stands for these parts in this order and for no others: a key to look them up by. */
export const pathKey = (...parts: readonly string[]): string => JSON.stringify(parts)

/** The parts that a key of `pathKey` stands for. */
export const readPath = (key: string): string[] => JSON.parse(key)

type Branch<Value> = Map<string, Branch<Value> | Value>

/**
 * Keeps a value for each path of the same length, made when it is first asked for: nested maps, since joining
 * the parts to one key costs more than all else where a million rows are looked at.
 */
export function perPath<Value>(make: (...parts: string[]) => Value): (...parts: string[]) => Value {
  const root: Branch<Value> = new Map()
  return (...parts) => {
    let at = root
    const last = parts.length - 1
    for (let i = 0; i < last; i++) {
      let next = at.get(parts[i]!) as Branch<Value> | undefined
      if (next === undefined) at.set(parts[i]!, (next = new Map()))
      at = next
    }
    const known = at.get(parts[last]!)
    if (known !== undefined) return known as Value
    const made = make(...parts)
    at.set(parts[last]!, made)
    return made
  }
}
