import type { Stage, WorkerOf } from './worker'

/**
 * How far the evidence of results has come with each worker of this process; kept on `globalThis` over a
 * reload of modules.
 */
const held = globalThis as { aequantOpening?: Map<string, Stage | 'open'> }
held.aequantOpening ??= new Map()
const stages = held.aequantOpening

/** Whose evidence, with which worker, of which result. */
export type Whose = readonly [worker: WorkerOf, workspace: string, result: string]
const keyOf = (whose: Whose) => JSON.stringify(whose)

export const isOpen = (whose: Whose): boolean => stages.get(keyOf(whose)) === 'open'

/** It is being gathered, and has come as far as this. */
export function isOpening(whose: Whose, stage: Stage): void {
  if (!isOpen(whose)) stages.set(keyOf(whose), stage)
}

/** A view was answered: from now on views are quick. */
export const isOpened = (whose: Whose): void => void stages.set(keyOf(whose), 'open')

/** It did not come to an answer: whoever asks next begins anew. */
export function isGivenUp(whose: Whose): void {
  if (!isOpen(whose)) stages.delete(keyOf(whose))
}

/** How far it has come; null where nobody waits for it. */
export const stageOf = (whose: Whose): Stage | 'open' | null => stages.get(keyOf(whose)) ?? null
