import { undoable } from '../parts/undo'

/** Undoes an import by its ID. Gives why it cannot be, or null when it is done. */
export type UndoImport = (batch: string) => Promise<string | null>

/** Says that a file was imported, and undoes it for whoever asks, where it can be. */
export function offerUndo(
  batch: string | null | undefined,
  file: string,
  undo: UndoImport,
  done: () => void = () => {},
): void {
  if (!batch) return
  undoable(`${file} is imported.`, async () => {
    const refused = await undo(batch)
    if (refused === null) done()
    return refused ?? undefined
  })
}
