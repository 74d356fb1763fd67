import { and, asc, between, eq, sql } from 'drizzle-orm'
import type { ChangeKind } from '@/core/shared/changeKind'
import { formatDay, type Period } from '@/core/shared/days'
import type { Executor } from './connect'
import { changes, workspaces } from './schema'

/** Notes that somebody changed something today, in the workspace's zone; once a day for each thing. */
export async function noteChange(
  database: Executor,
  workspace: string,
  what: ChangeKind,
  about: string,
): Promise<void> {
  const today = sql`(now() at time zone coalesce(${workspaces.settings}->>'time_zone', 'UTC'))::date`
  await database
    .insert(changes)
    .select(
      database
        .select({
          workspace: workspaces.id,
          day: sql<string>`${today}`.as('day'),
          what: sql<ChangeKind>`${what}::text`.as('what'),
          about: sql<string>`${about.slice(0, 200)}::text`.as('about'),
        })
        .from(workspaces)
        .where(eq(workspaces.id, workspace)),
    )
    .onConflictDoNothing()
}

/** What somebody changed in a period, the earliest first. */
export const changesBetween = (database: Executor, workspace: string, { from, to }: Period) =>
  database
    .select({ day: changes.day, what: changes.what, about: changes.about })
    .from(changes)
    .where(and(eq(changes.workspace, workspace), between(changes.day, formatDay(from), formatDay(to))))
    .orderBy(asc(changes.day), asc(changes.what), asc(changes.about))
