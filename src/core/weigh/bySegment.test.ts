import { describe, expect, it } from 'vitest'
import { parseDay } from '@/core/shared/days'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { bySegment, clicksOfOrders } from './bySegment'
import type { Evidence } from './evidence'
import { judge, judgeByPart } from './judge'
import { openFigure } from './openFigure'
import type { JudgedRow } from './rows'
import { asSegment, type SegmentKind, segmentOfPart, segmentPart } from './segments'

const end = parseDay('2026-11-18')!
const market = simulateMarket({ seed: 21, days: 40, scale: 1, end })
const periods = [
  { from: end - 39, to: end },
  { from: end - 39, to: end - 20 },
  { from: end - 19, to: end },
]
const whole = periods[0]!

let known: Record<'rows' | 'sums', Evidence> | undefined
const evidence = (claims: 'rows' | 'sums'): Evidence => {
  known ??= { rows: evidenceOfMarket(market, 'rows'), sums: evidenceOfMarket(market, 'sums') }
  return known[claims]
}
const rowOf = new Map(market.clicks.map(click => [click.click_id, click]))
const saying = (of: Evidence, kind: SegmentKind) => (click: number) =>
  String(rowOf.get(of.data.clicks.ids[click]!)?.[kind] ?? '')
const parted = (claims: 'rows' | 'sums', kind: SegmentKind) => {
  const of = evidence(claims)
  return bySegment(of, kind, saying(of, kind))
}
const heads = (of: Evidence, kind: SegmentKind, period = whole, network = '') =>
  judgeByPart(of, period, segmentPart(kind), network).filter(row => row.level === 'part')
const sum = (rows: readonly JudgedRow[], figure: keyof JudgedRow['sums']) =>
  rows.reduce((all, row) => all + row.sums[figure], 0)
const figures = [
  'spend',
  'impressions',
  'clicks',
  'claimed',
  'claimedValue',
  'provenCredit',
  'taggedCredit',
  'trackedValue',
  'estimatedTenths',
  'estimatedValue',
] as const
const cases = (['rows', 'sums'] as const).flatMap(claims =>
  (['placement', 'keyword', 'device', 'weekday', 'hour'] as const).map(kind => ({ claims, kind })),
)

describe('segments', () => {
  it.each(cases)(
    'by $kind sum to the account, each network and each campaign, of claims as $claims',
    ({ claims, kind }) => {
      const of = parted(claims, kind)
      for (const period of periods) {
        const all = judge(evidence(claims), period)
        for (const { network, sums } of [...all.networks, all.totals]) {
          const rows = heads(of, kind, period, network)
          for (const figure of figures)
            expect([network, figure, sum(rows, figure)]).toEqual([network, figure, sums[figure]])
        }
        const below = judgeByPart(of, period, segmentPart(kind), '').filter(row => row.level === 'campaign')
        for (const { id, level, sums } of all.rows) {
          if (level !== 'campaign') continue
          const own = below.filter(row => row.id === id)
          for (const figure of figures)
            expect([id, figure, sum(own, figure)]).toEqual([id, figure, sums[figure]])
        }
      }
    },
  )

  it('hold the proven orders of their own clicks', () => {
    const of = parted('rows', 'device')
    const { data, placements } = evidence('rows')
    const own = new Map<string, number>()
    data.orders.forEach(({ counts }, o) => {
      if (!counts || placements[o]!.grade !== 'proven') return
      for (const { click, share } of placements[o]!.credits) {
        const device = String(rowOf.get(data.clicks.ids[click]!)!.device)
        own.set(device, (own.get(device) ?? 0) + share)
      }
    })
    const shown = heads(of, 'device').map(row => [row.id, row.sums.provenCredit] as const)
    expect(new Map(shown.filter(([, credit]) => credit > 0))).toEqual(own)
  })

  it('open to the figures that they show, down to their campaigns', () => {
    const of = parted('sums', 'placement')
    for (const row of heads(of, 'placement', periods[1]!)) {
      const scope = { part: segmentPart('placement'), value: row.id }
      const opened = (figure: Parameters<typeof openFigure>[1]) =>
        openFigure(of, figure, scope, periods[1]!).amount
      expect(opened('estimated')).toBeCloseTo(row.sums.estimatedTenths / 10, 9)
      expect(opened('proven')).toBeCloseTo(row.sums.provenCredit / 1e6, 9)
      expect(opened('claims')).toBe(row.sums.claimed)
      expect(opened('spend')).toBe(row.sums.spend)
    }
  })

  it('have a range that holds their estimate, the wider the less of their ads is tracked', () => {
    const widthOf = (row: JudgedRow) => (row.high - row.low) / Math.max(1, row.sums.estimatedTenths / 10)
    const total = judge(evidence('sums'), whole).totals
    const rows = heads(parted('sums', 'placement'), 'placement').filter(row => row.id !== '')
    expect(rows.length).toBeGreaterThan(3)
    for (const row of rows) {
      expect(row.low).toBeLessThanOrEqual(row.sums.estimatedTenths / 10)
      expect(row.high).toBeGreaterThanOrEqual(row.sums.estimatedTenths / 10)
      expect(widthOf(row)).toBeGreaterThan(widthOf(total))
    }
  })

  it('by weekday hold the spend of that day of the week', () => {
    const rows = heads(parted('rows', 'weekday'), 'weekday')
    const own = new Map<string, number>()
    for (const row of market.delivery) {
      const day = String(((new Date(`${row.date}T00:00Z`).getUTCDay() + 6) % 7) + 1)
      own.set(day, (own.get(day) ?? 0) + Math.round(Number(row.spend) * 100))
    }
    const shown = rows.filter(row => row.id !== '')
    expect(new Map(shown.map(row => [row.id, row.sums.spend]))).toEqual(own)
  })

  it('take the spend that a report splits, and leave the rest where nothing is said', () => {
    const delivery = market.delivery.map((row, i) =>
      i % 3 === 0 ? { ...row, device: i % 2 ? 'Phone' : 'tablet' } : row,
    )
    const of = evidenceOfMarket({ ...market, delivery })
    const rows = heads(bySegment(of, 'device', saying(of, 'device')), 'device')
    const spent = (said: string) =>
      delivery.reduce((all, row) => {
        const device = 'device' in row ? String(row.device).toLowerCase() : ''
        return device === said ? all + Math.round(Number(row.spend) * 100) : all
      }, 0)
    for (const said of ['phone', 'tablet', ''])
      expect([said, rows.find(row => row.id === said)?.sums.spend]).toEqual([said, spent(said)])
  })

  it('change nothing of the evidence that they part', () => {
    const of = evidence('rows')
    const before = JSON.stringify([of.data.tree, of.placements, of.estimate.shares.slice(0, 500)])
    bySegment(of, 'placement', saying(of, 'placement'))
    expect(JSON.stringify([of.data.tree, of.placements, of.estimate.shares.slice(0, 500)])).toBe(before)
  })

  it('ask for the clicks of orders that count, credited or before them', () => {
    const of = evidence('rows')
    const asked = new Set(clicksOfOrders(of))
    of.data.orders.forEach(({ counts }, o) => {
      const { touches, credits } = of.placements[o]!
      if (counts)
        for (const click of [...touches, ...credits.map(c => c.click)])
          if (click >= 0) expect(asked).toContain(click)
    })
    expect(asked.size).toBeLessThan(of.data.clicks.count)
  })
})

describe('a segment', () => {
  it('has a part of its own, which is none of names', () => {
    expect(segmentOfPart(segmentPart('keyword'))).toBe('keyword')
    expect(segmentOfPart('campaign.keyword')).toBeNull()
    expect(segmentOfPart(undefined)).toBeNull()
  })
  it('is the same however a keyword or a device is written, and as it is written otherwise', () => {
    expect(asSegment('keyword', ' Table Loom ')).toBe('table loom')
    expect(asSegment('device', 'Phone')).toBe('phone')
    expect(asSegment('placement', ' Feed ')).toBe('Feed')
    expect(asSegment('source', null)).toBe('')
  })
})
