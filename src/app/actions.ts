'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import { settingsSchema } from '@/core/intake/settings'
import { sharedDatabase } from '@/data/connect'
import { ask } from '@/server/compute/ask'
import type { Settled } from '@/server/compute/views/settled'
import { changeCurrency } from '@/server/currency'
import { settleWorkspace, type WorkspaceChange } from '@/server/workspace'
import { readAddress, workspaceHere } from './frame'

/** Changes some settings, or the workspace's name. Gives what is wrong, or null when it is done. */
export async function keepSettings(change: WorkspaceChange): Promise<string | null> {
  const problem = await settleWorkspace(sharedDatabase(), await workspaceHere(), change)
  if (problem === null) refresh()
  return problem
}

/** What the usual period comes to as things stand, and with some settings changed; null where nothing is held. */
export async function previewSettings(
  change: WorkspaceChange,
): Promise<{ now: Settled; changed: Settled } | null> {
  const { id, settings } = await workspaceHere()
  const { span, period } = await readAddress({})
  const changed = Object.entries({ ...settings, ...change }).filter(([, value]) => value !== null)
  const read = settingsSchema.safeParse(Object.fromEntries(changed))
  if (!span || !read.success) return null
  return ask(id, 'settled', { period, settings: read.data })
}

/** Counts everything in another currency. Gives why it cannot be, or null when it is done. */
export async function keepCurrency(code: string): Promise<string | null> {
  const problem = await changeCurrency(sharedDatabase(), await workspaceHere(), z.string().parse(code))
  if (problem === null) refresh()
  return problem
}
