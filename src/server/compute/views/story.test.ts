import { describe, expect, it } from 'vitest'
import { buildDataset } from '@/core/intake/dataset'
import { parseDay } from '@/core/shared/days'
import { gatherEvidence } from '@/core/weigh/evidence'
import { recordsOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { changedView, turnsView } from './changed'
import { reconcileView } from './reconcile'

/** The demo's market, of which nothing is looked at but what the views show. */
const END = parseDay('2026-11-24')!
const DAYS = 75
const span = { from: END - DAYS + 1, to: END }
const moment = (share: number) => span.from + Math.floor(DAYS * share)

const market = simulateMarket({ seed: 20_261, days: DAYS, scale: 1, end: END })
const listed = recordsOfMarket(market)
/** Kelpie lists what it claims, the others give daily sums, as in the demo; or all list. */
const given = {
  'daily sums of all but one': {
    ...listed.records,
    claimRows: listed.records.claimRows.filter(claim => claim.network === 'kelpie'),
    claims: recordsOfMarket(market, 'sums').records.claims.filter(claim => claim.network !== 'kelpie'),
  },
  'lists of all': listed.records,
}

describe.each(Object.entries(given))('the demo’s story, by %s,', (by, records) => {
  const e = gatherEvidence(buildDataset(records, listed.settings))
  const networks = e.data.tree.networks
  const turnsOf = (network: string) => turnsView(e, { period: span, scope: { network } })

  it('names the day on which one network’s capture fell, and none of another’s', () => {
    const fell = networks.flatMap(network =>
      turnsOf(network)
        .filter(turn => turn.of === 'capture')
        .map(({ from, to }) => ({ network, from, to })),
    )
    expect(fell.map(one => one.network)).toEqual(['norrfeed'])
    // Claims of the days after are dated by order: the change shows within a few days of the opt-outs.
    expect(fell[0]!.from - 3).toBeLessThanOrEqual(moment(0.56))
    expect(fell[0]!.to + 3).toBeGreaterThanOrEqual(moment(0.56))
  })

  it('says of that network that it is only seen less, and of the tiring campaign alone that it is really dearer', () => {
    const half = {
      first: { from: span.from, to: moment(0.5) - 1 },
      period: { from: moment(0.62), to: span.to },
    }
    const { parts } = changedView(e, { ...half, scope: {} })
    const dearer = parts.filter(
      ({ campaign, of }) => campaign !== null && of.real.low !== null && of.real.low > 0.3,
    )
    expect(dearer.map(part => part.name)).toEqual(['Loom stories'])
    const norrfeed = parts.find(part => part.network === 'norrfeed' && part.campaign === null)!
    const capture = norrfeed.of.parts.find(part => part.part === 'capture')!
    expect(capture.low).toBeGreaterThan(0.2)
    expect(Math.abs(norrfeed.of.real.log!)).toBeLessThan(capture.log!)
  })

  it('says which networks claim the same orders, and when a page was reloaded', () => {
    const { shared, gap } = reconcileView(e, { period: span, scope: {} })
    const [most] = [...shared.pairs].sort((a, b) => b.orders - a.orders)
    expect([...most!.networks].sort()).toEqual(['kelpie', 'norrfeed'])
    if (by !== 'lists of all') {
      // What is estimated holds what lists of all would have counted.
      const counted = reconcileView(gatherEvidence(buildDataset(given['lists of all'], listed.settings)), {
        period: span,
        scope: {},
      }).shared.pairs.find(pair => pair.networks.join() === most!.networks.join())!
      expect(most!.range!.low).toBeLessThan(counted.orders)
      expect(most!.range!.high).toBeGreaterThan(counted.orders)
      return
    }
    const repeatsIn = (period: typeof span) =>
      reconcileView(e, { period, scope: {} }).gap.causes.find(line => line.cause === 'repeat')!.count
    const inThoseDays = repeatsIn({ from: moment(0.4), to: moment(0.4) + 3 })
    const all = gap.causes.find(line => line.cause === 'repeat')!.count
    expect(inThoseDays / 4).toBeGreaterThan((5 * (all - inThoseDays)) / (DAYS - 4))
  })
})
