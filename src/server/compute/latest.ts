import { ask } from './ask'
import type { ViewName, Views } from './views'

type Answer<Name extends ViewName> = Awaited<ReturnType<Views[Name]>>
interface Held {
  at: number
  answer: unknown
  asked: Promise<unknown> | null
}
/** The latest answer to each question: kept on `globalThis` so that a reloaded module finds it. */
const held = globalThis as { aequantLatest?: Map<string, Held> }

function heldAnswer(workspace: string, view: ViewName): Held {
  held.aequantLatest ??= new Map()
  const key = `${workspace} ${view}`
  const known = held.aequantLatest.get(key) ?? { at: 0, answer: undefined, asked: null }
  held.aequantLatest.set(key, known)
  return known
}

/** A view's answer that is not older than `freshMs`; several who ask at once wait for the same one. */
export async function fresh<Name extends ViewName>(
  workspace: string,
  view: Name,
  question: Parameters<Views[Name]>[1],
  freshMs: number,
): Promise<Answer<Name>> {
  const known = heldAnswer(workspace, view)
  if (known.answer !== undefined && Date.now() - known.at < freshMs) return known.answer as Answer<Name>
  known.asked ??= ask(workspace, view, question)
    .then(answer => {
      known.at = Date.now()
      known.answer = answer
      return answer
    })
    .finally(() => {
      known.asked = null
    })
  return (await known.asked) as Answer<Name>
}

/** A view's answer as it was last worked out, if ever; it is worked out again beside it when it is old. */
export function latest<Name extends ViewName>(
  workspace: string,
  view: Name,
  question: Parameters<Views[Name]>[1],
  freshMs: number,
): Answer<Name> | undefined {
  void fresh(workspace, view, question, freshMs).catch(() => {})
  return heldAnswer(workspace, view).answer as Answer<Name> | undefined
}
