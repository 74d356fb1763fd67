'use client'
import {
  useCallback,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from 'react'
import { currencyExponent } from '@/core/shared/money'
import { plannedAd } from '@/core/weigh/moves'
import type { Proposal } from '@/core/weigh/propose'
import type { JudgedRow } from '@/core/weigh/rows'
import { type Planned, type PlanRules, planKey } from '@/core/weigh/whatIf'
import { useFormats } from '../../format'
import { undoable } from '../../parts/undo'
import type { PlanAnswered, PlanAsked } from './plan.worker'
import { factorAbove, planStore, withFactors } from './planStore'

type Asked = PlanAsked extends infer One ? (One extends PlanAsked ? Omit<One, 'id'> : never) : never

/** A thread that plans, begun when the first plan is looked at. */
function usePlanThread() {
  const thread = useRef<Worker | null>(null)
  const waiting = useRef(new Map<number, (answer: PlanAnswered) => void>())
  const last = useRef(0)
  useEffect(
    () => () => {
      thread.current?.terminate()
      thread.current = null
    },
    [],
  )
  return useCallback((asked: Asked): Promise<PlanAnswered> => {
    if (!thread.current) {
      thread.current = new Worker(new URL('./plan.worker.ts', import.meta.url), { type: 'module' })
      thread.current.onmessage = ({ data }: MessageEvent<PlanAnswered>) => {
        waiting.current.get(data.id)?.(data)
        waiting.current.delete(data.id)
      }
    }
    const id = ++last.current
    thread.current.postMessage({ ...asked, id })
    return new Promise(done => waiting.current.set(id, done))
  }, [])
}

/**
 * The plan that is being made, with what the account would come to.
 *
 * @param ads judged rows of single ads; undefined until they are there
 */
export function usePlan(totals: JudgedRow, ads: readonly JudgedRow[] | undefined) {
  const kept = useSyncExternalStore(planStore.subscribe, planStore.now, planStore.none)
  // Ten thousand rows follow a press after it is shown.
  const draft = useDeferredValue(kept)
  const { currency } = useFormats()
  const [asked, setOpen] = useState(false)
  const [planned, setPlanned] = useState<Planned | null>(null)
  const [proposal, setProposal] = useState<{ of: 'break_even' | 'most_worth'; said: Proposal } | null>(null)
  const ask = usePlanThread()
  const open = useDeferredValue(asked || kept.factors.length > 0)
  const known = useMemo(
    () =>
      ads && {
        ads: ads.map(plannedAd),
        today: {
          spend: totals.sums.spend,
          tenths: totals.sums.estimatedTenths,
          value: totals.sums.estimatedValue,
          leaves: Math.round(totals.leaves),
          low: totals.low,
          high: totals.high,
        },
      },
    [ads, totals],
  )
  useEffect(() => {
    if (open && known) void ask({ do: 'know', ...known })
  }, [open, known, ask])
  useEffect(() => {
    if (!open || !known) return
    let current = true
    void ask({ do: 'plan', factors: draft.factors, rules: draft.rules }).then(
      answer => current && setPlanned(answer.planned ?? null),
    )
    return () => {
      current = false
    }
  }, [open, known, draft, ask])
  return useMemo(() => {
    const factors = new Map(draft.factors)
    const set = (next: typeof draft, done: string) => {
      const before = planStore.now()
      planStore.set(next)
      undoable(done, () => planStore.set(before))
    }
    return {
      open,
      setOpen,
      draft,
      planned: open ? planned : null,
      proposal,
      today: known?.today ?? null,
      ads: known?.ads ?? null,
      /** the judged row of an ad */
      rowOf: (path: readonly string[]) => ads?.find(row => planKey(row.path) === planKey(path)) ?? null,
      minorUnits: 10 ** (currencyExponent(currency) ?? 2),
      factorOf: (path: readonly string[]) => factors.get(planKey(path)) ?? factorAbove(factors, path),
      isOwn: (path: readonly string[]) => factors.has(planKey(path)),
      /** whether something below a row has another budget than the row */
      isMixed: (path: readonly string[]) => {
        const begin = `${planKey(path).slice(0, -1)},`
        return draft.factors.some(([key]) => key.startsWith(begin))
      },
      change: (changed: readonly { path: readonly string[]; factor: number }[]) => {
        setOpen(true)
        set(
          withFactors(planStore.now(), changed),
          changed.length === 1 ? 'One budget is planned.' : `${changed.length} budgets are planned.`,
        )
      },
      setRules: (rules: Partial<PlanRules & { most: number }>) => {
        const { most, ...own } = rules
        const now = planStore.now()
        planStore.set({ ...now, rules: { ...now.rules, ...own }, most: most ?? now.most })
      },
      clear: () => {
        set({ ...planStore.now(), factors: [] }, 'The plan is empty again.')
        setProposal(null)
      },
      propose: async (of: 'break_even' | 'most_worth', budget: number) => {
        const { elasticity } = draft.rules
        const answer = await ask(
          of === 'break_even' ? { do: of, elasticity } : { do: of, elasticity, budget, most: draft.most },
        )
        if (!answer.proposal) return
        setProposal({ of, said: answer.proposal })
        if (answer.proposal.kind !== 'already')
          set(
            withFactors({ ...draft, factors: [] }, answer.proposal.changes),
            answer.proposal.changes.length === 1
              ? 'One budget is planned as proposed.'
              : `${answer.proposal.changes.length} budgets are planned as proposed.`,
          )
      },
    }
  }, [open, draft, planned, proposal, known, ads, currency, ask])
}
export type Plan = ReturnType<typeof usePlan>
