import { describe, expect, it } from 'vitest'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { formatDay, parseDay } from '../shared/days'
import { standsOn } from './standsOn'

const END = parseDay('2026-11-18')!
const whole = simulateMarket({ seed: 21, days: 40, scale: 0.4, end: END })
const dayOf = (row: Record<string, unknown>) => parseDay(String(row.date))!
const days = (from: number, to: number) => ({ from: END - from, to: END - to })

describe('the days that figures stand on', () => {
  it('are said where no report of a network covers them, although its ads brought orders', () => {
    const evidence = evidenceOfMarket({
      ...whole,
      delivery: whole.delivery.filter(row => row.network !== 'norrfeed' || dayOf(row) > END - 20),
    })
    const { uncovered, laid, cut } = standsOn(evidence, {}, days(30, 0))
    expect(uncovered).toEqual([
      {
        network: 'norrfeed',
        from: formatDay(END - 30),
        to: formatDay(END - 20),
        days: 11,
        orders: evidence.data.orders.filter(
          (order, o) =>
            order.counts &&
            order.day >= END - 30 &&
            order.day <= END - 20 &&
            evidence.data.tree.networks[
              evidence.data.tree.networkOf[evidence.placements[o]!.credits[0]?.leaf ?? -1] ?? -1
            ] === 'norrfeed',
        ).length,
      },
    ])
    expect([laid, cut]).toEqual([[], []])
    expect(standsOn(evidence, {}, days(19, 0)).uncovered).toEqual([])
    expect(standsOn(evidence, { network: 'kelpie' }, days(30, 0)).uncovered).toEqual([])
  })
  it('are said where a network gives one sum for several, and where a period takes some of them', () => {
    const given = evidenceOfMarket(whole)
    const stretches = [{ network: 'kelpie', from: END - 13, to: END - 7 }]
    const evidence = { ...given, data: { ...given.data, stretches } }
    expect(standsOn(evidence, {}, days(13, 0))).toEqual({
      laid: [{ network: 'kelpie', days: 7 }],
      cut: [],
      uncovered: [],
      unclaimed: [],
      byBrowsers: null,
      unconfirmed: 0,
      rates: [],
    })
    expect(standsOn(evidence, {}, days(9, 0)).cut).toEqual([
      { network: 'kelpie', from: formatDay(END - 13), to: formatDay(END - 7), counted: 3 },
    ])
    expect(standsOn(evidence, {}, days(6, 0))).toEqual({
      laid: [],
      cut: [],
      uncovered: [],
      unclaimed: [],
      byBrowsers: null,
      unconfirmed: 0,
      rates: [],
    })
  })
  it('are said where a network that reports conversions reports none, and only there', () => {
    const early = (row: Record<string, unknown>) => row.network === 'norrfeed' && dayOf(row) < END - 15
    const evidence = evidenceOfMarket({
      ...whole,
      claims: whole.claims.filter(row => !early(row)),
      claimRows: whole.claimRows.filter(row => !early({ ...row, date: String(row.claimed_at).slice(0, 10) })),
    })
    const [found, ...others] = standsOn(evidence, {}, days(30, 0)).unclaimed
    expect(found).toMatchObject({ network: 'norrfeed', from: formatDay(END - 30) })
    expect(found!.orders).toBeGreaterThan(9)
    expect(others).toEqual([])
    expect(standsOn(evidence, {}, days(13, 0)).unclaimed).toEqual([])
    expect(standsOn(evidenceOfMarket(whole), {}, days(30, 0)).unclaimed).toEqual([])
  })
})
