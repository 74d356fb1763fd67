import * as z from 'zod'
import { type SettingsChange, settingsSchema } from '@/core/intake/settings'
import { resultSchema } from '@/core/signals/result'
import type { Database } from '@/data/connect'
import { saveDefinition } from '@/data/signals'
import {
  createWorkspace,
  findWorkspace,
  renameWorkspace,
  saveSettings,
  type Workspace,
} from '@/data/workspace'
import { changeCurrency } from './currency'

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

/** An empty workspace, when there is none yet. */
export async function ensureWorkspace(database: Database): Promise<Workspace> {
  const found = await findWorkspace(database, WORKSPACE)
  if (found) return found
  await createWorkspace(
    database,
    WORKSPACE,
    FIRST_NAME,
    settingsSchema.parse({ time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone }),
    [],
  )
  await saveDefinition(database, WORKSPACE, ordersCount)
  return (await findWorkspace(database, WORKSPACE))!
}

export type WorkspaceChange = SettingsChange & { name?: string }

/** Names a workspace and changes some of its settings: all of it, or nothing. Gives what is wrong, or null. */
export async function settleWorkspace(
  database: Database,
  workspace: Workspace,
  { name = workspace.name, currency, ...change }: WorkspaceChange,
): Promise<string | null> {
  const named = z.string().trim().min(1).max(100).safeParse(name)
  if (!named.success) return 'Give the workspace a name, of at most 100 letters.'
  const changed = Object.entries({ ...workspace.settings, ...change }).filter(([, value]) => value !== null)
  const read = settingsSchema.safeParse(Object.fromEntries(changed))
  if (!read.success) return z.prettifyError(read.error)
  if (currency && currency !== read.data.currency) {
    const problem = await changeCurrency(database, { ...workspace, settings: read.data }, currency)
    if (problem) return problem
  } else await saveSettings(database, workspace.id, read.data)
  await renameWorkspace(database, workspace.id, named.data)
  return null
}
