import { ALL_RESULTS, JUDGED_RESULT } from '@/core/intake/judgedResult'
import type { NetworkRules } from '@/core/intake/settings'
import type { FolderSettings } from '@/core/signals/result'
import type { Executor } from '@/data/connect'
import { listDecisions, saveDecision } from '@/data/decisions'
import { bookedResults, listDefinitions, listSlots, saveDefinition, saveSlot } from '@/data/signals'
import { listProfiles, raiseVersion, saveProfile, saveSettings, type Workspace } from '@/data/workspace'

/** Those that can be judged: what is defined, and where the ID asked for is none of these, what orders were booked as. */
export async function judgeableResults(
  database: Executor,
  workspace: string,
  asked: string,
): Promise<{ id: string; name: string }[]> {
  const defined = (await listDefinitions(database, workspace)).filter(d => !d.archived || d.id === asked)
  const order = { id: JUDGED_RESULT, name: 'Order' }
  const known = defined.some(d => d.id === JUDGED_RESULT) ? defined : [order, ...defined]
  const booked =
    asked === ALL_RESULTS || known.some(r => r.id === asked) ? [] : await bookedResults(database, workspace)
  const each = [...known, ...booked.filter(id => !known.some(r => r.id === id)).map(id => ({ id, name: id }))]
  const several = each.length > 1 || asked === ALL_RESULTS
  return [
    ...each.map(({ id, name }) => ({ id, name })),
    ...(several ? [{ id: ALL_RESULTS, name: 'All results by value' }] : []),
  ]
}

/** Keeps how a network counts: in its profile, or in the settings while it has none. */
export async function keepNetworkRules(
  database: Executor,
  { id, settings }: Workspace,
  rules: NetworkRules,
): Promise<void> {
  const profile = (await listProfiles(database, id)).find(p => p.id === rules.id)
  if (profile) {
    const { click_window_days, view_window_days, dated_by, time_zone = profile.time_zone } = rules
    await saveProfile(database, id, {
      ...profile,
      click_window_days,
      view_window_days,
      dated_by,
      ...(time_zone && { time_zone }),
    })
    await raiseVersion(database, id, 'rules')
  } else {
    const others = settings.networks.filter(n => n.id !== rules.id)
    await saveSettings(database, id, { ...settings, networks: [...others, rules] })
  }
}

/** Takes the settings of a folder over, what they say of networks into those networks' profiles, its results and decisions. */
export async function adoptSettings(
  database: Executor,
  workspace: Workspace,
  { results = [], decisions = [], ...settings }: FolderSettings,
) {
  for (const rules of settings.networks) await keepNetworkRules(database, workspace, rules)
  await saveSettings(database, workspace.id, settings)
  for (const decision of decisions) await saveDecision(database, workspace.id, decision)
  for (const { slots, ...definition } of results) {
    await saveDefinition(database, workspace.id, definition)
    for (const [network, slot] of Object.entries(slots))
      await saveSlot(database, workspace.id, network, definition.id, slot)
  }
  await raiseVersion(database, workspace.id, 'rules')
}

/** The settings of a workspace as a folder has them, with its results and decisions beside. */
export async function folderSettings(
  database: Executor,
  { id, settings }: Workspace,
): Promise<FolderSettings> {
  const slots = await listSlots(database, id)
  const results = (await listDefinitions(database, id)).map(definition => ({
    ...definition,
    slots: Object.fromEntries(
      slots.filter(slot => slot.result === definition.id).map(({ network, slot }) => [network, slot]),
    ),
  }))
  const decisions = await listDecisions(database, id)
  return {
    ...settings,
    ...(results.length > 0 && { results }),
    ...(decisions.length > 0 && { decisions }),
  }
}
