import type { EntityLevel } from '@/core/links/readLink'
import type { Database } from '@/data/connect'
import { addName, findEntities } from '@/data/entities'
import { joinProvisional, joinTo } from '@/data/provisional'
import { raiseVersion, type Workspace } from '@/data/workspace'
import { readUnknownClicks } from '../drain/clickReader'

/** After a report or a file has named ads: those that were added without an ID get theirs, and clicks are read again. */
export const adsWereNamed = (database: Database, workspace: string): Promise<void> =>
  database.transaction(async inner => {
    const joined = await joinProvisional(inner, workspace)
    const read = await readUnknownClicks(inner, workspace)
    if (joined > 0) await raiseVersion(inner, workspace, 'rules', 'everything')
    else if (read > 0) await raiseVersion(inner, workspace)
  })

/**
 * Reads clicks again whose values named nothing known, after something was named.
 *
 * @returns how many clicks are known better now
 */
export const readAgain = (database: Database, workspace: string): Promise<number> =>
  database.transaction(async inner => {
    const read = await readUnknownClicks(inner, workspace)
    if (read > 0) await raiseVersion(inner, workspace)
    return read
  })

export type Assigned = { clicks: number } | { problem: 'unknown' | 'several' }

/**
 * Says which campaign, ad set or ad a value of addresses means; clicks and orders are read by it from then on.
 *
 * @param called its ID, or a name that it alone has at that level
 */
export async function assignValue(
  database: Database,
  { id: workspace }: Workspace,
  { network, level, value, called }: { network: string; level: EntityLevel; value: string; called: string },
  now: number,
): Promise<Assigned> {
  const found = await findEntities(database, workspace, network, level, called)
  if (found.length !== 1) return { problem: found.length === 0 ? 'unknown' : 'several' }
  return database.transaction(async inner => {
    // As a former name: what it is called now stays.
    await addName(inner, workspace, { network, level, id: found[0]!, name: value, now })
    const clicks = await readUnknownClicks(inner, workspace)
    await raiseVersion(inner, workspace, 'rules')
    return { clicks }
  })
}

/** Gives what was added without an ID the one that somebody chose of several. Gives what is wrong, or null. */
export const joinChosen = (
  database: Database,
  workspace: string,
  chosen: { network: string; level: EntityLevel; id: string; real: string },
): Promise<string | null> =>
  database.transaction(async inner => {
    if (!(await joinTo(inner, workspace, chosen)))
      return 'It was joined already, or the report no longer names that ID. Load the page again.'
    await readUnknownClicks(inner, workspace)
    await raiseVersion(inner, workspace, 'rules', 'everything')
    return null
  })
