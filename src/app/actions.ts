'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import { type SettingsChange, settingsSchema } from '@/core/intake/settings'
import { sharedDatabase } from '@/data/connect'
import { saveSettings } from '@/data/workspace'
import { changeCurrency } from '@/server/currency'
import { settleWorkspace, type WorkspaceChange } from '@/server/workspace'
import { workspaceHere } from './frame'

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
export async function keepWorkspace(change: WorkspaceChange): Promise<string | null> {
  const problem = await settleWorkspace(sharedDatabase(), await workspaceHere(), change)
  if (problem === null) refresh()
  return problem
}
