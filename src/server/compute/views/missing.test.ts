import { describe, expect, it } from 'vitest'
import { parseDay } from '@/core/shared/days'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { changedView } from './changed'
import { reconcileView } from './reconcile'
import { trendView } from './trend'
import { weighView } from './weigh'

const END = parseDay('2026-11-18')!
const whole = simulateMarket({ seed: 21, days: 40, scale: 0.4, end: END })
const period = { from: END - 27, to: END }

/** Every number of an answer, by where it stands. */
function numbersIn(value: unknown, at = ''): [at: string, number][] {
  if (typeof value === 'number') return [[at, value]]
  if (typeof value !== 'object' || value === null) return []
  return Object.entries(value).flatMap(([key, own]) => numbersIn(own, `${at}.${key}`))
}

describe('what is asked while something is missing', () => {
  const files = ['delivery', 'clicks', 'orders', 'claims', 'claimRows', 'rates'] as const
  const cases = [
    [],
    ...files.map(file => [file]),
    ['claims', 'claimRows'],
    ['clicks', 'claims', 'claimRows'],
  ] as const
  it.each(
    cases.map(missing => ({ missing: missing as readonly string[], of: missing.join(' and ') || 'nothing' })),
  )('is answered, with no number that is none: $of', ({ missing }) => {
    const evidence = evidenceOfMarket({
      ...whole,
      ...Object.fromEntries(missing.map(file => [file, []])),
    } as typeof whole)
    for (const network of ['', 'norrfeed']) {
      const scope = network ? { network } : {}
      const answers = {
        weigh: weighView(evidence, { period, scope }),
        reconcile: reconcileView(evidence, { period, scope }),
        changed: changedView(evidence, { period, first: { from: END - 39, to: END - 28 }, scope }),
        trend: trendView(evidence, { period, path: network ? [network] : [], length: 7 }),
      }
      expect(numbersIn(answers).filter(([, number]) => !Number.isFinite(number))).toEqual([])
      const { gap } = answers.reconcile
      if (missing.includes('orders')) expect(gap.orders).toBe(0)
      // What is estimated never passes what the shop booked.
      expect(answers.weigh.totals.sums.estimatedTenths / 10).toBeLessThanOrEqual(
        evidence.data.orders.filter(order => order.counts).length,
      )
    }
  })
})
