import { randomFillSync, randomUUID } from 'node:crypto'
import { v7 as uuidv7 } from 'uuid'

const BYTES = 16
const pool = new Uint8Array(BYTES * 256)
let used = pool.length

/** Random bytes by the many: asking the system for each ID takes longer than all else that a click needs. */
function randomBytes(): Uint8Array {
  if (used === pool.length) {
    randomFillSync(pool)
    used = 0
  }
  return pool.slice(used, (used += BYTES))
}

/** An ID that sorts by time and cannot be guessed: a UUID of version 7 (RFC 9562). */
export const mintId = (at: number): string => uuidv7({ msecs: at, random: randomBytes() })

/** An ID that says nothing at all. */
export const mintVisitor = (): string => randomUUID()
