'use server'
import { refresh } from 'next/cache'
import { v7 } from 'uuid'
import * as z from 'zod'
import type { Saved } from '@/core/shared/mergeEdit'
import { type Rule, ruleSchema } from '@/core/signals/rule'
import { sharedDatabase } from '@/data/connect'
import { retryRelays } from '@/data/relays'
import { hasPractice } from '@/server/practice'
import { installOnPractice } from '@/server/signals/handOff'
import { beginTest, stopTest } from '@/server/signals/liveTest'
import { keepNetwork, type NetworkSetup } from '@/server/signals/networks'
import { dropRule, keepRule, type RuleTry, siteHome, tryRule } from '@/server/signals/rules'
import { ruleFindingWords } from '@/ui/signals/ruleWords'
import { workspaceHere } from '../frame'

/** Keeps a rule, under a new ID where it has none. Gives what is wrong, or null when it is done. */
export async function saveRule(rule: Rule, before?: Rule, over?: boolean): Promise<Saved> {
  const read = ruleSchema.safeParse({ ...rule, id: rule.id || v7() })
  if (!read.success) return z.prettifyError(read.error)
  const { id } = await workspaceHere()
  const wrong = await keepRule(sharedDatabase(), id, read.data, { before, over })
  if (wrong) return 'clashes' in wrong ? wrong : ruleFindingWords(wrong)
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

/** Keeps how a network is told. Gives what is wrong, or null when it is done. */
export async function saveNetwork(
  setup: Omit<NetworkSetup, 'name'>,
  secret: string | null,
  before?: Omit<NetworkSetup, 'name'>,
  over?: boolean,
): Promise<Saved> {
  const { id } = await workspaceHere()
  const wrong = await keepNetwork(sharedDatabase(), id, setup, secret, { before, over })
  if (!wrong) refresh()
  return wrong
}

/** Sends again what a network refused. */
export async function sendAgain(network: string): Promise<void> {
  const { id } = await workspaceHere()
  await retryRelays(sharedDatabase(), id, network)
  refresh()
}

/** Has the practice shop place what the hand-off says. Says whether it did. */
export async function installPractice(): Promise<boolean> {
  const { id } = await workspaceHere()
  return hasPractice() && installOnPractice(sharedDatabase(), id)
}

/** Begins a live test on a page. Gives what is wrong, or null when it has begun. */
export async function startLiveTest(address: string): Promise<string | null> {
  const { id } = await workspaceHere()
  return beginTest(sharedDatabase(), id, address.trim(), Date.now())
}

export async function stopLiveTest(): Promise<void> {
  const { id } = await workspaceHere()
  await stopTest(sharedDatabase(), id, Date.now())
}
