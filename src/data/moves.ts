import { and, desc, eq, sql } from 'drizzle-orm'
import { type KeptMoves, type MoveList, moveListSchema } from '@/core/weigh/moves'
import type { Executor } from './connect'
import { moveLists } from './schema'
import { readStored } from './stored'

export const saveMoves = (database: Executor, workspace: string, list: MoveList) =>
  database.insert(moveLists).values({ workspace, id: list.id, at: new Date(list.at), list })

/** The lists of a workspace, the latest first. */
export async function listMoves(database: Executor, workspace: string): Promise<KeptMoves[]> {
  const rows = await database
    .select()
    .from(moveLists)
    .where(eq(moveLists.workspace, workspace))
    .orderBy(desc(moveLists.at), desc(moveLists.id))
  return readStored('move_lists', moveListSchema, rows, row => ({ id: row.id, value: row.list })).map(
    ({ row, value }) => ({
      list: value,
      applied: row.applied,
      undoneAt: row.undone_at?.getTime() ?? null,
    }),
  )
}

/** Notes that a list was applied to a network. */
export const noteApplied = (database: Executor, workspace: string, id: string, network: string, at: Date) =>
  database
    .update(moveLists)
    .set({ applied: sql`${moveLists.applied} || ${JSON.stringify({ [network]: at.toISOString() })}::jsonb` })
    .where(and(eq(moveLists.workspace, workspace), eq(moveLists.id, id)))
