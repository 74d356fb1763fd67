import { and, eq } from 'drizzle-orm'
import type { Executor } from './connect'
import { drainPositions } from './schema'

/** How many bytes of each segment of a journal have been taken in. */
export type Positions = ReadonlyMap<string, number>

export async function listPositions(database: Executor, journal: string): Promise<Positions> {
  const rows = await database.select().from(drainPositions).where(eq(drainPositions.journal, journal))
  return new Map(rows.map(row => [row.segment, row.offset]))
}

export async function savePosition(
  database: Executor,
  journal: string,
  segment: string,
  offset: number,
): Promise<void> {
  await database
    .insert(drainPositions)
    .values({ journal, segment, offset })
    .onConflictDoUpdate({ target: [drainPositions.journal, drainPositions.segment], set: { offset } })
}

export const forgetPosition = (database: Executor, journal: string, segment: string) =>
  database
    .delete(drainPositions)
    .where(and(eq(drainPositions.journal, journal), eq(drainPositions.segment, segment)))

/** The one position of before journals had names: of the segment that was being taken in, all before it done. */
const FORMER = 'local'
export async function adoptFormerPosition(
  database: Executor,
  journal: string,
  sizes: ReadonlyMap<string, number>,
): Promise<void> {
  await database.transaction(async transaction => {
    const [former] = await transaction
      .delete(drainPositions)
      .where(eq(drainPositions.journal, FORMER))
      .returning()
    for (const [segment, size] of former ? sizes : [])
      if (segment <= former!.segment)
        await savePosition(transaction, journal, segment, segment === former!.segment ? former!.offset : size)
  })
}
