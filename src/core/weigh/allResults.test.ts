import { describe, expect, it } from 'vitest'
import { claimCauses, orderCauses } from '../evidence/causes'
import { reconcile, sumGap } from '../evidence/gap'
import { always, claim, click, dataset, delivery, order, type Rows } from '../evidence/sampleRecords'
import { ALL_RESULTS } from '../intake/judgedResult'
import { resultSchema } from '../signals/result'
import { readNames } from './byPart'
import { bySegment } from './bySegment'
import { evidenceAmong } from './engine'
import { type Evidence, gatherEvidence, withTrees } from './evidence'
import { judge, judgeAlone } from './judge'
import type { JudgedRow } from './rows'

const CALL = { id: 'call', name: 'Call', currency: 'EUR', count: 'every' } as const
const call = (more: object = {}) =>
  resultSchema.parse({ ...CALL, kind: 'call', value: { by: 'fixed', amount: 5000 }, margin: 1, ...more })

/**
 * Two ads at 500.00 each: `a1` brings ten orders of 80.00 and twelve calls, `a2` ten orders alone. At a margin of a
 * half, orders leave 400.00 to each; calls leave all of their 50.00.
 */
function market(more: Partial<Rows> = {}): Rows {
  const clicks = ['a1', 'a2'].flatMap((ad, a) =>
    Array.from({ length: 22 }, (_, i) =>
      click(`${ad}-${i}`, i * 10 + a, { ad_id: ad, visitor_id: `${ad}-v${i}` }),
    ),
  )
  const orders = ['a1', 'a2'].flatMap(ad =>
    Array.from({ length: 10 }, (_, i) =>
      order(`${ad}-o${i}`, i * 10 + 5, { click_id: `${ad}-${i}`, total: '80.00' }),
    ),
  )
  const calls = Array.from({ length: 12 }, (_, i) =>
    order(`c${i}`, (i + 10) * 10 + 5, { click_id: `a1-${i + 10}`, total: '1.00', result: 'call' }),
  )
  return {
    clicks,
    orders: [...orders, ...calls],
    delivery: ['a1', 'a2'].map(ad => delivery('2026-11-05', { ad_id: ad, spend: '500.00', clicks: '22' })),
    definitions: [call()],
    ...more,
  }
}

const gathered = (rows: Rows, result: string, settings: object = { margin: 0.5 }): Evidence =>
  evidenceAmong({ orders: [], ...rows }, result, one => gatherEvidence(dataset(rows, settings, one)))
const adOf = (rows: readonly JudgedRow[], id: string) =>
  rows.find(row => row.level === 'ad' && row.id === id)!
const judged = (rows: Rows, result: string, settings?: object) =>
  judge(gathered(rows, result, settings), always)

describe('all results', () => {
  it('sum what each of them brings, at its own margin', () => {
    const { totals, rows } = judged(market(), ALL_RESULTS)
    expect(totals.sums.spend).toBe(100_000)
    expect(totals.sums.estimatedTenths).toBe(320)
    expect(totals.sums.estimatedValue).toBe(20 * 8000 + 12 * 5000)
    expect(totals.leaves).toBeCloseTo(20 * 4000 + 12 * 5000)
    expect(adOf(rows, 'a1').byResult).toEqual([
      { result: 'order', tenths: 100, value: 80_000 },
      { result: 'call', tenths: 120, value: 60_000 },
    ])
  })

  it('make one verdict of an ad, whichever of them is looked at', () => {
    const [byOrder, byCall, whole] = ['order', 'call', ALL_RESULTS].map(result =>
      adOf(judged(market(), result).rows, 'a1'),
    )
    // By its orders alone it loses 100.00 of 500.00, by its calls alone it would lose too; both leave 1,000.00.
    const alone = adOf(judgeAlone(gathered(market(), 'call'), always).rows, 'a1')
    expect(alone.verdict.probability).toBeLessThan(whole!.verdict.probability!)
    for (const one of [byOrder, byCall]) expect(one!.verdict).toEqual(whole!.verdict)
    expect(whole!.verdict.probability).toBeGreaterThan(0.9)
    expect(byCall!.restsOn?.results.map(({ result }) => result)).toEqual(['order', 'call'])
    expect(byCall!.sums.estimatedValue / byCall!.restsOn!.sums.estimatedValue).toBeCloseTo(60 / 140)
  })

  it('give an ad that brings one of them, or nothing, the verdict of that one, or of orders', () => {
    const rows = market()
    const idle = delivery('2026-11-05', { ad_id: 'a3', spend: '90.00', clicks: '20' })
    const spent = { ...rows, delivery: [...rows.delivery!, idle] }
    for (const ad of ['a2', 'a3']) {
      const [byOrder, ...others] = ['order', 'call', ALL_RESULTS].map(
        result => adOf(judged(spent, result).rows, ad).verdict,
      )
      for (const other of others) expect(other).toEqual(byOrder)
    }
  })

  it('leave an ad that brings one of them to that one', () => {
    const alone = judgeAlone(gathered(market(), 'order'), always)
    const { rows } = judged(market(), 'order')
    expect(adOf(rows, 'a2').restsOn).toBeNull()
    expect(adOf(rows, 'a2').verdict).toEqual(adOf(alone.rows, 'a2').verdict)
    expect(gathered({ ...market(), orders: market().orders!.slice(0, 20) }, 'order').all).toBeNull()
  })

  it('reckon a plan with all that an ad leaves', () => {
    const row = adOf(judged(market(), 'order').rows, 'a1')
    const whole = adOf(judged(market(), ALL_RESULTS).rows, 'a1')
    expect(row.leaves).toBe(whole.leaves)
    expect(Math.exp(row.rate!.log) * row.left!).toBeCloseTo(Math.exp(whole.rate!.log) * whole.left!)
  })

  it('count a transaction under one of them', () => {
    const again = order('a1-o3', 35, { click_id: 'a1-3', total: '80.00', result: 'call' })
    const rows = market()
    const { totals } = judged({ ...rows, orders: [...rows.orders!, again] }, ALL_RESULTS)
    expect(totals.sums.estimatedTenths).toBe(320)
  })

  it('count an order in the worth of the lead that was measured by such orders', () => {
    const measured = { by: 'fixed', amount: 5000, measured: { low: 4000, high: 6000, days: 30 } }
    const rows = market({ definitions: [call({ value: measured })] })
    const lead = order('lead', 0, { visitor_id: 'somebody', result: 'call' })
    const later = order('later', 24, { visitor_id: 'somebody', click_id: 'a2-1', total: '80.00' })
    const tooLate = order('too-late', 24 * 31, { visitor_id: 'somebody', click_id: 'a2-2', total: '80.00' })
    const evidence = gathered({ ...rows, orders: [...rows.orders!, lead, later, tooLate] }, ALL_RESULTS)
    const of = (id: string) => evidence.data.orders.find(one => one.order_id === id)!
    expect(of('later')).toMatchObject({ counts: false, left: 'in_its_lead' })
    expect(of('too-late')).toMatchObject({ counts: true, left: null })
    // Its own result goes on counting it.
    expect(
      judged({ ...rows, orders: [...rows.orders!, lead, later] }, 'order').totals.sums.provenCredit,
    ).toBe(21_000_000)
  })

  it('leave out steps that are worth nothing, and what was archived', () => {
    for (const definition of [call({ value: { by: 'fixed', amount: 0 } }), call({ archived: true })])
      expect(gathered(market({ definitions: [definition] }), 'order').all).toBeNull()
  })

  it('take a target in place of what a result leaves', () => {
    const { totals } = judged(market({ definitions: [call({ target: 1000 })] }), ALL_RESULTS, {
      margin: 0.5,
      target_cost: 30,
    })
    expect(totals.leaves).toBeCloseTo(20 * 3000 + 12 * 1000)
  })

  it('give no firm verdict while one margin was never said', () => {
    const unsaid = (result: string) =>
      adOf(judged(market({ definitions: [call({ margin: undefined })] }), result, {}).rows, 'a1').verdict
        .because
    expect(unsaid(ALL_RESULTS)).toBe('no_margin')
    expect(unsaid('order')).toBe('no_margin')
  })

  it('hold claims once, and the gap to the unit', () => {
    const rows = market({
      claimRows: [
        claim(6, { transaction_id: 'a1-o0', value: '80.00' }),
        claim(106, { conversion: 'lead', value: '50.00' }),
        claim(120, { conversion: 'call', value: '50.00' }),
      ],
      // What the network calls a lead is said to be both of ours.
      slots: [
        { network: 'norrfeed', slot: 'lead', result: 'order' },
        { network: 'norrfeed', slot: 'lead', result: 'call' },
      ],
    })
    const { data, placements, matches } = gathered(rows, ALL_RESULTS)
    expect(data.claims).toHaveLength(3)
    const gap = sumGap(data, reconcile(data, placements, matches, always))
    expect(gap.orders).toBe(32)
    expect(gap.claims).toBe(3)
    const sumOf = (causes: readonly string[]) =>
      gap.causes.reduce((all, { cause, count }) => all + (causes.includes(cause) ? count : 0), 0)
    expect(sumOf(orderCauses) - sumOf(claimCauses)).toBe(gap.orders - gap.claims)
  })

  it('err apart from each other: the variance of all is the sum of each', () => {
    const rows = market({
      claimRows: Array.from({ length: 8 }, (_, i) => claim(i * 10 + 6, { value: '80.00' })),
    })
    const variance = (result: string) => judgeAlone(gathered(rows, result), always).totals.variance
    expect(variance(ALL_RESULTS)).toBeCloseTo(variance('order') + variance('call'))
  })

  it('are parted by what clicks say, and by names', () => {
    const rows = market({ told: [] })
    const parted = bySegment(gathered(rows, 'order'), 'keyword', c => (c % 2 === 0 ? 'even' : 'odd'))
    const [one, all] = [parted, parted.all!].map(e => judgeAlone(e, always).totals.sums)
    expect(one!.estimatedTenths).toBe(200)
    expect(all!.estimatedTenths).toBe(320)
    const named = withTrees(gathered(rows, 'order'), tree => readNames(tree, []))
    expect(judgeAlone(named.all!, always).totals.byResult).toHaveLength(2)
  })
})
