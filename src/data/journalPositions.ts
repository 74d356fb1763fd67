import { and, eq } from 'drizzle-orm'
import type { Executor } from './connect'
import { drainPositions } from './schema'

/** How many bytes of each segment of a journal have been taken in. */
export type Positions = ReadonlyMap<string, number>

const ofJournal = (workspace: string, journal: string) =>
  and(eq(drainPositions.workspace, workspace), eq(drainPositions.journal, journal))

export async function listPositions(
  database: Executor,
  workspace: string,
  journal: string,
): Promise<Positions> {
  const rows = await database.select().from(drainPositions).where(ofJournal(workspace, journal))
  return new Map(rows.map(row => [row.segment, row.offset]))
}

export async function savePosition(
  database: Executor,
  workspace: string,
  journal: string,
  segment: string,
  offset: number,
): Promise<void> {
  await database
    .insert(drainPositions)
    .values({ workspace, journal, segment, offset })
    .onConflictDoUpdate({
      target: [drainPositions.workspace, drainPositions.journal, drainPositions.segment],
      set: { offset },
    })
}

export const forgetPosition = (database: Executor, workspace: string, journal: string, segment: string) =>
  database
    .delete(drainPositions)
    .where(and(ofJournal(workspace, journal), eq(drainPositions.segment, segment)))

/** The one position of before journals had names: of the segment that was being taken in, all before it done. */
const FORMER = 'local'
export async function adoptFormerPosition(
  database: Executor,
  workspace: string,
  journal: string,
  sizes: ReadonlyMap<string, number>,
): Promise<void> {
  await database.transaction(async transaction => {
    const [former] = await transaction.delete(drainPositions).where(ofJournal(workspace, FORMER)).returning()
    for (const [segment, size] of former ? sizes : [])
      if (segment <= former!.segment)
        await savePosition(
          transaction,
          workspace,
          journal,
          segment,
          segment === former!.segment ? former!.offset : size,
        )
  })
}
