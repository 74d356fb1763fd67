import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { always, click, dataset, delivery, order } from '../evidence/sampleRecords'
import { parseDay } from '../shared/days'
import { billedUntil, latestBilled } from './billed'
import { gatherEvidence } from './evidence'
import type { Sums } from './figures'
import { judge } from './judge'
import { openFigure } from './openFigure'
import { scopeOf } from './rows'

const END = parseDay('2026-11-18')!
/** A market of which one network's reports end some days before the others'. */
const lagging = (days: number) => {
  const market = simulateMarket({ seed: 12, days: 30, scale: 0.4, end: END })
  const last = END - days
  return evidenceOfMarket({
    ...market,
    delivery: market.delivery.filter(
      row => row.network !== 'mothwire' || parseDay(String(row.date))! <= last,
    ),
  })
}
const evidence = lagging(3)

describe('days that are not billed yet', () => {
  it('are those after the last report, unless a network has stopped', () => {
    const until = (of: ReturnType<typeof lagging>) =>
      Object.fromEntries(of.data.tree.networks.map((id, n) => [id, billedUntil(of.data)[n]]))
    expect(until(evidence)).toEqual({ norrfeed: END, kelpie: END, mothwire: END - 3 })
    expect(until(lagging(7)).mothwire).toBe(END - 7)
    expect(until(lagging(8)).mothwire).toBeNull()
    expect(until(lagging(9))).toEqual({ norrfeed: END, kelpie: END, mothwire: null })
    expect(latestBilled([null, END - 3, END, null])).toBe(END)
    expect(latestBilled([null])).toBeNull()
  })
  it('count in no row: what costs too little for want of its bill does not look cheap', () => {
    const rows = {
      delivery: [delivery('2026-10-01', { spend: '40.00' }), delivery('2026-10-03', { network: 'kelpie' })],
      clicks: [click('c1', 1, { visitor_id: 'v1' }), click('c2', 40, { visitor_id: 'v2' })],
      orders: [order('T1', 2, { click_id: 'c1' }), order('T2', 41, { click_id: 'c2' })],
    }
    const found = gatherEvidence(dataset(rows))
    const proven = (days: 'all' | 'billed') =>
      judge(found, always, days).networks.find(row => row.network === 'norrfeed')!.sums.provenCredit / 1e6
    expect([proven('all'), proven('billed')]).toEqual([2, 1])
  })
  it('leave every total the sum of what is below it, and each figure opening to what is shown', () => {
    fc.assert(
      fc.property(
        fc.nat(29),
        fc.nat(29),
        fc.constantFrom('all' as const, 'billed' as const),
        (a, b, days) => {
          const period = { from: END - Math.max(a, b), to: END - Math.min(a, b) }
          const { rows, networks, totals } = judge(evidence, period, days)
          const sum = (of: readonly { sums: Sums }[], figure: keyof Sums) =>
            of.reduce((all, row) => all + row.sums[figure], 0)
          for (const figure of Object.keys(totals.sums) as (keyof Sums)[])
            for (const own of [
              networks,
              ...(['campaign', 'ad_set', 'ad'] as const).map(level =>
                rows.filter(row => row.level === level),
              ),
            ])
              expect([figure, sum(own, figure)]).toEqual([figure, totals.sums[figure]])
          const row = rows[a % rows.length]
          if (!row) return
          const opened = (figure: 'claims' | 'proven' | 'estimated' | 'spend') =>
            openFigure(evidence, figure, scopeOf(row), period, [], days).amount
          expect(opened('claims')).toBe(row.sums.claimed)
          expect(opened('proven')).toBe(row.sums.provenCredit / 1e6)
          expect(opened('estimated')).toBe(row.sums.estimatedTenths / 10)
          expect(opened('spend')).toBe(row.sums.spend)
        },
      ),
      { numRuns: 40 },
    )
  })
})
