import { describe, expect, it } from 'vitest'
import { parseDay } from '@/core/shared/days'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { always, claim, click, dataset, delivery, order, type Rows } from '../evidence/sampleRecords'
import { bySegment, clicksOfOrders } from './bySegment'
import { type Evidence, evidenceFrom, gatherEvidence } from './evidence'
import { judge, judgeByPart } from './judge'
import { openFigure } from './openFigure'
import type { JudgedRow } from './rows'
import { asSegment, type SegmentKind, segmentOfPart, segmentPart } from './segments'

const end = parseDay('2026-11-18')!
const market = simulateMarket({ seed: 21, days: 24, scale: 0.5, end })
const periods = [
  { from: end - 23, to: end },
  { from: end - 23, to: end - 12 },
  { from: end - 11, to: end },
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

  it.each([
    ['keyword', { keyword: ' Table Loom ' }, 'table loom'],
    ['match_type', { match_type: 'Phrase' }, 'phrase'],
    ['placement', { placement: 'feed' }, 'feed'],
    ['source', { source: 's9' }, 's9'],
    ['landing_page', { placement: 'feed' }, ''],
    ['offer', { source: 's9' }, ''],
    ['saved_link', { keyword: 'x' }, ''],
    ['hour', { device: 'phone' }, ''],
    ['weekday', {}, '4'],
  ] as const)('by %s take spend by what the report says of it, where it can', (kind, said, segment) => {
    const of = gatherEvidence(dataset({ delivery: [delivery('2026-10-01', said)] }))
    expect(
      heads(
        bySegment(of, kind, () => ''),
        kind,
        always,
      ).map(row => [row.id, row.sums.spend]),
    ).toEqual([[segment, 1000]])
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

  it('are judged by what they spent beside one another, and what no report splits is not', () => {
    const delivery = market.delivery.map((row, i) => ({
      ...row,
      device: i % 4 === 0 ? '' : i % 2 ? 'phone' : 'desktop',
    }))
    const of = evidenceOfMarket({ ...market, delivery })
    const rows = heads(bySegment(of, 'device', saying(of, 'device')), 'device')
    const row = (id: string) => rows.find(one => one.id === id)!
    expect([row('').verdict.kind, row('').line]).toEqual(['wait', null])
    expect(row('phone').verdict.probability).toBeGreaterThan(row('desktop').verdict.probability!)
    expect(row('phone').verdict.kind).toBe('raise')
  })

  it('of time stand as they follow one another, without a click last', () => {
    const idsOf = (kind: SegmentKind) => heads(parted('rows', kind), kind).map(row => row.id)
    expect(idsOf('weekday')).toEqual(['1', '2', '3', '4', '5', '6', '7', ''])
    const hours = idsOf('hour')
    expect(hours.at(-1)).toBe('')
    expect(hours.slice(0, -1)).toEqual(hours.slice(0, -1).sort((a, b) => Number(a) - Number(b)))
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

describe('what an ad has without a click', () => {
  const clicks: Record<string, string> = {}
  /** Orders by click: so many of each segment, of an ad. */
  const tracked = (ad: string, counts: Record<string, number>) =>
    Object.entries(counts).flatMap(([segment, count]) =>
      Array.from({ length: count }, (_, i) => {
        const id = `${ad}-${segment}-${i}`
        clicks[id] = segment
        return { click: click(id, 1, { ad_id: ad }), order: order(id, 2, { click_id: id }) }
      }),
    )
  /** Parts of an ad's leaf with what of one claimed order, and of half an unseen one, is theirs. */
  const partedOf = (ads: Record<string, Record<string, number>>, ad: string, settings = {}) => {
    const pairs = Object.entries(ads).flatMap(([id, counts]) => tracked(id, counts))
    const plain = gatherEvidence(
      dataset(
        {
          clicks: pairs.map(pair => pair.click),
          orders: [...pairs.map(pair => pair.order), order('open', 3)],
          delivery: Object.keys(ads).map(id => delivery('2026-10-01', { ad_id: id })),
        },
        settings,
      ),
    )
    const { data, placements, matches, estimate } = plain
    const leaf = data.tree.leaves.findIndex(one => one.ad === ad)
    const open = data.orders.findIndex(one => one.order_id === 'open')
    const claimed = { order: open, leaf, seen: 0.8, certain: false, unseen: 0.5, variance: 0.1 }
    const certain = estimate.shares.filter(share => share.certain).map(share => ({ ...share, unseen: 0 }))
    const before = evidenceFrom(data, placements, matches, () => ({
      ...estimate,
      shares: [...certain, claimed],
    }))
    const of = bySegment(before, 'device', one => clicks[data.clicks.ids[one]!] ?? '')
    const parts = of.estimate.shares.filter(share => share.order === open)
    return parts.map(({ leaf: part, certain: sure, ...share }) => ({
      ...share,
      sure,
      segment: of.data.tree.leaves[part]!.parts?.[segmentPart('device')] ?? '',
      ad: of.data.tree.leaves[part]!.ad,
      doubt: of.estimate.doubts.parting![part]!,
      weight: of.estimate.doubts.weight[part]! === estimate.doubts.weight[leaf],
      ambiguity: of.estimate.doubts.ambiguity[part]! === estimate.doubts.ambiguity[leaf],
    }))
  }
  const sharesOf = (parts: ReturnType<typeof partedOf>) =>
    Object.fromEntries(parts.map(({ segment, seen }) => [segment, seen / 0.8]))

  it('goes by its own tracked orders where it stands alone, with what that leaves open', () => {
    const parts = partedOf({ a1: { phone: 6, desktop: 2 } }, 'a1')
    expect(parts.map(one => one.segment)).toEqual(['phone', 'desktop'])
    const common = { order: 8, sure: false, ad: 'a1', weight: true, ambiguity: true }
    // Alone it differs from nobody: its shares are as sure as a thousand orders more would make them.
    const rest = 6 + 2 + 1000 + 1
    expect(parts[0]).toEqual({
      ...common,
      segment: 'phone',
      seen: expect.closeTo(0.8 * 0.75, 9),
      unseen: expect.closeTo(0.5 * 0.75, 9),
      variance: expect.closeTo(0.75 ** 2 * 0.1 + 0.75 * 0.25 * (0.1 + 0.64), 9),
      doubt: expect.closeTo(0.25 / (0.75 * rest), 12),
    })
    expect(parts[1]).toMatchObject({
      seen: expect.closeTo(0.8 * 0.25, 9),
      unseen: expect.closeTo(0.5 * 0.25, 9),
      doubt: expect.closeTo(0.75 / (0.25 * rest), 12),
    })
  })
  it('goes by those of its network where it has none', () => {
    expect(sharesOf(partedOf({ a1: { phone: 3, tablet: 1 }, a2: {} }, 'a2'))).toEqual({
      phone: expect.closeTo(0.75, 9),
      tablet: expect.closeTo(0.25, 9),
    })
  })
  it('is drawn to those of its network by as much as ads are alike', () => {
    // Nothing in common: the common shares stand for one order.
    const apart = { a1: { phone: 40 }, a2: { desktop: 40 } }
    expect(sharesOf(partedOf(apart, 'a1'))).toEqual({
      phone: expect.closeTo(40.5 / 41, 9),
      desktop: expect.closeTo(0.5 / 41, 9),
    })
    // Beyond chance by (2 · 2 · (144 − 10)) of (2 · 2 · 390): they stand for 390 / 134 − 1 orders.
    const near = { a1: { phone: 32, desktop: 8 }, a2: { phone: 8, desktop: 32 } }
    const strength = 390 / 134 - 1
    expect(sharesOf(partedOf(near, 'a1')).phone).toBeCloseTo((32 + strength / 2) / (40 + strength), 9)
    // As chance would have it: for a thousand.
    const alike = { a1: { phone: 20, desktop: 21 }, a2: { phone: 21, desktop: 20 } }
    expect(sharesOf(partedOf(alike, 'a1')).phone).toBeCloseTo(520 / 1041, 9)
  })
  it('leaves out what is next to nothing', () => {
    expect(sharesOf(partedOf({ a1: { phone: 600, tablet: 1 } }, 'a1'))).toEqual({ phone: 1 })
    expect(Object.keys(sharesOf(partedOf({ a1: { phone: 300, tablet: 1 } }, 'a1')))).toEqual([
      'phone',
      'tablet',
    ])
  })
  it('stays the ad’s where no click says anything', () => {
    expect(partedOf({ a1: {} }, 'a1')).toMatchObject([{ segment: '', seen: 0.8, unseen: 0.5, variance: 0.1 }])
  })
})

describe('a claim', () => {
  it('stands under the segment of the ad’s last click before its order, or under none', () => {
    const rows: Rows = {
      delivery: [delivery('2026-10-01'), delivery('2026-10-01', { ad_id: 'a2' })],
      clicks: [
        click('first', 1, { visitor_id: 'v' }),
        click('second', 2, { visitor_id: 'v' }),
        click('other', 3, { visitor_id: 'v', ad_id: 'a2' }),
      ],
      orders: [order('o', 5, { visitor_id: 'v' }), order('p', 6)],
      claimRows: [
        claim(5, { transaction_id: 'o' }),
        claim(6, { transaction_id: 'p' }),
        claim(7, { transaction_id: 'nobody' }),
      ],
    }
    const of = gatherEvidence(dataset(rows))
    const parted = bySegment(of, 'placement', one => of.data.clicks.ids[one]!)
    const placeOf = (leaf: number) => [
      parted.data.tree.leaves[leaf]!.ad,
      parted.data.tree.leaves[leaf]!.parts?.[segmentPart('placement')] ?? '',
    ]
    expect(parted.data.claims.map(one => [one.transaction, ...placeOf(one.leaf)])).toEqual([
      ['o', 'a1', 'second'],
      ['p', 'a1', ''],
      ['nobody', 'a1', ''],
    ])
    expect(parted.placements[0]!.credits.map(({ leaf }) => placeOf(leaf))).toEqual([['a2', 'other']])
  })
})

describe('a segment', () => {
  it('of weekdays and hours is that of the click, in the workspace’s zone', () => {
    // The first of October 2026 was a Thursday; at 23:30 UTC it is Friday in Lisbon.
    const rows: Rows = {
      clicks: [click('late', 23.5), click('early', 0.25)],
      orders: [order('o', 30, { click_id: 'late' }), order('p', 30, { click_id: 'early' })],
    }
    const of = gatherEvidence(dataset(rows, { time_zone: 'Europe/Lisbon' }))
    const saidOf = (kind: SegmentKind) => {
      const parted = bySegment(of, kind, () => 'nothing')
      return parted.placements.map(
        ({ credits }) => parted.data.tree.leaves[credits[0]!.leaf]!.parts?.[segmentPart(kind)],
      )
    }
    expect(saidOf('weekday')).toEqual(['5', '4'])
    expect(saidOf('hour')).toEqual(['0', '1'])
  })
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
