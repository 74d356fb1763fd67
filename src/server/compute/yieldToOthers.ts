import { setPriority } from 'node:os'

const LOWER = 10

/**
 * Lets whoever answers a click or a page go first on a busy machine. On Linux the priority of "this
 * process" is that of the calling thread: the application's own thread keeps its own.
 */
export function yieldToOthers(): void {
  try {
    setPriority(LOWER)
  } catch {
    // A system that does not let us is as it was.
  }
}
