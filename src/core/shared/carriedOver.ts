/** How one list goes on in a later one: by the very same objects, both in order of time. */
export interface CarriedOver {
  /** per item of the later list: its place in the earlier one, -1 where it is new */
  from: Int32Array
  /** those of the later list that are new */
  came: number[]
  /** those of the earlier list that are not in the later one */
  gone: number[]
}

/** Finds what two lists in order of time have in common. Linear, as long as few are of the same instant. */
export function carriedOver<T>(
  before: readonly T[],
  after: readonly T[],
  at: (item: T) => number,
): CarriedOver {
  const from = new Int32Array(after.length).fill(-1)
  const came: number[] = []
  const kept = new Uint8Array(before.length)
  let next = 0
  for (let i = 0; i < after.length; i++) {
    const item = after[i]!
    if (before[next] !== item) {
      const time = at(item)
      while (next < before.length && (kept[next] === 1 || at(before[next]!) < time)) next++
      let j = next
      while (j < before.length && before[j] !== item && at(before[j]!) === time) j++
      if (j >= before.length || before[j] !== item) {
        came.push(i)
        continue
      }
      from[i] = j
      kept[j] = 1
      continue
    }
    from[i] = next
    kept[next] = 1
    next++
  }
  const gone: number[] = []
  for (let j = 0; j < before.length; j++) if (kept[j] === 0) gone.push(j)
  return { from, came, gone }
}
