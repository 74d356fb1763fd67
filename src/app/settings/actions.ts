'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import type { Removal } from '@/core/intake/removal'
import type { NetworkStart } from '@/core/links/networkTemplates'
import { sharedDatabase } from '@/data/connect'
import { giveRates, type MissingRates, missingRates } from '@/server/missingRates'
import { dropNetwork, startNetwork } from '@/server/networks'
import { previewRemoval, remove, undoRemoval } from '@/server/removal'
import { siteKeyOf } from '@/server/routes'
import { checkTracking, type TrackingStep } from '@/server/trackingCheck'
import { workspaceHere } from '../frame'

/** Begins a network's data sheet. Gives its ID, or what is wrong. */
export async function beginNetwork(
  start: NetworkStart,
  described?: string,
): Promise<{ id: string } | { problem: string }> {
  const answer = await startNetwork(sharedDatabase(), await workspaceHere(), start, described)
  if ('id' in answer) refresh()
  return answer
}

/** Takes a network's data sheet out. Gives why it stays, or null when it is gone. */
export async function takeNetworkOut(id: string): Promise<string | null> {
  const problem = await dropNetwork(sharedDatabase(), await workspaceHere(), z.string().parse(id))
  if (problem === null) refresh()
  return problem
}

/** Asks the tracking domain as shoppers and the site would. */
export async function checkTrackingHere(): Promise<TrackingStep[]> {
  return checkTracking(await siteKeyOf(sharedDatabase(), (await workspaceHere()).id))
}

/** How many records a removal would take out, by kind. */
export async function previewRemovalHere(removal: Removal) {
  return previewRemoval(sharedDatabase(), await workspaceHere(), removal)
}

/** Removes what was taken in. Gives by what it can be brought back. */
export async function removeHere(removal: Removal): Promise<string> {
  const removed = await remove(sharedDatabase(), await workspaceHere(), removal, Date.now())
  refresh()
  return removed
}

/** Brings back what was removed. */
export async function undoRemovalHere(removed: string): Promise<void> {
  await undoRemoval(sharedDatabase(), await workspaceHere(), z.string().max(100).parse(removed))
  refresh()
}

/** Keeps exchange rates that were missing. Gives what is wrong, or null. */
export async function giveRatesHere(
  rates: { base: string; quote: string; day: string; rate: string }[],
): Promise<string | null> {
  const problem = await giveRates(sharedDatabase(), await workspaceHere(), rates)
  if (problem === null) refresh()
  return problem
}

/** The rates that are missing to count everything in a currency. */
export async function missingRatesHere(code: string): Promise<MissingRates[]> {
  return missingRates(sharedDatabase(), await workspaceHere(), z.string().max(10).parse(code))
}
