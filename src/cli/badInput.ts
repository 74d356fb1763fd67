import { filesThere } from '@/formats/folder'

/** What was asked for cannot be done as given: the command ends with exit code 2. */
export class BadInput extends Error {}

/** It was asked for rightly and could not be done, for a reason that has been said: exit code 1. */
export class NotDone extends Error {}

/**
 * Refuses to write over files that are there, unless somebody wants it.
 *
 * @throws BadInput
 */
export function mayWrite(dir: string, names: readonly string[], force: boolean | undefined): void {
  const there = force ? [] : filesThere(dir, names)
  if (there.length > 0)
    throw new BadInput(
      `${dir} has ${there.join(', ')} already. Nothing was written. Choose another folder, or add --force to replace them.`,
    )
}
