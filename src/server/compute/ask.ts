import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { inThread } from '../threads'
import { type ViewName, type ViewOfPage, type Views, withoutEstimate, withoutEvidence } from './namesOfViews'
import { isGivenUp, isOpen, isOpened, isOpening } from './opening'
import type { Asked, Stage, WorkerOf } from './worker'

/** Which worker a view is asked of. */
export const workerOf = (view: ViewName): WorkerOf =>
  withoutEvidence.includes(view) ? 'records' : withoutEstimate.includes(view) ? 'evidence' : 'estimates'

/**
 * Computes a view of a workspace in a thread of its own; the caller's stays free.
 *
 * @param signal says that nobody waits for it any longer
 * @throws Cancelled, DatabaseAway
 */
export async function ask<Name extends ViewName>(
  workspace: string,
  view: Name,
  question: Parameters<Views[Name]>[1],
  result: string = JUDGED_RESULT,
  signal?: AbortSignal,
): Promise<Awaited<ReturnType<Views[Name]>>> {
  const of = workerOf(view)
  const whose = [of, workspace, result] as const
  const asked: Asked = { workspace, result, view, question }
  const on = (stage: unknown) => isOpening(whose, stage as Stage)
  on('reading' satisfies Stage)
  try {
    const task = { method: 'compute', given: [asked], signal, on }
    const answer = await inThread(of, { bundle: 'worker', most: 1, data: of }, task)
    isOpened(whose)
    return answer as Awaited<ReturnType<Views[Name]>>
  } catch (error) {
    isGivenUp(whose)
    throw error
  }
}

/** How long somebody looks at the page before without being told what is under way. */
const PATIENCE_MS = 600

/**
 * The view that a page shows; null where its evidence is still being gathered for the first time, which goes
 * on meanwhile (`stageOf`).
 */
export async function askForPage<Name extends ViewOfPage>(
  workspace: string,
  view: Name,
  question: Parameters<Views[Name]>[1],
  result: string = JUDGED_RESULT,
): Promise<Awaited<ReturnType<Views[Name]>> | null> {
  const answer = ask(workspace, view, question, result)
  if (isOpen([workerOf(view), workspace, result])) return answer
  let patience: NodeJS.Timeout | undefined
  const over = new Promise<null>(resolve => {
    patience = setTimeout(resolve, PATIENCE_MS, null)
  })
  try {
    return await Promise.race([answer, over])
  } finally {
    clearTimeout(patience)
    // Whoever comes back asks again, and is told then what went wrong.
    answer.catch(() => {})
  }
}
