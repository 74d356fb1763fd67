import { describe, expect, it } from 'vitest'
import { parseDay } from '@/core/shared/days'
import { pathKey } from '@/core/shared/path'
import { planKey } from '@/core/weigh/whatIf'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { judgeOnce } from './judged'
import { forecastMovesView, outcomesView } from './moves'
import { trendView } from './trend'
import { weighConversionsView, weighSparksView, weighView } from './weigh'

const END = parseDay('2026-11-18')!
const e = evidenceOfMarket(simulateMarket({ seed: 9, days: 60, scale: 0.5, end: END }))
const period = { from: END - 27, to: END }
const scope = {}
const { rows, totals, networks } = judgeOnce(e, period)
const sum = (values: readonly number[]) => values.reduce((all, value) => all + value, 0)

describe('what stands beside the rows of Weigh', () => {
  it('goes through the period as the rows do', () => {
    const sparks = weighSparksView(e, { period, scope })
    expect(Object.keys(sparks)).toHaveLength(rows.length)
    for (const row of rows) {
      const { spend, results } = sparks[pathKey(...row.path)]!
      expect(sum(spend)).toBe(row.sums.spend)
      expect(Math.abs(sum(results) - row.sums.estimatedTenths / 10)).toBeLessThan(0.05 * results.length + 0.1)
    }
  })
  it('names each claim once', () => {
    const { rows: claimed } = weighConversionsView(e, { period, scope })
    for (const row of rows)
      expect(sum(claimed[pathKey(...row.path)]?.map(count => count ?? 0) ?? [])).toBe(row.sums.claimed)
  })
  it('in its history, sums to what it is, and to what is below it', () => {
    const campaign = rows.find(row => row.level === 'campaign' && row.sums.spend > 0)!
    for (const [path, row] of [
      [[], totals],
      [['norrfeed'], networks.find(one => one.network === 'norrfeed')!],
      [campaign.path, campaign],
    ] as const) {
      const { whole, below, days } = trendView(e, { period, scope, path, length: 7 })
      // It begins before the period, so that a trend can be seen.
      expect(parseDay(days.to)! - parseDay(days.from)! + 1).toBe(56)
      const lately = whole.stretches.slice(-4)
      expect(lately[0]!.from).toBe(new Date(period.from * 86_400_000).toISOString().slice(0, 10))
      expect(sum(lately.map(one => one.spend))).toBe(row.sums.spend)
      expect(sum(lately.map(one => one.claimed))).toBe(row.sums.claimed)
      expect(Math.abs(sum(lately.map(one => one.results)) - row.sums.estimatedTenths / 10)).toBeLessThan(3)
      whole.stretches.forEach((stretch, i) => {
        expect(sum(below.map(one => one.stretches[i]!.spend))).toBe(stretch.spend)
        expect(stretch.low).toBeLessThanOrEqual(stretch.results)
        expect(stretch.high).toBeGreaterThanOrEqual(stretch.results)
      })
    }
  })
  it('tires where the market’s story says so, and nowhere else', () => {
    const { campaigns } = weighView(e, { period, scope })
    const tired = campaigns.filter(row => row.tires.length > 0).map(row => row.name)
    expect(tired).toEqual(['Loom stories'])
  })
})

describe('moves', () => {
  const campaign = rows.find(row => row.level === 'campaign' && row.name === 'Loom stories')!
  const foreseen = forecastMovesView(e, {
    period,
    scope,
    factors: [{ path: campaign.path, factor: 0.5 }],
    rules: { elasticity: 0.8, cut: 'saved' },
  })
  it('are foreseen for themselves, and for all ads of their network', () => {
    expect(foreseen.moves.map(move => [move.name, move.factor])).toEqual([['Loom stories', 0.5]])
    const [{ forecast }] = foreseen.moves as [(typeof foreseen.moves)[0]]
    expect(forecast.spend.before * 28).toBeCloseTo(campaign.sums.spend, 3)
    expect(forecast.spend.after).toBeCloseTo(forecast.spend.before / 2, 6)
    const network = networks.find(row => row.network === 'mothwire')!
    expect(foreseen.account.spend.before * 28).toBeCloseTo(network.sums.spend, 3)
    expect(foreseen.account.spend.before - foreseen.account.spend.after).toBeCloseTo(forecast.spend.after, 6)
  })
  it('are held against the same days, and not before a day is over', () => {
    const list = {
      id: 'x',
      at: 0,
      by: '',
      why: '',
      result: 'order',
      network: '',
      currency: 'EUR',
      ...foreseen,
    }
    const on = (day: number) => ({ ...list, day: new Date(day * 86_400_000).toISOString().slice(0, 10) })
    const [now, week] = outcomesView(e, { lists: [on(END), on(END - 7)] })
    expect(now!.account).toMatchObject({ days: 0, held: false })
    const since = judgeOnce(e, { from: END - 6, to: END })
    expect(week!.account.days).toBe(7)
    expect(week!.account.happened.spend).toBe(
      since.networks.find(row => row.network === 'mothwire')!.sums.spend,
    )
    expect(week!.moves[0]!.happened.spend).toBe(
      since.rows.find(row => planKey(row.path) === planKey(campaign.path))!.sums.spend,
    )
  })
})
