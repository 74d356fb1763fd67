'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import { type SettingsChange, settingsSchema } from '@/core/intake/settings'
import { sharedDatabase } from '@/data/connect'
import { saveSettings } from '@/data/workspace'
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
