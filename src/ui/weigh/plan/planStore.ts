import { type Factors, type PlanRules, planKey, USUAL_ELASTICITY } from '@/core/weigh/whatIf'

/** A plan that is being made: nothing of it has happened. Kept in this browser, so that it outlives the screen. */
export interface PlanDraft {
  factors: [key: string, factor: number][]
  rules: PlanRules
  /** no budget becomes more than so many times what it is, where one is proposed */
  most: number
}
const KEY = 'plan of weigh'
const EMPTY: PlanDraft = { factors: [], rules: { elasticity: USUAL_ELASTICITY, cut: 'saved' }, most: 2 }

const changes = new EventTarget()
let now: PlanDraft | null = null

function read(): PlanDraft {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null')
    return Array.isArray(kept?.factors) ? { ...EMPTY, ...kept } : EMPTY
  } catch {
    return EMPTY
  }
}
export const planStore = {
  now: (): PlanDraft => (now ??= read()),
  /** what a server shows: it knows no plan */
  none: (): PlanDraft => EMPTY,
  subscribe: (tell: () => void) => {
    changes.addEventListener('change', tell)
    return () => changes.removeEventListener('change', tell)
  },
  set: (next: PlanDraft) => {
    now = next
    try {
      localStorage.setItem(KEY, JSON.stringify(next))
    } catch {
      // A browser that keeps nothing forgets the plan with the page.
    }
    changes.dispatchEvent(new Event('change'))
  },
}

/** The draft with some rows' budgets as they are to be; what stands below such a row goes by it again. */
export function withFactors(
  draft: PlanDraft,
  changed: readonly { path: readonly string[]; factor: number }[],
): PlanDraft {
  const factors = new Map(draft.factors)
  for (const { path, factor } of changed) {
    const begin = planKey(path).slice(0, -1)
    for (const key of factors.keys()) if (key.startsWith(`${begin},`)) factors.delete(key)
    const above = factorAbove(factors, path)
    if (factor === above) factors.delete(planKey(path))
    else factors.set(planKey(path), factor)
  }
  return { ...draft, factors: [...factors] }
}

/** The factor that a row has by those above it; 1 where there is none. */
export function factorAbove(factors: Factors, path: readonly string[]): number {
  for (let depth = path.length - 1; depth > 0; depth--) {
    const factor = factors.get(planKey(path.slice(0, depth)))
    if (factor !== undefined) return factor
  }
  return 1
}
