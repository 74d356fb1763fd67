import { removalSchema } from '@/core/intake/removal'
import type { Database } from '@/data/connect'
import { forgetLogged } from '@/data/importLog'
import { bringBack, countRemoval, forgetIdle, forgetRemoved, removedFrom, takeOut } from '@/data/removal'
import { workspaces } from '@/data/schema'
import { findWorkspace, raiseVersion, type Workspace } from '@/data/workspace'

const DAY_MS = 86_400_000
/** How long what was removed can be brought back. */
export const KEPT_DAYS = 7

/** What a removal would take out, by kind. */
export const previewRemoval = (database: Database, { id, settings }: Workspace, removal: unknown) =>
  countRemoval(database, id, removalSchema.parse(removal), settings.time_zone)

/**
 * Removes what was taken in. It waits for a week.
 *
 * @returns by what it can be brought back
 */
export async function remove(
  database: Database,
  { id, settings }: Workspace,
  removal: unknown,
  now: number,
): Promise<string> {
  const read = removalSchema.parse(removal)
  const to = removedFrom(id, new Date(now))
  await database.transaction(async inner => {
    await takeOut(inner, id, read, settings.time_zone, to)
    await raiseVersion(inner, id, 'everything')
  })
  return to
}

/** Brings back what was removed. */
export async function undoRemoval(database: Database, { id }: Workspace, removed: string): Promise<void> {
  if (!removed.startsWith(removedFrom(id, new Date(0)).slice(0, -24))) return
  await database.transaction(async inner => {
    await bringBack(inner, id, removed)
    await raiseVersion(inner, id, 'everything')
  })
}

/** Forgets what nobody can bring back any longer, and what workspaces do not want kept. */
export async function tidyRecords(database: Database, now: number): Promise<void> {
  await forgetRemoved(database, new Date(now - KEPT_DAYS * DAY_MS))
  await forgetLogged(database, new Date(now - KEPT_DAYS * DAY_MS))
  for (const { id } of await database.select({ id: workspaces.id }).from(workspaces)) {
    const days = (await findWorkspace(database, id))?.settings.keep_days
    if (days !== undefined) await forgetIdle(database, id, new Date(now - days * DAY_MS))
  }
}
