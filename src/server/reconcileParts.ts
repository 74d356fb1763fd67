import type { Period } from '@/core/shared/days'
import type { Scope } from '@/core/weigh/scope'
import type { ViewName, Views } from './compute/namesOfViews'
import type { Section } from './compute/views/reconcile'

/** What is asked about, and how. */
export interface Asked {
  period: Period
  /** the period that it is compared with, where anything is */
  first: Period
  scope: Scope
  ask: <Name extends ViewName>(
    view: Name,
    question: Parameters<Views[Name]>[1],
  ) => Promise<Awaited<ReturnType<Views[Name]>>>
}

/** What each part of Reconcile shows, as it goes out. */
export const reconcileParts = {
  balance: async ({ period, scope, ask }: Asked) => {
    const [{ sections, ...view }, below] = await Promise.all([
      ask('reconcile', { period, scope }),
      ask('reconcileBelow', { period, scope }),
    ])
    return { ...view, parts: [...sections, ...(JSON.parse(below) as Section[])] }
  },
  changed: ({ period, first, scope, ask }: Asked) => ask('changed', { period, first, scope }),
  bench: ({ period, scope, ask }: Asked) => ask('bench', { period, scope }),
  rules: ({ period, scope, ask }: Asked) => ask('ownRules', { period, scope }),
} satisfies Record<string, (asked: Asked) => Promise<unknown>>
