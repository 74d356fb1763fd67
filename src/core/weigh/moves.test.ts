import { describe, expect, it } from 'vitest'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { parseDay } from '../shared/days'
import { billedDays } from './billed'
import type { Forecast } from './forecast'
import { judge } from './judge'
import { type MoveList, movesOf, outcomesOf, plannedAd, toldUntil } from './moves'
import { planKey, whatIf } from './whatIf'

const END = parseDay('2026-11-18')!
const DAYS = 28
const period = { from: END - DAYS + 1, to: END }
/** Mothwire's reports end two days before the others'. */
const market = () => {
  const whole = simulateMarket({ seed: 21, days: 40, scale: 0.4, end: END })
  return evidenceOfMarket({
    ...whole,
    delivery: whole.delivery.filter(
      row => row.network !== 'mothwire' || parseDay(String(row.date))! <= END - 2,
    ),
  })
}
const evidence = market()
const judged = judge(evidence, period)
const ads = judged.rows.filter(row => row.level === 'ad')
const within = (path: readonly string[]) =>
  ads.filter(ad => path.every((part, i) => ad.path[i] === part)).map(plannedAd)
const sum = (values: readonly number[]) => values.reduce((all, value) => all + value, 0)
const of = (network: string) => judged.rows.find(row => row.level === 'campaign' && row.network === network)!
const elastic = { elasticity: 0.8, cut: 'saved' as const }

describe('a row as a plan sees it', () => {
  it('is expected to bring again what its rate says of its spend', () => {
    const [ad] = ads
    const rate = { log: Math.log(0.001), variance: 0.02 }
    const sums = { ...ad!.sums, spend: 5000, estimatedTenths: 61, estimatedValue: 70_000 }
    expect(plannedAd({ ...ad!, sums, rate, worth: { mean: 800, low: 0, high: 0 }, left: 300 })).toEqual({
      path: ad!.path,
      spend: 5000,
      tenths: 61,
      value: 70_000,
      // A log-normal's mean: five results at its middle, and half its variance above it.
      expected: expect.closeTo(5 * Math.exp(0.01), 9),
      variance: 0.02,
      worth: 800,
      left: 300,
    })
    expect(plannedAd({ ...ad!, rate: null, worth: null, left: null })).toMatchObject({
      expected: 0,
      variance: 0,
      worth: null,
      left: null,
    })
  })
})

describe('moves that are decided', () => {
  const billed = billedDays(evidence.data, period)
  /** Days of which a network has told what it spent: a day that nobody has billed yet is no day without spend. */
  const daysOf = (network: string) => billed[evidence.data.tree.networks.indexOf(network)]!
  it('are reckoned by the days of which their network has told what it spent', () => {
    const last = Math.max(...evidence.data.delivery.map(row => row.day))
    const late = evidence.data.delivery.filter(
      ({ leaf, day }) => evidence.data.tree.leaves[leaf]!.network !== 'mothwire' || day <= last - 2,
    )
    const cut = { ...evidence, data: { ...evidence.data, delivery: late } }
    const whole = { from: last - 6, to: last }
    const days = billedDays(cut.data, whole)
    const { networks } = evidence.data.tree
    expect([days[networks.indexOf('mothwire')], days[networks.indexOf('kelpie')]]).toEqual([5, 7])
  })
  const [campaign, other] = [of('mothwire'), of('kelpie')]
  const factors = new Map([
    [planKey(campaign.path), 0.5],
    [planKey(other.path), 0],
  ])
  const decided = () => movesOf(evidence, ads, period, factors, elastic)
  it('are foreseen as what if says of the same ads', () => {
    const { moves } = decided()
    expect(moves.map(move => [move.network, move.name, move.factor])).toEqual([
      ['mothwire', campaign.name, 0.5],
      ['kelpie', other.name, 0],
    ])
    for (const { path, factor, forecast } of moves) {
      const own = within(path)
      const none = { spend: 0, tenths: 0, value: 0, leaves: 0, low: 0, high: 0 }
      const { changes } = whatIf(none, own, new Map([[planKey(path), factor]]), elastic)
      const days = daysOf(path[0]!)
      expect((forecast.spend.after - forecast.spend.before) * days).toBeCloseTo(
        sum(changes.map(one => one.spend)),
        -1,
      )
      const more = (forecast.results.after - forecast.results.before) * days
      expect(Math.abs(more - sum(changes.map(one => one.tenths)) / 10)).toBeLessThan(0.05 * own.length + 1e-6)
      const leaves = (forecast.leaves.after - forecast.leaves.before) * days
      expect(Math.abs(leaves - sum(changes.map(one => one.leaves)))).toBeLessThan(own.length)
    }
  })
  it('are foreseen for all ads of their networks together, and for no other', () => {
    const { account, moves } = decided()
    const touched = ads.filter(ad => ad.network !== 'norrfeed').map(plannedAd)
    const aDay = (of: 'spend' | 'expected') => sum(touched.map(ad => ad[of] / daysOf(ad.path[0]!)))
    expect(account.spend.before).toBeCloseTo(aDay('spend'), 6)
    expect(account.results.before).toBeCloseTo(aDay('expected'), 6)
    expect(account.spend.before - account.spend.after).toBeCloseTo(
      sum(moves.map(move => move.forecast.spend.before - move.forecast.spend.after)),
      6,
    )
  })
  it('are of each ad that gets the money as well, where it is moved', () => {
    const [first, ...others] = ads.filter(ad => ad.sums.spend > 0)
    const cut = new Map([[planKey(first!.path), 0]])
    const kept = new Map([...cut, [planKey(others[0]!.path), 1]])
    const { account, moves } = movesOf(evidence, ads, period, cut, { ...elastic, cut: 'moved' })
    expect(moves).toHaveLength(ads.length)
    // What is to stay as it is is no move.
    expect(movesOf(evidence, ads, period, kept, { ...elastic, cut: 'moved' }).moves).toHaveLength(
      ads.length - 1,
    )
    expect(moves.find(move => move.path.join() === first!.path.join())!.factor).toBe(0)
    const shifted = sum(
      moves.map(({ path, forecast }) => (forecast.spend.after - forecast.spend.before) * daysOf(path[0]!)),
    )
    expect(shifted).toBeCloseTo(0, 4)
    expect(account.spend.after).toBeGreaterThan(0)
    const grown = 1 + first!.sums.spend / sum(others.map(ad => ad.sums.spend))
    for (const move of moves.filter(one => one.factor > 0)) expect(move.factor).toBeCloseTo(grown, 9)
  })
})

describe('what came of moves', () => {
  const forecast = (results: number): Forecast => ({
    spend: { before: 100, after: 100 },
    results: { before: results, after: results },
    doubt: 0,
    leaves: { before: 0, after: 0 },
    within: [1],
  })
  const campaign = of('norrfeed')
  const listOf = (networks: readonly string[], account: number, own: number): MoveList => ({
    id: 'm',
    at: 0,
    day: '',
    by: '',
    why: '',
    result: 'order',
    network: '',
    currency: 'EUR',
    account: forecast(account),
    moves: networks.map(network => ({
      network,
      path: of(network).path,
      name: '',
      factor: 1,
      forecast: forecast(own),
    })),
  })
  it('is known up to the day of which each network concerned has told', () => {
    expect(toldUntil(evidence, listOf(['norrfeed'], 0, 0))).toBe(END)
    expect(toldUntil(evidence, listOf(['norrfeed', 'mothwire'], 0, 0))).toBe(END - 2)
  })
  it('does not wait for a network that was stopped altogether', () => {
    const whole = simulateMarket({ seed: 21, days: 40, scale: 0.4, end: END })
    const stopped = evidenceOfMarket({
      ...whole,
      delivery: whole.delivery.filter(
        row => row.network !== 'mothwire' || parseDay(String(row.date))! <= END - 14,
      ),
    })
    const list = listOf(['mothwire'], 0, 0)
    expect(toldUntil(stopped, list)).toBe(END)
    const { account, moves } = outcomesOf(stopped, list, END - 14)
    expect([account.days, account.happened.spend, moves[0]!.happened.spend]).toEqual([14, 0, 0])
  })
  it('is of the days after, what happened beside what was foreseen', () => {
    const since = judge(evidence, { from: END - 6, to: END }, 'billed')
    const network = since.networks.find(row => row.network === 'norrfeed')!
    const own = since.rows.find(row => planKey(row.path) === planKey(campaign.path))!
    const results = (row: typeof own) => row.sums.estimatedTenths / 10
    const asItCame = listOf(['norrfeed'], results(network) / 7, results(own) / 7)
    const { account, moves } = outcomesOf(evidence, asItCame, END - 7)
    expect(account).toMatchObject({ days: 7, held: true })
    expect(account.foreseen.results).toBeCloseTo(results(network), 6)
    expect(account.happened).toMatchObject({
      spend: network.sums.spend,
      results: results(network),
      leaves: network.leaves,
    })
    expect(moves[0]!.happened).toMatchObject({ spend: own.sums.spend, results: results(own) })
    expect(moves[0]!.happened.low).toBeCloseTo(own.low, 9)
    // Estimates of two networks err apart from each other.
    const both = outcomesOf(evidence, listOf(['norrfeed', 'kelpie'], 1, 1), END - 7).account.happened
    const two = since.networks.filter(row => row.network !== 'mothwire')
    const root = (of: (row: typeof own) => number) => Math.sqrt(sum(two.map(row => of(row) ** 2)))
    expect(both.results).toBeCloseTo(sum(two.map(results)), 9)
    expect(both.results - both.low).toBeCloseTo(
      root(row => results(row) - row.low),
      9,
    )
    expect(both.high - both.results).toBeCloseTo(
      root(row => row.high - results(row)),
      9,
    )
    // Ten times as much, and a tenth of it, was not what happened.
    for (const times of [10, 0.1]) {
      const wrong = listOf(['norrfeed'], (times * results(network)) / 7, 0)
      expect(outcomesOf(evidence, wrong, END - 7).account.held).toBe(false)
    }
  })
  it('is nothing yet on the day itself, and is looked at for four weeks at most', () => {
    const list = listOf(['norrfeed', 'mothwire'], 1, 1)
    expect(outcomesOf(evidence, list, END - 2)).toMatchObject({
      account: { days: 0, held: false, happened: { spend: 0 } },
      moves: [{ days: 0 }, { days: 0 }],
    })
    expect(outcomesOf(evidence, list, END - 3).account.days).toBe(1)
    expect(outcomesOf(evidence, list, END - 38).account.days).toBe(28)
  })
})
