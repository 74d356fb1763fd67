// What a browser is remembered by on this site: in its storage, or as long as the page where that is refused.

/** What an address said of how the shopper came. */
export type Touch = Record<string, string>
export interface Memory {
  visitor?: string
  /** IANA zone of the browser */
  zone?: string
  test?: string
  first?: Touch
  last?: Touch
  queue?: object[]
  /** whether the shopper said no where nobody had asked */
  refused?: boolean
}

const KEPT = 'aequant'
let unstored: Memory = {}
/** What is known in this turn. Storage is read and written once a turn, as each time takes a browser milliseconds. */
let kept: Memory | undefined
let unsaved = false

export function recall(): Memory {
  if (!kept) {
    try {
      kept = JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Memory
    } catch {
      kept = unstored
    }
    setTimeout(save)
  }
  return { ...kept }
}
export function remember(memory: Memory): void {
  if (!kept) setTimeout(save)
  unstored = kept = memory
  unsaved = true
}
export function save(): void {
  try {
    if (unsaved) localStorage.setItem(KEPT, JSON.stringify(kept))
  } catch {
    // Storage is refused: what is known lives as long as the page.
  }
  unsaved = false
  kept = undefined
}
/** Forgets all of it, here and in the storage. */
export function forget(): void {
  unstored = {}
  kept = undefined
  unsaved = false
  try {
    localStorage.removeItem(KEPT)
  } catch {
    // Nothing was stored.
  }
}

/** Events of who may not be followed wait here, and in no storage. */
let unnamed: object[] = []
export const waitingOf = (may: boolean): object[] => (may ? (recall().queue ?? []) : unnamed)
export function keepWaiting(may: boolean, queue: object[]): void {
  if (may) remember({ ...recall(), queue })
  else unnamed = queue
}
