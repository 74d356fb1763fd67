import type { Database } from '@/data/connect'
import { latestLogged, putBack } from '@/data/importLog'
import { raiseVersion, type Workspace } from '@/data/workspace'
import { adsWereNamed } from '../links/unknownValues'
import { publishRoutes } from '../routes'

/** Undoes an import: what it added, changed and replaced is as it was before. Gives what is wrong, or null. */
export async function undoImport(
  database: Database,
  { id }: Workspace,
  batch: string,
): Promise<string | null> {
  const latest = await latestLogged(database, id)
  if (latest === null) return 'there is nothing of it to undo any more.'
  if (latest !== batch) return 'another file was imported since. Undo that first.'
  await database.transaction(async inner => {
    await putBack(inner, id, batch)
    await raiseVersion(inner, id, 'everything')
  })
  await adsWereNamed(database, id)
  await publishRoutes(database, id)
  return null
}
