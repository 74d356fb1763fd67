'use server'
import { refresh } from 'next/cache'
import * as z from 'zod'
import type { Saved } from '@/core/shared/mergeEdit'
import { type Journey, journeySchema } from '@/core/signals/journey'
import { type ResultDefinition, resultSchema } from '@/core/signals/result'
import { sharedDatabase } from '@/data/connect'
import { removeJourney, saveJourney } from '@/data/journeys'
import { keepDefinition, keepSlot } from '@/server/signals/definitions'
import { type Counted, previewResult } from '@/server/signals/results'
import { workspaceHere } from '../frame'

/**
 * Keeps a result's definition. Gives what is wrong, or null when it is done.
 *
 * @param isNew whether a result of that ID must not be there yet
 */
export async function saveResult(
  definition: ResultDefinition,
  isNew: boolean,
  before?: ResultDefinition,
  over?: boolean,
): Promise<Saved> {
  const read = resultSchema.safeParse(definition)
  if (!read.success) return z.prettifyError(read.error)
  const { id } = await workspaceHere()
  const problem = await keepDefinition(sharedDatabase(), id, read.data, { isNew, before, over })
  if (problem === null) refresh()
  return problem
}

/** What a definition would have counted in the last week; null for one that is none. */
export async function previewDefinition(definition: ResultDefinition): Promise<Counted | null> {
  const read = resultSchema.safeParse(definition)
  return read.success ? previewResult(sharedDatabase(), await workspaceHere(), read.data, Date.now()) : null
}

/** Maps a result onto a network's slot; an empty one takes the mapping back. */
export async function mapResult(network: string, result: string, slot: string): Promise<void> {
  const { id } = await workspaceHere()
  await keepSlot(sharedDatabase(), id, network, result, slot.slice(0, 100))
  refresh()
}

/** Keeps a journey. Gives what is wrong, or null when it is done. */
export async function keepJourney(journey: Journey): Promise<string | null> {
  const read = journeySchema.safeParse(journey)
  if (!read.success) return z.prettifyError(read.error)
  const { id } = await workspaceHere()
  await saveJourney(sharedDatabase(), id, read.data)
  refresh()
  return null
}

/** Takes a journey away. It holds no figures of its own. */
export async function dropJourney(journey: string): Promise<void> {
  const { id } = await workspaceHere()
  await removeJourney(sharedDatabase(), id, journey)
  refresh()
}
