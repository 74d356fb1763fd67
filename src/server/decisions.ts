import { v7 as uuidv7 } from 'uuid'
import * as z from 'zod'
import { type Decision, decidedSchema, decisionSchema } from '@/core/intake/decisions'
import type { Database } from '@/data/connect'
import { saveDecision } from '@/data/decisions'
import { decisions } from '@/data/schema'
import { takeBack } from '@/data/takeBack'
import { raiseVersion } from '@/data/workspace'

/** What is sent of a decision: when it was made, and its ID, are told by us. */
export const newDecisionSchema = decidedSchema.and(
  z.object({ by: z.string().trim().min(1).max(80).default('somebody here'), why: z.string() }),
)

/**
 * Keeps what somebody decided. Every figure goes by it from here on.
 *
 * @returns the decision, or what is wrong with it in words
 */
export async function decide(
  database: Database,
  workspace: string,
  given: unknown,
  now: number,
): Promise<Decision | string> {
  const asked = newDecisionSchema.safeParse(given)
  if (!asked.success) return z.prettifyError(asked.error)
  const read = decisionSchema.safeParse({ ...asked.data, id: uuidv7(), at: now })
  if (!read.success) return z.prettifyError(read.error)
  await database.transaction(async inner => {
    await saveDecision(inner, workspace, read.data)
    await raiseVersion(inner, workspace, 'rules')
  })
  return read.data
}

/** Takes a decision back: every figure is again what it was without. Gives whether there was one. */
export const undo = (database: Database, workspace: string, id: string, now: number): Promise<boolean> =>
  database.transaction(async inner => {
    const undone = await takeBack(inner, decisions, workspace, id, new Date(now))
    if (undone) await raiseVersion(inner, workspace, 'rules')
    return undone
  })
