import * as z from 'zod'
import { type SettingsChange, settingsSchema } from '@/core/intake/settings'
import { type Clash, isSame, mergeEdit, type Saved } from '@/core/shared/mergeEdit'
import { resultSchema } from '@/core/signals/result'
import { noteChange } from '@/data/changeLog'
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
import type { Edit } from './edited'

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

/** Settings by which figures are others, with which they are marked. */
const COUNTED = [
  'currency',
  'time_zone',
  'order_value',
  'margin',
  'fee',
  'product_groups',
  'target_cost',
  'campaign_rules',
  'verdicts',
  'credit',
  'click_window_days',
  'view_window_days',
] as const satisfies readonly (keyof SettingsChange)[]

export type WorkspaceChange = SettingsChange & { name?: string }

/** Settings as they would be kept with a change. */
const changedTo = ({ settings, name }: Workspace, change: WorkspaceChange): Record<string, unknown> => {
  const all = Object.entries({ ...settings, ...change }).filter(([, value]) => value !== null)
  const read = settingsSchema.safeParse(Object.fromEntries(all))
  return { ...(read.success ? read.data : settings), name: change.name?.trim() ?? name }
}

/**
 * Of a change only what it touches: what stands in it as it was when it was begun stays as it is now. Gives the
 * fields that somebody else changed meanwhile, where it is not to hold over them.
 */
function touched(
  workspace: Workspace,
  change: WorkspaceChange,
  { before, over }: Edit<WorkspaceChange>,
): WorkspaceChange | Clash[] {
  if (!before) return change
  const keys = Object.keys(change) as (keyof WorkspaceChange)[]
  const pick = (from: Record<string, unknown>) => Object.fromEntries(keys.map(key => [key, from[key]]))
  const [now, begun, mine] = [{}, before, change].map(some => pick(changedTo(workspace, some)))
  const { merged, clashes } = mergeEdit(now!, begun!, mine!)
  if (clashes.length > 0 && !over) return clashes
  return Object.fromEntries(
    keys
      .filter(key => !isSame(begun![key], mine![key]))
      // A list takes along what others changed of its other things.
      .map(key => [key, Array.isArray(merged[key]) ? merged[key] : change[key]]),
  )
}

/**
 * Names a workspace and changes some of its settings: all of it, or nothing. Gives what is wrong, or null; or what
 * somebody else changed since the change was begun.
 */
export async function settleWorkspace(
  database: Database,
  workspace: Workspace,
  asked: WorkspaceChange,
  edit: Edit<WorkspaceChange> = {},
): Promise<Saved> {
  const own = touched(workspace, asked, edit)
  return Array.isArray(own) ? { clashes: own } : settle(database, workspace, own)
}

async function settle(
  database: Database,
  workspace: Workspace,
  { name = workspace.name, currency, ...change }: WorkspaceChange,
): Promise<string | null> {
  const named = z.string().trim().min(1).max(100).safeParse(name)
  if (!named.success) return 'Give the workspace a name, of at most 100 letters.'
  const changed = Object.entries({ ...workspace.settings, ...change }).filter(([, value]) => value !== null)
  const read = settingsSchema.safeParse(Object.fromEntries(changed))
  if (!read.success) return z.prettifyError(read.error)
  const own = { ...read.data, currency: workspace.settings.currency }
  const outcome = { problem: null as string | null }
  await database
    .transaction(async inner => {
      await saveSettings(inner, workspace.id, own)
      if (currency && currency !== own.currency) {
        // What was typed beside a new currency is of that currency already; all else is brought into it.
        const stays = { ...workspace, settings: workspace.settings }
        outcome.problem = await changeCurrency(inner, stays, currency)
        if (outcome.problem !== null) throw new NotSettled()
        const changed = (await findWorkspace(inner, workspace.id))!.settings
        const typed = Object.entries({ ...changed, ...change }).filter(([, value]) => value !== null)
        await saveSettings(inner, workspace.id, settingsSchema.parse(Object.fromEntries(typed)))
      }
      const before: Record<string, unknown> = workspace.settings
      const after: Record<string, unknown> = { ...read.data, ...(currency && { currency }) }
      for (const name of COUNTED)
        if (JSON.stringify(before[name]) !== JSON.stringify(after[name]))
          await noteChange(inner, workspace.id, 'settings', name)
      await renameWorkspace(inner, workspace.id, named.data)
    })
    .catch(error => {
      if (!(error instanceof NotSettled)) throw error
    })
  return outcome.problem
}

/** Takes back what was begun: why, is told beside. */
class NotSettled extends Error {}
