/** What goes on by itself for as long as the application lives. */
export type Work = 'intake' | 'relay' | 'routes'

/** On the process: Next bundles pages and what starts with the server apart from each other. */
const held = globalThis as { aequantStanding?: Map<Work, number> }
const failing = (held.aequantStanding ??= new Map<Work, number>())

/** Says once that something failed and is tried again, and remembers it until it works. */
export function noteFailure(work: Work, said: string, error: unknown, now: number): void {
  if (failing.has(work)) return
  failing.set(work, now)
  console.error(said, error instanceof Error ? error.message : error)
}

export const noteSuccess = (work: Work): void => void failing.delete(work)

/** What stands still at the moment, since when (epoch ms). */
export const listFailing = (): { work: Work; since: number }[] =>
  [...failing].map(([work, since]) => ({ work, since }))

/** What was wrong with the journal when it was read: named until the next start. */
const heldFaults = globalThis as { aequantJournalFaults?: Map<string, string> }
const faults = (heldFaults.aequantJournalFaults ??= new Map<string, string>())
export function noteJournalFault(what: string, why: string): void {
  faults.set(what, why)
  console.error(`${what}: ${why}.`)
}
export const listJournalFaults = (): { what: string; why: string }[] =>
  [...faults].map(([what, why]) => ({ what, why }))
