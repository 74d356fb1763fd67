/** Something that was done and can be taken back, while it is shown. */
export interface Undoable {
  id: number
  done: string
  undo: () => void
}

const changes = new EventTarget()
let open: readonly Undoable[] = []
let last = 0
const set = (next: readonly Undoable[]) => {
  open = next
  changes.dispatchEvent(new Event('change'))
}

/** Says what was done, and takes it back for whoever asks within twenty seconds, with `u` or the button. */
export const undoable = (done: string, undo: () => void): void => set([...open, { id: ++last, done, undo }])
export const forget = (id: number): void => set(open.filter(one => one.id !== id))
export function takeBack(id: number): void {
  open.find(one => one.id === id)?.undo()
  forget(id)
}

/** What can be taken back now, the latest last. */
export const undoables = {
  now: () => open,
  subscribe: (tell: () => void) => {
    changes.addEventListener('change', tell)
    return () => changes.removeEventListener('change', tell)
  },
}
