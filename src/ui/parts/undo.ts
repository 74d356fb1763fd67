/** What is said beside the screen for a while: something that was done and can be taken back, or that failed. */
export interface Notice {
  id: number
  says: string
  /** null where it failed; gives why it is refused, where it is */
  undo: (() => unknown) | null
}

const changes = new EventTarget()
let open: readonly Notice[] = []
let last = 0
const set = (next: readonly Notice[]) => {
  open = next
  changes.dispatchEvent(new Event('change'))
}

/** What is said where the server did not answer, or threw; its own words stay there. */
export const NOT_DONE =
  'This was not done: the application does not answer, or cannot write. What you typed is still here; try again.'

/** Says what was done, and takes it back for whoever asks within twenty seconds, with `u` or the button. */
export const undoable = (says: string, undo: () => unknown): void =>
  set([...open, { id: ++last, says, undo }])
/** Says that something failed. */
export const failed = (says = NOT_DONE): void => set([...open, { id: ++last, says, undo: null }])
/** Whether something that was done is still offered to be taken back. */
export const isUndoOffered = (): boolean => open.some(one => one.undo !== null)
export const forget = (id: number): void => set(open.filter(one => one.id !== id))
/** Takes something back; what cannot be is said, and can be tried again. */
export async function takeBack(id: number): Promise<void> {
  const one = open.find(one => one.id === id)
  if (!one?.undo) return
  forget(id)
  let wrong: unknown
  try {
    wrong = await one.undo()
  } catch {
    wrong = 'the application does not answer, or cannot write.'
  }
  if (typeof wrong !== 'string') return
  undoable(one.says, one.undo)
  failed(`It could not be taken back: ${wrong}`)
}

/** What is said now, the latest last. */
export const notices = {
  now: () => open,
  subscribe: (tell: () => void) => {
    changes.addEventListener('change', tell)
    return () => changes.removeEventListener('change', tell)
  },
}
