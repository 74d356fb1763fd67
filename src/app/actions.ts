'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import type { Saved } from '@/core/shared/mergeEdit'
import { sharedDatabase } from '@/data/connect'
import { ask } from '@/server/compute/ask'
import type { Settled } from '@/server/compute/views/settled'
import { changeCurrency, settingsWith } from '@/server/currency'
import { settleWorkspace, type WorkspaceChange } from '@/server/workspace'
import { readAddress, workspaceHere } from './frame'

/** Changes some settings, or the workspace's name. Gives what is wrong, or null when it is done. */
export async function keepSettings(
  change: WorkspaceChange,
  before?: WorkspaceChange,
  over?: boolean,
): Promise<Saved> {
  const problem = await settleWorkspace(sharedDatabase(), await workspaceHere(), change, { before, over })
  if (problem === null) refresh()
  return problem
}

/** What the usual period comes to as things stand, and with some settings changed; null where nothing is held. */
export async function previewSettings(
  change: WorkspaceChange,
): Promise<{ now: Settled; changed: Settled } | null> {
  const workspace = await workspaceHere()
  const { span, period } = await readAddress({})
  const { name: _, ...settings } = change
  const changed = span && (await settingsWith(sharedDatabase(), workspace, settings))
  return changed && ask(workspace.id, 'settled', { period, settings: changed })
}

/** Counts everything in another currency. Gives why it cannot be, or null when it is done. */
export async function keepCurrency(code: string): Promise<string | null> {
  const workspace = await workspaceHere()
  const to = z.string().parse(code)
  const problem = await sharedDatabase().transaction(inner => changeCurrency(inner, workspace, to))
  if (problem === null) refresh()
  return problem
}
