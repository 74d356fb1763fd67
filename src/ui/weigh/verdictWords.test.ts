import { describe, expect, it } from 'vitest'
import { always, click, dataset, delivery, order, type Rows } from '@/core/evidence/sampleRecords'
import { pathKey } from '@/core/shared/path'
import { bySegment } from '@/core/weigh/bySegment'
import { gatherEvidence } from '@/core/weigh/evidence'
import { judge, judgeByPart } from '@/core/weigh/judge'
import type { JudgedRow } from '@/core/weigh/rows'
import { segmentPart } from '@/core/weigh/segments'
import { formatsOf } from '../format'
import { weighColumns } from './columns'
import { costIn, estimated, roasIn } from './rowFigures'
import { shortSentence, verdictSentence } from './verdictWords'
import type { WeighFacts } from './weighFacts'

const formats = formatsOf({ locale: 'en-GB', zone: 'UTC', currency: 'EUR', firstWeekday: 1 })
const plain = (text: string) => text
const said = (row: JudgedRow) => verdictSentence(row, formats, plain, plain)

/** The row of one ad, judged beside whatever else there is. */
function adOf(rows: Rows, id = 'a1'): JudgedRow {
  const judged = judge(gatherEvidence(dataset(rows, { margin: 0.9 })), always)
  const found = judged.rows.find(row => row.level === 'ad' && row.id === id)
  if (!found) throw new Error(`no ad ${id}`)
  return found
}
const spent = (spend: string, ad_id = 'a1') => delivery('2026-10-02', { ad_id, spend })
const sale = (number: number, more: Record<string, string> = {}, ad_id = 'a1') => ({
  clicks: [click(`c${number}`, 1, { visitor_id: `v${number}`, ad_id })],
  orders: [order(`T${number}`, 5, { click_id: `c${number}`, total: '50.00', ...more })],
})
const all = (delivered: Rows['delivery'], ...sales: ReturnType<typeof sale>[]): Rows => ({
  delivery: delivered,
  clicks: sales.flatMap(one => one.clicks),
  orders: sales.flatMap(one => one.orders),
})

/** The rows of a judgement, of which nothing more is known. */
const weighedOf = ({ totals, rows }: ReturnType<typeof judge>) =>
  [totals, ...rows].map(row => ({
    ...row,
    firstSpent: null,
    lastSpent: null,
    active: null,
    doubts: [],
    tires: [],
    below: [],
  }))
const step = (name: string, optional = false) => ({ id: name.toLowerCase(), name, optional })
const factsOf = (walked: Record<string, number[]>): WeighFacts => ({
  ...formats,
  most: 1,
  before: new Map(),
  more: {
    sparks: undefined,
    conversions: { names: ['purchase'], rows: {} },
    steps: { steps: [step('Arrival'), step('Booklet', true), step('Basket')], rows: walked },
  },
  words: plain,
  networkName: plain,
  resultName: plain,
  captures: {},
  elasticity: 0.8,
  why: () => {},
})

describe('a row at the edge of what can be known', () => {
  it('without spend has no cost, and says so', () => {
    const row = adOf(all([spent('0.00')], sale(1)))
    expect([costIn(row, 0), roasIn(row, row.sums.estimatedValue), row.verdict.probability]).toEqual([
      null,
      null,
      null,
    ])
    expect(said(row)).toContain('Nothing was billed for its 1.0 orders')
  })
  it('of a keyword whose spend no report splits does not say that nothing was billed', () => {
    const evidence = gatherEvidence(dataset(all([spent('40.00')], sale(1)), { margin: 0.9 }))
    const parted = bySegment(evidence, 'keyword', () => 'wool blanket')
    const row = judgeByPart(parted, always, segmentPart('keyword'), '').find(
      ({ id }) => id === 'wool blanket',
    )!
    expect(row.sums.spend).toBe(0)
    expect(said(row)).toBe('No report says what was spent on it, so there is no cost to judge.')
    expect(shortSentence(row, formats, plain)).toBe('spend not reported')
    const [weighed] = weighedOf({ ...judge(evidence, always), totals: row, rows: [] })
    const reasons = weighColumns(factsOf({}), []).map(column => column.none?.(weighed!))
    expect(reasons.join()).toContain('no report says what was spent on it')
    expect(reasons.join()).not.toContain('nothing was billed')
  })
  it('with results that nobody billed has no cost either', () => {
    const row = adOf(all([spent('10.00', 'a2')], sale(1)))
    expect(costIn(row, estimated(row))).toBeNull()
  })
  it('without a result says how likely one would have come by now', () => {
    const row = adOf(all([spent('41.00'), spent('100.00', 'a2')], sale(1, {}, 'a2'), sale(2, {}, 'a2')))
    expect(costIn(row, estimated(row))).toBeNull()
    expect(said(row)).toMatch(
      /^41\.00 spent, no orders yet\. At its break-even of \d+\.\d\d the chance of one by now was \d+ %/,
    )
    expect(shortSentence(row, formats, plain)).not.toBe('')
  })
  it('with one result is not cut for it, nor raised', () => {
    const row = adOf(
      all([spent('45.00'), spent('150.00', 'a2')], sale(1), ...[2, 3, 4].map(i => sale(i, {}, 'a2'))),
    )
    expect(costIn(row, estimated(row))).toBeGreaterThan(0)
    expect(row.verdict.kind).toBe('wait')
    expect(said(row)).toContain('too little to tell')
  })
  it('of which more went back than was paid is worth nothing, and never less', () => {
    const row = adOf(all([spent('30.00')], sale(1, { status: 'partially_refunded', refunded: '80.00' })))
    expect(row.sums.estimatedValue).toBe(0)
    expect(roasIn(row, row.sums.estimatedValue)).toBe(0)
    expect(said(row)).not.toMatch(/NaN|Infinity|undefined|null/)
  })
  it('in a currency without a rate counts what can be counted', () => {
    const rows = all([spent('30.00')], sale(1), sale(2, { currency: 'GBP' }))
    const { setAside } = dataset(rows)
    expect(setAside).toMatchObject([{ file: 'orders', reason: 'no_rate', currency: 'GBP' }])
    expect(adOf(rows).sums.provenCredit).toBe(1_000_000)
  })
  it('has a figure in every column, or says why it has none', () => {
    const cases = [
      all([spent('0.00')], sale(1)),
      all([spent('10.00', 'a2')], sale(1)),
      all([spent('41.00')]),
      all([spent('45.00')], sale(1)),
      all([spent('30.00')], sale(1, { status: 'partially_refunded', refunded: '80.00' })),
      all([delivery('2026-10-02', { spend: '0.00', impressions: '0', clicks: '0' })], sale(1)),
    ]
    for (const rows of cases) {
      const judged = judge(gatherEvidence(dataset(rows)), always)
      const weighed = weighedOf(judged)
      for (const column of weighColumns(factsOf({}), []))
        for (const row of weighed) {
          const value = column.value(row)
          if (typeof value === 'number')
            expect([column.id, Number.isFinite(value)]).toEqual([column.id, true])
          if (value === null && column.id !== 'verdict')
            expect([column.id, column.none?.(row)]).toEqual([column.id, expect.stringMatching(/\w/)])
        }
    }
  })
  it('never says what is no number, whatever is there', () => {
    for (const spend of ['0.00', '0.01', '41.00', '99999.99'])
      for (const sales of [0, 1, 2, 40]) {
        const own = Array.from({ length: sales }, (_, i) => sale(i))
        const row = adOf(all([spent(spend), spent('50.00', 'a2')], ...own, sale(900, {}, 'a2')))
        for (const text of [said(row), shortSentence(row, formats, plain)])
          expect(text).not.toMatch(/NaN|Infinity|undefined|null|-\d/)
      }
  })
})

it('holds a step against the last one before it that nobody may skip', () => {
  const [whole] = weighedOf(judge(gatherEvidence(dataset({ delivery: [spent('50.00')] } as Rows)), always))
  const columns = weighColumns(factsOf({ [pathKey()]: [400, 20, 100] }), [])
  const figure = (id: string) => columns.find(column => column.id === id)?.value(whole!)
  expect([figure('step_rate_arrival'), figure('step_rate_booklet'), figure('step_rate_basket')]).toEqual([
    undefined,
    0.05,
    0.25,
  ])
  expect(figure('step_cost_basket')).toBe(whole!.sums.spend / 100)
})
