import { sql } from 'drizzle-orm'
import type { Executor } from './connect'

/**
 * The revision that rows of a workspace are written under: one more than its version. Until the transaction ends
 * nobody else writes under it, or raises the version.
 */
export async function nextRevision(database: Executor, workspace: string): Promise<number> {
  const { rows } = await database.execute<{ version: string }>(
    sql`select version from workspaces where id = ${workspace} for update`,
  )
  return Number(rows[0]?.version ?? 0) + 1
}
