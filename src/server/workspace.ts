import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import type { Database } from '@/data/connect'
import { createWorkspace, findWorkspace, type Workspace } from '@/data/workspace'

/** The workspace that everything is kept in until there are several. */
export const WORKSPACE = 'main'

/** An empty workspace with the shipped profiles, when there is none yet. */
export async function ensureWorkspace(database: Database): Promise<Workspace> {
  const found = await findWorkspace(database, WORKSPACE)
  if (found) return found
  await createWorkspace(
    database,
    WORKSPACE,
    'My shop',
    settingsSchema.parse({ time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone }),
    shippedProfiles,
  )
  return (await findWorkspace(database, WORKSPACE))!
}
