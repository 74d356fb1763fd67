import { and, asc, eq, isNull } from 'drizzle-orm'
import { type Decision, decisionSchema } from '@/core/intake/decisions'
import type { Executor } from './connect'
import { decisions } from './schema'
import { readStored } from './stored'

/** Decisions that hold, the earliest first. */
export const listDecisions = async (database: Executor, workspace: string): Promise<Decision[]> =>
  readStored(
    'decisions',
    decisionSchema,
    await database
      .select()
      .from(decisions)
      .where(and(eq(decisions.workspace, workspace), isNull(decisions.undone_at)))
      .orderBy(asc(decisions.at), asc(decisions.id)),
    row => ({ id: row.id, value: row.decision }),
  ).map(({ value }) => value)

export const saveDecision = (database: Executor, workspace: string, decision: Decision) =>
  database
    .insert(decisions)
    .values({ workspace, id: decision.id, decision, at: new Date(decision.at) })
    .onConflictDoNothing()

/** Takes a decision back; it stays on record. Gives whether there was one that held. */
export async function undoDecision(
  database: Executor,
  workspace: string,
  id: string,
  now: Date,
): Promise<boolean> {
  const undone = await database
    .update(decisions)
    .set({ undone_at: now })
    .where(and(eq(decisions.workspace, workspace), eq(decisions.id, id), isNull(decisions.undone_at)))
    .returning({ id: decisions.id })
  return undone.length > 0
}
