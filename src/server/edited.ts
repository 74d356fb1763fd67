import { type Clash, mergeEdit } from '@/core/shared/mergeEdit'

/** How an edit came about. */
export interface Edit<T> {
  /** what it began with; nothing where it stands for all that there is */
  before?: T | undefined
  /** whether it holds where somebody else changed the same field meanwhile */
  over?: boolean | undefined
}

/** What is to be kept of an edit; or the fields that somebody else changed meanwhile, and then nothing is. */
export function edited<T extends object>(
  now: T | undefined,
  mine: T,
  { before, over }: Edit<T>,
): { merged: T } | { clashes: Clash[] } {
  if (!now || !before) return { merged: mine }
  const { merged, clashes } = mergeEdit(now, before, mine)
  return clashes.length > 0 && !over ? { clashes } : { merged }
}
