'use server'
import { refresh } from 'next/cache'
import { v7 } from 'uuid'
import * as z from 'zod'
import { type Rule, ruleSchema } from '@/core/signals/rule'
import { type TagCode, tagCodeSchema } from '@/core/signals/tagCode'
import { sharedDatabase } from '@/data/connect'
import { listProfiles, saveProfile } from '@/data/workspace'
import { dropRule, keepRule, type RuleTry, siteHome, tryRule } from '@/server/signals/rules'
import { workspaceHere } from '../frame'

/** Keeps a rule, under a new ID where it has none. Gives what is wrong, or null when it is done. */
export async function saveRule(rule: Rule): Promise<string | null> {
  const read = ruleSchema.safeParse({ ...rule, id: rule.id || v7() })
  if (!read.success) return z.prettifyError(read.error)
  const { id } = await workspaceHere()
  await keepRule(sharedDatabase(), id, read.data)
  refresh()
  return null
}

export async function removeRule(rule: string): Promise<void> {
  const { id } = await workspaceHere()
  await dropRule(sharedDatabase(), id, rule)
  refresh()
}

/** What a rule would have meant of last week's pages and of addresses typed in; null for one that is none. */
export async function attemptRule(rule: Rule, typed: string[]): Promise<RuleTry | null> {
  const read = ruleSchema.safeParse(rule)
  if (!read.success) return null
  const { id } = await workspaceHere()
  const site = await siteHome(sharedDatabase(), id)
  return tryRule(sharedDatabase(), id, read.data, site, typed.slice(0, 200), Date.now())
}

/** Keeps a network's own code and our account there. Gives what is wrong, or null when it is done. */
export async function saveNetworkCode(
  network: string,
  account: string,
  code: TagCode,
): Promise<string | null> {
  const read = tagCodeSchema.safeParse(code)
  if (!read.success) return z.prettifyError(read.error)
  const { id } = await workspaceHere()
  const profile = (await listProfiles(sharedDatabase(), id)).find(p => p.id === network)
  if (!profile) return `There is no network ${network}.`
  await saveProfile(sharedDatabase(), id, {
    ...profile,
    account: account.trim() || undefined,
    tag: read.data,
  })
  refresh()
  return null
}
