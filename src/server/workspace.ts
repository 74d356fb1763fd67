import { settingsSchema } from '@/core/intake/settings'
import { shippedProfiles } from '@/core/links/profiles'
import { resultSchema } from '@/core/signals/result'
import type { Database } from '@/data/connect'
import { saveDefinition } from '@/data/signals'
import { createWorkspace, findWorkspace, type Workspace } from '@/data/workspace'

/** The workspace that everything is kept in until there are several. */
export const WORKSPACE = 'main'

/** What a workspace is called before anybody names it. */
export const FIRST_NAME = 'My shop'

/** What counts before anybody says more: the shop's orders. */
const ordersCount = resultSchema.parse({
  id: 'order',
  name: 'Order',
  kind: 'order',
  currency: 'EUR',
  value: { by: 'event' },
  count: 'every',
})

/** An empty workspace with the shipped profiles, when there is none yet. */
export async function ensureWorkspace(database: Database): Promise<Workspace> {
  const found = await findWorkspace(database, WORKSPACE)
  if (found) return found
  await createWorkspace(
    database,
    WORKSPACE,
    FIRST_NAME,
    settingsSchema.parse({ time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone }),
    shippedProfiles,
  )
  await saveDefinition(database, WORKSPACE, ordersCount)
  return (await findWorkspace(database, WORKSPACE))!
}
