import { and, asc, eq, isNull } from 'drizzle-orm'
import { type Decision, decisionSchema } from '@/core/intake/decisions'
import type { Executor } from './connect'
import { keepBefore } from './importLog'
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

export async function saveDecision(database: Executor, workspace: string, decision: Decision) {
  await keepBefore(database, decisions, [{ workspace, id: decision.id }])
  return database
    .insert(decisions)
    .values({ workspace, id: decision.id, decision, at: new Date(decision.at) })
    .onConflictDoNothing()
}
