import { linkSync, readFileSync, renameSync, unlinkSync, writeFileSync } from 'node:fs'
import { hostname } from 'node:os'
import { join } from 'node:path'
import * as z from 'zod'

const FILE = 'database.lock'
const lockSchema = z.object({
  process: z.int(),
  /** when the system says that process began: a number may be given out again */
  started: z.string(),
  host: z.string(),
  socket: z.string(),
})
/** Who holds the embedded database of a data folder, and where it answers. */
type Lock = z.infer<typeof lockSchema>

/** A data folder that somebody else holds. */
export class Locked extends Error {}

/** Clock ticks since the system's start at which a process began (proc(5)); empty where nobody can say. */
function startOf(pid: number): string {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8')
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? ''
  } catch {
    return ''
  }
}

function isAlive({ process: pid, started }: Lock): boolean {
  try {
    process.kill(pid, 0)
  } catch (error) {
    if (error instanceof Error && 'code' in error && error.code === 'ESRCH') return false
  }
  return startOf(pid) === started
}

function lockIn(file: string): Lock | null {
  try {
    return lockSchema.parse(JSON.parse(readFileSync(file, 'utf8')))
  } catch {
    return null
  }
}
/** The lock of a data folder as it stands there, whoever wrote it. */
export const readLock = (folder: string): Lock | null => lockIn(join(folder, FILE))

/**
 * Takes the data folder for this process, or refuses. The lock stands in the folder itself, so that no other
 * TMPDIR or name for the folder leads round it; one whose process is gone is taken over.
 *
 * @param socket where the database answers
 * @returns gives it back
 * @throws Locked
 */
export function lockFolder(folder: string, socket: string): () => void {
  const file = join(folder, FILE)
  const own: Lock = { process: process.pid, started: startOf(process.pid), host: hostname(), socket }
  const fresh = `${file}.${process.pid}`
  writeFileSync(fresh, JSON.stringify(own), { flush: true, mode: 0o600 })
  try {
    for (;;) {
      try {
        linkSync(fresh, file)
        return () => {
          if (readLock(folder)?.process === process.pid) unlinkSync(file)
        }
      } catch (error) {
        if (!(error instanceof Error && 'code' in error && error.code === 'EEXIST')) throw error
      }
      const held = readLock(folder)
      if (held && held.host !== own.host)
        throw new Locked(
          `${folder} was last opened by process ${held.process} on the machine ${held.host}. If nothing runs there any more, remove ${file} and start again.`,
        )
      if (held && isAlive(held))
        throw new Locked(
          `Another Aequant runs on ${folder}: process ${held.process}. Stop it first (kill ${held.process}), or set AEQUANT_DATA to another folder.`,
        )
      takeAway(file, held)
    }
  } finally {
    unlinkSync(fresh)
  }
}

/** Takes away a lock whose process is gone, unless somebody else has meanwhile done so and put theirs there. */
function takeAway(file: string, held: Lock | null): void {
  const away = `${file}.${process.pid}.gone`
  try {
    renameSync(file, away)
  } catch {
    return
  }
  const taken = lockIn(away)
  if (taken !== null && JSON.stringify(taken) !== JSON.stringify(held)) linkSync(away, file)
  unlinkSync(away)
}
