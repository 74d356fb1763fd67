import { describe, expect, it } from 'vitest'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { claim, click, dataset, delivery, instantAt, order } from '../evidence/sampleRecords'
import { parseDay } from '../shared/days'
import { compare, comparedParts, compareEach } from './compare'
import { reportComparison } from './compareReport'
import { comparisonSentence, plainHand } from './comparisonSentence'
import { gatherEvidence } from './evidence'
import { judge } from './judge'
import { scopeOf } from './rows'

const END = parseDay('2026-11-15')!
const story = () => simulateMarket({ seed: 7, days: 75, scale: 0.7, end: END })
/** Norrfeed's capture falls here, by the story of the market. */
const FALL = END - 74 + Math.floor(75 * 0.56)
const before = { from: FALL - 21, to: FALL - 1 }
const after = { from: FALL, to: FALL + 20 }

describe('what changed', () => {
  const evidence = evidenceOfMarket(story())
  const networks = evidence.data.tree.networks

  it('is the sum of four, exactly, whatever is compared', () => {
    for (const network of [undefined, ...networks])
      for (const [first, second] of [
        [before, after],
        [after, before],
        [{ from: END - 6, to: END }, before],
      ] as const) {
        const {
          logChange,
          parts,
          first: one,
          second: two,
        } = compare(evidence, network ? { network } : {}, first, second)
        expect(logChange).toBeCloseTo(Math.log(two.costPerClaim! / one.costPerClaim!), 12)
        expect(parts.reduce((sum, { log }) => sum + log!, 0)).toBeCloseTo(logChange!, 12)
        expect(parts.reduce((sum, { share }) => sum + share!, 0)).toBeCloseTo(1, 9)
        for (const { log, low, high } of parts) {
          expect(low!).toBeLessThanOrEqual(log!)
          expect(high!).toBeGreaterThanOrEqual(log!)
        }
      }
  })

  it('has the sums of Weigh on either side, for the account, a network and a campaign', () => {
    const rows = judge(evidence, after)
    for (const row of [rows.totals, ...rows.networks, ...rows.rows.filter(r => r.level === 'campaign')]) {
      const { second } = compare(evidence, scopeOf(row), before, after)
      expect(second).toMatchObject({
        spend: row.sums.spend,
        impressions: row.sums.impressions,
        clicks: row.sums.clicks,
        claimed: row.sums.claimed,
        estimated: row.sums.estimatedTenths / 10,
      })
    }
  })

  it('is the same of each network and campaign as when it is asked for alone', () => {
    const each = compareEach(evidence, {}, before, after)
    const { networks: wholes, rows } = judge(evidence, { from: before.from, to: after.to })
    const campaigns = rows.filter(row => row.level === 'campaign')
    expect(each.map(({ network, campaign }) => [network, campaign].join()).sort()).toEqual(
      [...wholes, ...campaigns].map(row => [row.network, row.path[1] ?? null].join()).sort(),
    )
    for (const { network, campaign, of } of each) {
      const { changeDays, ...alone } = compare(
        evidence,
        { network, ...(campaign && { campaign }) },
        before,
        after,
      )
      expect(of).toEqual(alone)
    }
    for (const one of wholes) {
      const parts = each.filter(({ network, campaign }) => network === one.network && campaign !== null)
      const sum = parts.reduce((all, { of }) => all + of.second.spend, 0)
      expect(sum).toBe(each.find(e => e.network === one.network && e.campaign === null)!.of.second.spend)
    }
  })

  it.each(['rows', 'sums'] as const)('tells lost tracking from lost orders, of claims as %s', claims => {
    const told = evidenceOfMarket(story(), claims)
    const { parts, real, changeDays } = compare(told, { network: 'norrfeed' }, before, after)
    const capture = parts.find(({ part }) => part === 'capture')!
    // Capture falls to 0.56 of what it was: most of the change, beyond chance, and about as large as it is.
    expect(capture.share).toBeGreaterThan(0.6)
    expect(capture.low).toBeGreaterThan(0)
    expect(Math.abs(capture.log! - Math.log(1 / 0.56))).toBeLessThan(0.2)
    expect(Math.abs(real.log!)).toBeLessThan(0.25)
    const day = changeDays.find(({ of }) => of === 'capture')!
    expect(Math.abs(day.day - FALL)).toBeLessThanOrEqual(4)
    expect(day.from).toBeLessThanOrEqual(FALL + 1)
    expect(day.to).toBeGreaterThanOrEqual(FALL - 1)
    // Where capture stayed none is named.
    expect(
      compare(told, { network: 'kelpie' }, before, after).changeDays.filter(c => c.of === 'capture'),
    ).toEqual([])
  })

  it('compares a stretch of several days as a whole', () => {
    const stretches = Array.from({ length: 12 }, (_, i) => ({
      ...{ network: 'norrfeed', from: END - 80 + 7 * i, to: END - 74 + 7 * i },
    }))
    const weekly = { ...evidence, data: { ...evidence.data, stretches } }
    const first = { from: END - 73, to: FALL - 1 }
    const days = compare(weekly, { network: 'norrfeed' }, first, { from: FALL, to: END }).changeDays
    expect(days.map(one => one.of)).toContain('capture')
    for (const { day } of days)
      expect(day === first.from || stretches.some(({ from }) => from === day)).toBe(true)
  })
  it('names nothing that cannot be told', () => {
    const nothing = { from: END + 10, to: END + 20 }
    const comparison = compare(evidence, { network: 'kelpie' }, before, nothing)
    expect(comparison).toMatchObject({ logChange: null, real: { log: null } })
    for (const part of comparison.parts) expect(part).toMatchObject({ log: null, low: null, share: null })
    expect(comparisonSentence(comparison, plainHand('EUR'))).toContain(
      'no spend from 2026-11-25 to 2026-12-05',
    )
  })
})

/** A period of a day in which all orders are tracked, and some of them claimed. */
function dayOf(day: number, { spend, impressions, clicks, orders, claims }: Record<string, number>) {
  const at = day * 24 + 8
  const date = new Date(instantAt(at)).toISOString().slice(0, 10)
  const ids = Array.from({ length: orders! }, (_, i) => `o${day}-${i}`)
  return {
    delivery: [delivery(date, { spend: `${spend}.00`, impressions: `${impressions}`, clicks: `${clicks}` })],
    clicks: ids.map(id => click(`k${id}`, at)),
    orders: ids.map(id => order(id, at + 1, { click_id: `k${id}` })),
    claimRows: ids.slice(0, claims).map(id => claim(at + 1, { transaction_id: id })),
  }
}

it('comes to what is worked out by hand', () => {
  const one = dayOf(0, { spend: 4200, impressions: 600_000, clicks: 7200, orders: 144, claims: 108 })
  const two = dayOf(1, { spend: 4300, impressions: 610_000, clicks: 7300, orders: 143, claims: 66 })
  const both = <Key extends keyof typeof one>(key: Key) => [...one[key], ...two[key]] as (typeof one)[Key]
  const evidence = gatherEvidence(
    dataset({
      delivery: both('delivery'),
      clicks: both('clicks'),
      orders: both('orders'),
      claimRows: both('claimRows'),
    }),
  )
  const [first] = [Math.floor(instantAt(0) / 86_400_000)]
  const comparison = compare(evidence, {}, { from: first!, to: first! }, { from: first! + 1, to: first! + 1 })
  const report = reportComparison(comparison, 'EUR')
  expect(report.first).toMatchObject({ cost_per_claim: 38.8889, cost_per_result: 29.1667, capture: 0.75 })
  expect(report.second).toMatchObject({ cost_per_claim: 65.1515, cost_per_result: 30.0699 })
  expect(report.log_change).toBeCloseTo(0.516, 3)
  const logs = [0.007, 0.003, 0.021, 0.486]
  report.parts.forEach(({ part, log }, i) =>
    expect([part, log]).toEqual([comparedParts[i], expect.closeTo(logs[i]!, 3)]),
  )
  expect(report.parts[3]!.share).toBeCloseTo(0.94, 2)
  expect(comparisonSentence(comparison, plainHand('EUR'))).toBe(
    'Of +26.26 EUR a claimed result, +24.71 EUR is tracking: claims per order fell from 75 % to 46 %. The real cost rose by 0.90 EUR to 30.07 EUR, which is within chance.',
  )
})
