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

const cases = (['rows', 'sums'] as const).flatMap(told => {
  const claims = told === 'rows' ? 'claimRows' : 'claims'
  return [[], ['delivery'], ['clicks'], ['orders'], [claims], ['clicks', claims]].map(missing => ({
    told,
    missing,
    of: `${missing.join(' and ') || 'nothing'}, claims as ${told}`,
  }))
})

describe('what is asked while something is missing', () => {
  it.each(cases)('is answered, with no number that is none: $of', ({ told, missing }) => {
    const without = Object.fromEntries(missing.map(file => [file, []]))
    const evidence = evidenceOfMarket({ ...whole, ...without } as typeof whole, told)
    for (const network of ['', 'norrfeed']) {
      const scope = network ? { network } : {}
      const answers = {
        weigh: weighView(evidence, { period, scope }),
        reconcile: reconcileView(evidence, { period, scope }),
        changed: changedView(evidence, { period, first: { from: END - 39, to: END - 28 }, scope }),
        trend: trendView(evidence, { period, scope, path: network ? [network] : [], length: 7 }),
      }
      expect(numbersIn(answers).filter(([, number]) => !Number.isFinite(number))).toEqual([])
      if (missing.includes('orders')) expect(answers.reconcile.gap.orders).toBe(0)
      // What is estimated never passes what the shop booked.
      expect(answers.weigh.totals.sums.estimatedTenths / 10).toBeLessThanOrEqual(
        evidence.data.orders.filter(order => order.counts).length,
      )
    }
  })
})
