import { JUDGED_RESULT, type NetworkRules, type Settings, settingsFor } from '@/core/intake/settings'
import type { Executor } from '@/data/connect'
import { listDefinitions } from '@/data/signals'
import { listProfiles, raiseVersion, saveProfile, saveSettings, type Workspace } from '@/data/workspace'

/** The settings by which the judged result is counted: its own rules, and the workspace's beside them. */
export async function judgedSettings(database: Executor, { id, settings }: Workspace): Promise<Settings> {
  const definitions = await listDefinitions(database, id)
  return settingsFor(
    settings,
    definitions.find(d => d.id === JUDGED_RESULT),
  )
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
    await raiseVersion(database, id)
  } else {
    const others = settings.networks.filter(n => n.id !== rules.id)
    await saveSettings(database, id, { ...settings, networks: [...others, rules] })
  }
}

/** Takes the settings of a folder over, and what they say of networks into those networks' profiles. */
export async function adoptSettings(database: Executor, workspace: Workspace, settings: Settings) {
  for (const rules of settings.networks) await keepNetworkRules(database, workspace, rules)
  await saveSettings(database, workspace.id, settings)
}
