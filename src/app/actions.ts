'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import { type Settings, type SettingsChange, settingsSchema } from '@/core/intake/settings'
import { sharedDatabase } from '@/data/connect'
import { renameWorkspace, saveSettings } from '@/data/workspace'
import { changeCurrency } from '@/server/currency'
import { workspaceHere } from './frame'

type WorkspaceChange = { name: string } & Pick<Settings, 'currency' | 'time_zone' | 'margin'>

/** Changes some settings. Gives what is wrong, or null when it is done. */
export async function keepSettings(change: SettingsChange): Promise<string | null> {
  const { id, settings } = await workspaceHere()
  const changed = Object.entries({ ...settings, ...change }).filter(([, value]) => value !== null)
  const read = settingsSchema.safeParse(Object.fromEntries(changed))
  if (!read.success) return z.prettifyError(read.error)
  await saveSettings(sharedDatabase(), id, read.data)
  refresh()
  return null
}

/** Counts everything in another currency. Gives why it cannot be, or null when it is done. */
export async function keepCurrency(code: string): Promise<string | null> {
  const problem = await changeCurrency(sharedDatabase(), await workspaceHere(), z.string().parse(code))
  if (problem === null) refresh()
  return problem
}

/** Names the workspace and says how its business counts. Gives what is wrong, or null when it is done. */
export async function keepWorkspace({ name, currency, ...change }: WorkspaceChange): Promise<string | null> {
  const { id, settings } = await workspaceHere()
  const named = z.string().trim().min(1).max(100).safeParse(name)
  if (!named.success) return 'Give the workspace a name, of at most 100 letters.'
  if (currency !== settings.currency) {
    const problem = await changeCurrency(sharedDatabase(), await workspaceHere(), currency)
    if (problem) return problem
  }
  await renameWorkspace(sharedDatabase(), id, named.data)
  const read = settingsSchema.safeParse({ ...settings, ...change, currency })
  if (!read.success) return z.prettifyError(read.error)
  await saveSettings(sharedDatabase(), id, read.data)
  refresh()
  return null
}
