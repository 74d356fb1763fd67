import { afterEach, describe, expect, it, vi } from 'vitest'
import type { ReportRow } from '@/core/weigh/report'
import { printJudgement } from './printJudgement'

const row = (more: object) =>
  ({
    level: 'campaign',
    id: 'c1',
    name: 'Autumn kits',
    network: 'norrfeed',
    spend: 40,
    impressions: 0,
    clicks: 0,
    claimed: 2,
    proven: 1.6,
    tagged: 0,
    estimate: { orders: 2.5, low: 2, high: 4 },
    cost_per_result: { claimed: 20, tracked: 25, estimate: 16, low: 10, high: 20 },
    verdict: { kind: 'hold', because: 'near_the_line', probability: 0.5 },
    ...more,
  }) as ReportRow
function printed(totals: ReportRow, ...rows: ReportRow[]) {
  const log = vi.spyOn(console, 'log').mockImplementation(() => {})
  printJudgement({
    rows,
    totals,
    gap: {
      orders: 3,
      claims: 2,
      orders_value: 300,
      claims_value: 200,
      matched: 1,
      causes: [{ cause: 'not_seen', count: 2, value: 120.5 }],
    },
  })
  return log.mock.calls.flatMap(([text]) => String(text).split('\n'))
}
afterEach(() => vi.restoreAllMocks())

describe('the judgement in a terminal', () => {
  it('has its figures under their headings, the total last, and the gap below', () => {
    const [heads, first, total, , gap, cause] = printed(row({ name: 'All ads' }), row({}))
    expect(first).toMatch(/^Autumn kits +norrfeed +40\.00 +2 +2 +0 +2\.5 \(2–4\) +16\.00 +hold$/)
    expect(total).toMatch(/^All ads/)
    expect(heads!.indexOf('cost/result') + 'cost/result'.length).toBe(first!.indexOf('16.00') + 5)
    expect(gap).toBe('3 orders, 2 claims, 1 stand in both.')
    expect(cause).toMatch(/^ {2}not_seen +2 +120\.50$/)
  })
  it.each([
    ['what brought nothing', { cost_per_result: { estimate: null } }, '—'],
    ['what nobody billed', { spend: 0, cost_per_result: { estimate: 0 } }, '—'],
    ['what was served for nothing', { spend: 0, clicks: 3, cost_per_result: { estimate: 0 } }, '0.00'],
  ])('prints what a result cost as the screen does: %s', (_, more, cost) => {
    const [, first] = printed(row({}), row(more))
    expect(first!.trimEnd().split(/\s+/).at(-2)).toBe(cost)
  })
})
