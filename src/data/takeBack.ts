import { and, eq, isNull } from 'drizzle-orm'
import type { Executor } from './connect'
import type { decisions, moveLists } from './schema'

/** Takes back something that stays on record. Gives whether there was one that held. */
export async function takeBack(
  database: Executor,
  from: typeof decisions | typeof moveLists,
  workspace: string,
  id: string,
  now: Date,
): Promise<boolean> {
  const undone = await database
    .update(from)
    .set({ undone_at: now })
    .where(and(eq(from.workspace, workspace), eq(from.id, id), isNull(from.undone_at)))
    .returning({ id: from.id })
  return undone.length > 0
}
