'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import { settingsSchema } from '@/core/intake/settings'
import { sharedDatabase } from '@/data/connect'
import { saveSettings } from '@/data/workspace'
import { workspaceHere } from './frame'

/** Changes how results are counted. Gives what is wrong, or null when it is done. */
export async function saveRules(form: FormData): Promise<string | null> {
  const { id, settings } = await workspaceHere()
  const target = String(form.get('target_cost') ?? '')
  const read = settingsSchema.safeParse({
    ...settings,
    credit: form.get('credit'),
    click_window_days: Number(form.get('click_window_days')),
    view_window_days: Number(form.get('view_window_days')),
    margin: Number(form.get('margin')) / 100,
    target_cost: target === '' ? undefined : Number(target),
  })
  if (!read.success) return z.prettifyError(read.error)
  await saveSettings(sharedDatabase(), id, read.data)
  refresh()
  return null
}
