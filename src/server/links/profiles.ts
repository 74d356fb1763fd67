import { profileSchema } from '@/core/links/profile'
import { type FieldProblem, templateProblems } from '@/core/signals/templateProblems'
import { noteChange } from '@/data/changeLog'
import type { Database } from '@/data/connect'
import { listProfiles, raiseVersion, saveProfile, type Workspace } from '@/data/workspace'
import { publishRoutes } from '../routes'

/**
 * Keeps a network profile from the editor or from a file.
 *
 * @returns what is wrong, by field; empty when it is kept
 * @param isNew whether a network of that ID must not be there yet
 */
export async function keepProfile(
  database: Database,
  workspace: Workspace,
  profile: unknown,
  { isNew }: { isNew: boolean },
): Promise<FieldProblem[]> {
  const read = profileSchema.safeParse(profile)
  if (!read.success)
    return read.error.issues.map(issue => ({ path: issue.path.join('.'), message: issue.message }))
  const unsafe = templateProblems(read.data)
  if (unsafe.length > 0) return unsafe
  const known = await listProfiles(database, workspace.id)
  if (isNew && known.some(p => p.id === read.data.id))
    return [{ path: 'id', message: `there is a network ${read.data.id} already: choose another ID` }]
  await database.transaction(async inner => {
    await saveProfile(inner, workspace.id, read.data)
    await noteChange(inner, workspace.id, 'network', read.data.id)
    await raiseVersion(inner, workspace.id, 'rules')
  })
  await publishRoutes(database, workspace.id)
  return []
}
