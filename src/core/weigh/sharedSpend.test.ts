import fc from 'fast-check'
import { expect, it } from 'vitest'
import { always, click, dataset, delivery, order } from '../evidence/sampleRecords'
import { parseDay } from '../shared/days'
import { resultSchema } from '../signals/result'
import { bySegment } from './bySegment'
import { evidenceAmong } from './engine'
import { gatherEvidence } from './evidence'
import { judge, judgeByPart } from './judge'
import { listedSegments } from './lists'
import { segmentPart } from './segments'
import type { CountedSegment } from './sharedSpend'

const PART = segmentPart('keyword')
const evidence = gatherEvidence(
  dataset(
    {
      clicks: [click('k1', 1, { visitor_id: 'v1' })],
      orders: [order('o1', 5, { click_id: 'k1' })],
      delivery: [
        delivery('2026-10-01', { spend: '10.00', impressions: '1000', clicks: '7' }),
        delivery('2026-10-02', { spend: '5.01', impressions: '300', clicks: '3' }),
        delivery('2026-10-02', { ad_id: 'a2', spend: '8.00' }),
        delivery('2026-10-02', { ad_id: 'a3', spend: '4.00', keyword: 'loom' }),
      ],
    },
    { margin: 0.5 },
  ),
)
const counted = (day: string, segment: string, clicks: number): CountedSegment => ({
  network: 'norrfeed',
  campaign: 'c1',
  adSet: '',
  ad: 'a1',
  day: parseDay(day)!,
  segment,
  clicks,
})
const rowsBy = (clicks?: CountedSegment[]) =>
  judgeByPart(
    bySegment(evidence, 'keyword', () => 'Loom', clicks),
    always,
    PART,
    '',
  ).filter(row => row.level === 'part')
const spendOf = (clicks?: CountedSegment[]) =>
  Object.fromEntries(rowsBy(clicks).map(row => [row.id, [row.sums.spend, row.sums.assumedSpend]]))

it('shares spend that no report splits by the ad’s clicks of the day, and says how much of it', () => {
  expect(spendOf()).toEqual({ '': [2301, 0], loom: [400, 0] })
  // Three of four clicks of the first day; of the second day none arrived, so that all days say it.
  const clicks = [counted('2026-10-01', ' LOOM', 3), counted('2026-10-01', 'wool', 1)]
  expect(spendOf(clicks)).toEqual({
    '': [800, 0],
    loom: [400 + 750 + 376, 750 + 376],
    wool: [250 + 125, 250 + 125],
  })
})

it('leaves with nobody what clicks say nothing of', () => {
  expect(spendOf([counted('2026-10-01', '', 1), counted('2026-10-01', 'wool', 1)])).toEqual({
    '': [800 + 500 + 251, 0],
    loom: [400, 0],
    wool: [500 + 250, 500 + 250],
  })
})

it('sums to what was billed, whatever clicks there are', () => {
  const whole = judge(evidence, always).totals.sums
  const day = fc.constantFrom('2026-10-01', '2026-10-02', '2026-10-09')
  const some = fc.tuple(day, fc.constantFrom('', 'loom', 'wool', 'silk'), fc.integer({ min: 1, max: 9 }))
  fc.assert(
    fc.property(fc.array(some, { maxLength: 8 }), clicks => {
      const rows = rowsBy(clicks.map(one => counted(...one)))
      for (const key of ['spend', 'impressions', 'clicks'] as const)
        expect(rows.reduce((sum, row) => sum + row.sums[key], 0)).toBe(whole[key])
    }),
    { numRuns: 60 },
  )
})

it('is judged with all results as by itself', () => {
  const call = resultSchema.parse({
    id: 'call',
    name: 'Call',
    kind: 'call',
    currency: 'EUR',
    value: { by: 'fixed', amount: 5000 },
    count: 'every',
  })
  const records = {
    clicks: [click('k1', 1, { visitor_id: 'v1' })],
    orders: [order('o1', 5, { click_id: 'k1' }), order('c1', 6, { click_id: 'k1', result: 'call' })],
    delivery: [delivery('2026-10-01', { spend: '10.00' })],
    definitions: [call],
  }
  const among = evidenceAmong(records, 'order', one => gatherEvidence(dataset(records, { margin: 0.5 }, one)))
  const parted = bySegment(among, 'keyword', () => 'loom', [counted('2026-10-01', 'loom', 2)])
  const [loom] = judgeByPart(parted, always, PART, '').filter(row => row.id === 'loom')
  expect(loom!.sums.spend).toBe(1000)
  expect(loom!.restsOn).toMatchObject({ sums: { spend: 1000, estimatedTenths: 20 } })
  expect(loom!.verdict.because).not.toBe('no_spend')
})

it('lets what is shared be judged and listed, which has no verdict without', () => {
  const wool = (clicks?: CountedSegment[]) => rowsBy(clicks).find(row => row.id === 'wool')
  expect(wool()).toBeUndefined()
  const dear = rowsBy([counted('2026-10-01', 'wool', 5)]).find(row => row.id === 'wool')!
  expect(dear.verdict.because).not.toBe('no_spend')
  expect(listedSegments([{ ...dear, verdict: { ...dear.verdict, kind: 'cut' } }], 'norrfeed')).toMatchObject([
    { value: 'wool', action: 'exclude', spend: 1501 },
  ])
})
