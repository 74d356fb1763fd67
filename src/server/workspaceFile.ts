import { and, eq } from 'drizzle-orm'
import * as z from 'zod'
import { settingsSchema } from '@/core/intake/settings'
import { namingRuleSchema } from '@/core/links/naming'
import { planLevels, profileSchema } from '@/core/links/profile'
import { journeySchema } from '@/core/signals/journey'
import { resultSchema } from '@/core/signals/result'
import { ruleSchema } from '@/core/signals/rule'
import { templateProblems } from '@/core/signals/templateProblems'
import type { Database, Executor } from '@/data/connect'
import { listJourneys, removeJourney, saveJourney } from '@/data/journeys'
import { applyChanges } from '@/data/links'
import { listNamingRules, removeNamingRule, saveNamingRule } from '@/data/namingRules'
import { removeProfile } from '@/data/networks'
import { listMappings, removeMapping, saveMapping } from '@/data/reports'
import { results } from '@/data/schema'
import {
  listDefinitions,
  listRules,
  listSlots,
  removeRule,
  saveDefinition,
  saveRule,
  saveSlot,
} from '@/data/signals'
import {
  listPlans,
  listProfiles,
  raiseVersion,
  renameWorkspace,
  saveProfile,
  saveSettings,
  type Workspace,
} from '@/data/workspace'
import { changeCurrency } from './currency'
import { publishRoutes } from './routes'

const text = z.string().max(200)
const planSchema = z.object({
  network: text,
  level: z.enum(planLevels),
  scope: text,
  parameters: z.record(z.string(), z.string()),
})

/** What a workspace says, in one file: everything but what arrived, what was saved under codes, and secrets. */
export const workspaceFileSchema = z.object({
  format: z.literal('aequant-workspace'),
  version: z.literal(1),
  name: z.string().trim().min(1).max(100),
  settings: settingsSchema,
  networks: z.array(profileSchema).default([]),
  plans: z.array(planSchema).default([]),
  results: z.array(resultSchema).default([]),
  slots: z.array(z.object({ network: text, result: text, slot: text })).default([]),
  rules: z.array(ruleSchema).default([]),
  journeys: z.array(journeySchema).default([]),
  naming: z.array(z.intersection(namingRuleSchema, z.object({ id: text }))).default([]),
  mappings: z.array(z.object({ of: text, mapping: z.record(z.string(), z.unknown()) })).default([]),
})
export type WorkspaceFile = z.infer<typeof workspaceFileSchema>

type Lists = Omit<WorkspaceFile, 'format' | 'version' | 'name' | 'settings'>
export type FilePart = keyof Lists
/** How a part of the file is told apart, kept and taken out again. */
interface Keeping<Item> {
  list: (database: Executor, workspace: string) => Promise<Item[]>
  key: (item: Item) => string
  save: (database: Executor, workspace: string, item: Item) => Promise<unknown>
  remove: (database: Executor, workspace: string, item: Item) => Promise<unknown>
}
const setPlan = (
  database: Executor,
  workspace: string,
  plan: Lists['plans'][number],
  after: Record<string, string>,
) => applyChanges(database, workspace, [{ what: 'plan', ...plan, before: {}, after }])

const keeping: { [Part in FilePart]: Keeping<Lists[Part][number]> } = {
  networks: {
    list: listProfiles,
    key: profile => profile.id,
    save: saveProfile,
    remove: (database, workspace, { id }) => removeProfile(database, workspace, id),
  },
  plans: {
    list: listPlans,
    key: ({ network, level, scope }) => JSON.stringify([network, level, scope]),
    save: (database, workspace, plan) => setPlan(database, workspace, plan, plan.parameters),
    remove: (database, workspace, plan) => setPlan(database, workspace, plan, {}),
  },
  results: {
    list: listDefinitions,
    key: result => result.id,
    save: saveDefinition,
    remove: (database, workspace, { id }) =>
      database.delete(results).where(and(eq(results.workspace, workspace), eq(results.id, id))),
  },
  slots: {
    list: async (database, workspace) =>
      (await listSlots(database, workspace)).map(({ network, result, slot }) => ({ network, result, slot })),
    key: ({ network, result }) => JSON.stringify([network, result]),
    save: (database, workspace, { network, result, slot }) =>
      saveSlot(database, workspace, network, result, slot),
    remove: (database, workspace, { network, result }) => saveSlot(database, workspace, network, result, ''),
  },
  rules: {
    list: async (database, workspace) =>
      (await listRules(database, workspace)).map(({ workspace: _, ...rule }) => rule),
    key: rule => rule.id,
    save: saveRule,
    remove: (database, workspace, { id }) => removeRule(database, workspace, id),
  },
  journeys: {
    list: listJourneys,
    key: journey => journey.id,
    save: saveJourney,
    remove: (database, workspace, { id }) => removeJourney(database, workspace, id),
  },
  naming: {
    list: listNamingRules,
    key: rule => rule.id,
    save: (database, workspace, { id, ...rule }) => saveNamingRule(database, workspace, id, rule),
    remove: (database, workspace, { id }) => removeNamingRule(database, workspace, id),
  },
  mappings: {
    list: listMappings,
    key: ({ of }) => of,
    save: (database, workspace, { of, mapping }) => saveMapping(database, workspace, of, mapping),
    remove: (database, workspace, { of }) => removeMapping(database, workspace, of),
  },
}
export const fileParts = Object.keys(keeping) as FilePart[]

/** A workspace as a file. */
export async function writeWorkspace(
  database: Executor,
  { id, name, settings }: Workspace,
): Promise<WorkspaceFile> {
  const lists: Record<string, unknown> = {}
  for (const part of fileParts) lists[part] = await keeping[part].list(database, id)
  // How networks count stands in their data sheets.
  const { networks: _, ...own } = settings
  return {
    format: 'aequant-workspace',
    version: 1,
    name,
    settings: { ...own, networks: [] },
    ...(lists as unknown as Lists),
  }
}

/** What a file changes: of each part how many are new, changed, and as they are. */
export interface FileDifference {
  name: { before: string; after: string } | null
  /** settings that change, each with what it is and would be */
  settings: { name: string; before: unknown; after: unknown }[]
  parts: Record<FilePart, { fresh: number; changed: number; same: number; names: string[] }>
}

const canonical = (value: unknown): string =>
  JSON.stringify(value, (_, own) =>
    typeof own === 'object' && own !== null && !Array.isArray(own)
      ? Object.fromEntries(Object.entries(own).sort(([a], [b]) => (a < b ? -1 : 1)))
      : own,
  )

/** Reads a workspace's file; in words what is wrong with one that is none. */
export function readWorkspaceFile(content: string): WorkspaceFile | { problem: string } {
  let json: unknown
  try {
    json = JSON.parse(content)
  } catch {
    return { problem: 'This is no JSON. Nothing has changed.' }
  }
  const read = workspaceFileSchema.safeParse(json)
  if (!read.success) {
    const [issue] = read.error.issues
    const at = issue?.path.join('.')
    return at === 'format'
      ? { problem: 'This JSON is no workspace of Aequant: its “format” says otherwise. Nothing has changed.' }
      : { problem: `${at || 'The file'}: ${issue?.message}. Nothing has changed.` }
  }
  for (const profile of read.data.networks) {
    const [unsafe] = templateProblems(profile)
    if (unsafe)
      return { problem: `networks, ${profile.name}, ${unsafe.path}: ${unsafe.message}. Nothing has changed.` }
  }
  return read.data
}

export async function compareWorkspaceFile(
  database: Executor,
  workspace: Workspace,
  file: WorkspaceFile,
): Promise<FileDifference> {
  const held = await writeWorkspace(database, workspace)
  const parts = {} as FileDifference['parts']
  for (const part of fileParts) {
    const { key } = keeping[part] as Keeping<unknown>
    const known = new Map((held[part] as unknown[]).map(item => [key(item), canonical(item)]))
    const own = { fresh: 0, changed: 0, same: 0, names: [] as string[] }
    for (const item of file[part] as unknown[]) {
      const before = known.get(key(item))
      const is = before === undefined ? 'fresh' : before === canonical(item) ? 'same' : 'changed'
      own[is] += 1
      if (is !== 'same' && own.names.length < 20)
        own.names.push(String((item as { name?: string }).name ?? key(item)))
    }
    parts[part] = own
  }
  const names = new Set([...Object.keys(held.settings), ...Object.keys(file.settings)])
  return {
    name: held.name === file.name ? null : { before: held.name, after: file.name },
    settings: [...names].flatMap(name => {
      const [before, after] = [held.settings[name], file.settings[name]]
      return canonical(before) === canonical(after) ? [] : [{ name, before, after }]
    }),
    parts,
  }
}

/**
 * Takes a workspace's file in: all of it, or nothing.
 *
 * @param exact whether what the file does not name is taken out, as an undo does
 * @returns why it cannot be, or what it was before
 */
export async function takeWorkspaceFile(
  database: Database,
  workspace: Workspace,
  file: WorkspaceFile,
  exact: boolean,
): Promise<{ problem: string } | { before: WorkspaceFile }> {
  const { id } = workspace
  const before = await writeWorkspace(database, workspace)
  const refused = await database.transaction(async inner => {
    const { currency, ...settings } = file.settings
    if (currency !== workspace.settings.currency) {
      const problem = await changeCurrency(inner, workspace, currency)
      if (problem) return problem
    }
    for (const part of fileParts) {
      const { list, key, save, remove } = keeping[part] as Keeping<unknown>
      const named = new Set((file[part] as unknown[]).map(key))
      if (exact)
        for (const item of await list(inner, id)) if (!named.has(key(item))) await remove(inner, id, item)
      for (const item of file[part] as unknown[]) await save(inner, id, item)
    }
    await saveSettings(inner, id, { ...settings, currency })
    await renameWorkspace(inner, id, file.name)
    await raiseVersion(inner, id, 'rules')
    return null
  })
  if (refused) return { problem: refused }
  await publishRoutes(database, id)
  return { before }
}
