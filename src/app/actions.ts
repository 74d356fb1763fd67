'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import { settingsSchema } from '@/core/intake/settings'
import { planLevels } from '@/core/links/profile'
import { sharedDatabase } from '@/data/connect'
import { savePlan, saveSettings } from '@/data/workspace'
import { putOnPractice } from '@/server/links'
import { isPractised } from '@/server/practice'
import { workspaceHere } from './frame'

/** Changes how results are counted. Gives what is wrong, or null when it is done. */
export async function saveRules(form: FormData): Promise<string | null> {
  const { id, settings } = await workspaceHere()
  const target = String(form.get('target_cost') ?? '')
  const read = settingsSchema.safeParse({
    ...settings,
    credit: form.get('credit'),
    click_window_days: Number(form.get('click_window_days')),
    margin: Number(form.get('margin')) / 100,
    target_cost: target === '' ? undefined : Number(target),
  })
  if (!read.success) return z.prettifyError(read.error)
  await saveSettings(sharedDatabase(), id, read.data)
  refresh()
  return null
}

const planChange = z.object({
  network: z.string().min(1),
  level: z.enum(planLevels),
  scope: z.string(),
  parameters: z.record(z.string().min(1).max(200), z.string().max(2000)),
})

/** Stores the parameters of one level of a tag plan. */
export async function changePlan(change: z.infer<typeof planChange>): Promise<void> {
  const { parameters, ...scope } = planChange.parse(change)
  const { id } = await workspaceHere()
  await savePlan(sharedDatabase(), id, scope, parameters)
  refresh()
}

/** Puts an ad's present address into the practice network. Says whether it took it. */
export async function putAdOnPractice(network: string, adId: string): Promise<boolean> {
  const { id } = await workspaceHere()
  return isPractised(network) && putOnPractice(sharedDatabase(), id, network, [adId])
}
