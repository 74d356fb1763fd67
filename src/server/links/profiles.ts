import { profileSchema } from '@/core/links/profile'
import type { Database } from '@/data/connect'
import { listProfiles, raiseVersion, saveProfile, type Workspace } from '@/data/workspace'
import { publishRoutes } from '../routes'

/** What is wrong with a profile, each by the path of the field that it is about; empty when it is kept. */
export interface ProfileProblem {
  path: string
  message: string
}

/**
 * Keeps a network profile from the editor or from a file.
 *
 * @param isNew whether a network of that ID must not be there yet
 */
export async function keepProfile(
  database: Database,
  workspace: Workspace,
  profile: unknown,
  { isNew }: { isNew: boolean },
): Promise<ProfileProblem[]> {
  const read = profileSchema.safeParse(profile)
  if (!read.success)
    return read.error.issues.map(issue => ({ path: issue.path.join('.'), message: issue.message }))
  const known = await listProfiles(database, workspace.id)
  if (isNew && known.some(p => p.id === read.data.id))
    return [{ path: 'id', message: `there is a network ${read.data.id} already: choose another ID` }]
  await database.transaction(async inner => {
    await saveProfile(inner, workspace.id, read.data)
    await raiseVersion(inner, workspace.id)
  })
  await publishRoutes(database, workspace.id)
  return []
}
