import { describe, expect, it } from 'vitest'
import { claimCauses, orderCauses } from '@/core/evidence/causes'
import { WHOLE } from '@/core/evidence/place'
import { namingRuleSchema } from '@/core/links/naming'
import { formatDay, parseDay } from '@/core/shared/days'
import { readNames } from '@/core/weigh/byPart'
import { evidenceFrom } from '@/core/weigh/evidence'
import { addSums, noSums } from '@/core/weigh/figures'
import type { Figure } from '@/core/weigh/openings'
import { type JudgedRow, scopeOf } from '@/core/weigh/rows'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { withoutEstimate } from './namesOfViews'
import { conversionsView, provenCreditsView, readings, unknownSourcesView } from './views'
import { figureView } from './views/figure'
import { judgeView } from './views/judged'
import { orderEvidenceView, orderView } from './views/order'
import { reconcileBelowView, reconcileView, type Section } from './views/reconcile'
import { trendView } from './views/trend'
import { adFiguresView, weighBelowView, weighView } from './views/weigh'

const END = parseDay('2026-11-15')!
const evidence = evidenceOfMarket(simulateMarket({ seed: 5, days: 40, scale: 0.5, end: END }))
const period = { from: END - 27, to: END }
const all = { period, scope: {} }
const networks = evidence.data.tree.networks
const sumOf = (rows: readonly JudgedRow[]) => rows.reduce((sum, row) => addSums(sum, row.sums), noSums())
const below: JudgedRow[] = JSON.parse(weighBelowView(evidence, all))
const rowsOf = { campaign: weighView(evidence, all).campaigns } as Record<string, JudgedRow[]>
for (const row of below) (rowsOf[row.level] ??= []).push(row)

describe('figures of one screen and of another', () => {
  it('sum to the totals at each level, and for each network', () => {
    const { totals } = weighView(evidence, all)
    expect(totals.sums.spend).toBeGreaterThan(0)
    expect(totals.sums.claimed).toBeGreaterThan(0)
    for (const level of ['campaign', 'ad_set', 'ad']) expect(sumOf(rowsOf[level]!)).toEqual(totals.sums)
    const each = networks.map(network => weighView(evidence, { period, scope: { network } }))
    expect(sumOf(each.map(v => v.totals))).toEqual(totals.sums)
    for (const view of each) expect(sumOf(view.campaigns)).toEqual(view.totals.sums)
    const nobody = weighView(evidence, { period, scope: { network: 'nobody' } })
    expect([nobody.totals.sums, nobody.campaigns]).toEqual([noSums(), []])
  })

  /** The figures of a row as Weigh shows them, worked out from its sums. */
  const shownOf = ({ sums }: JudgedRow): Partial<Record<Figure, number | null>> => {
    const tracked = (sums.provenCredit + sums.taggedCredit) / WHOLE
    const told = sums.spend + sums.impressions + sums.clicks > 0
    const per = (results: number) => (told && results > 0 ? sums.spend / results : null)
    return {
      spend: sums.spend,
      impressions: sums.impressions,
      clicks: sums.clicks,
      claims: sums.claimed,
      proven: sums.provenCredit / WHOLE,
      tagged: sums.taggedCredit / WHOLE,
      tracked,
      estimated: sums.estimatedTenths / 10,
      cost_claimed: per(sums.claimed),
      cost_tracked: per(tracked),
      cost: per(sums.estimatedTenths / 10),
      roas: sums.spend > 0 ? sums.estimatedValue / sums.spend : null,
    }
  }

  it.each(['last_click', 'even', 'time_decay'] as const)(
    'are what opens behind them, with %s credit',
    credit => {
      const market = simulateMarket({ seed: 5, days: 40, scale: 0.3, end: END })
      const judged = evidenceOfMarket({ ...market, settings: { ...market.settings, credit } })
      const { campaigns, totals } = weighView(judged, all)
      const rows: JudgedRow[] = [totals, ...campaigns, ...JSON.parse(weighBelowView(judged, all))]
      let shared = 0
      for (const row of rows) {
        const scope = scopeOf(row)
        for (const [figure, shown] of Object.entries(shownOf(row))) {
          const opened = figureView(judged, { period, scope, figure: figure as Figure })
          if (shown === null) expect([figure, opened.amount]).toEqual([figure, null])
          else expect([figure, opened.amount]).toEqual([figure, expect.closeTo(shown, 6)])
          // What is listed adds up to what is shown.
          if (figure === 'proven' || figure === 'tracked') {
            expect(opened.orderParts).toBeCloseTo(shown ?? 0, 5)
            if (opened.orderCount - opened.orderParts > 0.01) shared += 1
          }
          if (figure === 'estimated')
            expect(Math.abs(opened.orderParts + opened.orderAdded - shown!)).toBeLessThan(0.05 * rows.length)
          if (figure === 'tracked') expect(opened.worth).toBe(row.sums.trackedValue)
          if (figure === 'estimated') expect(opened.worth).toBe(row.sums.estimatedValue)
          if (figure === 'claims') expect(opened.claimValue).toBe(row.sums.claimedValue)
        }
      }
      // Only where credit is shared is a part of an order in a figure.
      expect(shared > 0).toBe(credit !== 'last_click')
    },
  )

  it('say of a ratio what stands over what', () => {
    const { parts } = figureView(evidence, { ...all, figure: 'cost' })
    const { sums } = weighView(evidence, all).totals
    expect(parts).toEqual({
      over: { figure: 'spend', amount: sums.spend, worth: false },
      under: { figure: 'estimated', amount: expect.closeTo(sums.estimatedTenths / 10, 6), worth: false },
    })
    const roas = figureView(evidence, { ...all, figure: 'roas' })
    expect(roas.parts!.over).toEqual({ figure: 'estimated', amount: sums.estimatedValue, worth: true })
  })

  it('go to their last record, page by page', () => {
    const ids = new Set<string>()
    const { orderCount } = figureView(evidence, { ...all, figure: 'orders' })
    for (let skip = 0; skip < orderCount; skip += 300)
      for (const order of figureView(evidence, { ...all, figure: 'orders', skip }).orders) ids.add(order.id)
    expect(orderCount).toBeGreaterThan(300)
    expect(ids.size).toBe(orderCount)
  })

  it('of capture are those that open, and mean the same in every view', () => {
    const { captures } = reconcileView(evidence, all)
    const weighed = weighView(evidence, all).captures
    for (const { network, networkCapture, ownCapture } of captures) {
      const open = (figure: Figure) => figureView(evidence, { period, scope: { network }, figure }).amount
      expect(open('network_capture')).toBeCloseTo(networkCapture!, 9)
      expect(open('own_capture')).toBeCloseTo(ownCapture!, 9)
      expect(weighed[network]).toBe(networkCapture)
      const { whole } = trendView(evidence, { ...all, path: [network], length: 7 })
      for (const stretch of whole.stretches)
        if (stretch.capture !== null) expect(stretch.capture).toBeLessThanOrEqual(1)
    }
  })

  it('never estimate fewer orders than are proven, nor more than count', () => {
    const { totals } = weighView(evidence, all)
    const orders = figureView(evidence, { ...all, figure: 'orders' }).orderCount
    expect(totals.sums.estimatedTenths).toBeLessThanOrEqual(orders * 10 + 1)
    for (const row of rowsOf.ad!) {
      expect(row.sums.estimatedTenths * WHOLE + 1).toBeGreaterThanOrEqual(row.sums.provenCredit * 10)
      expect(row.low).toBeLessThanOrEqual(row.sums.estimatedTenths / 10)
      expect(row.high).toBeGreaterThanOrEqual(row.sums.estimatedTenths / 10)
    }
  })

  it('of the library are those of Weigh', () => {
    const ads = rowsOf.ad!.slice(0, 5)
    const figures = adFiguresView(evidence, { period, ads: ads.map(ad => `${ad.network}/${ad.id}`) })
    expect(figures).toHaveLength(5)
    for (const ad of ads)
      expect(figures.find(f => f.ad === `${ad.network}/${ad.id}`)).toMatchObject({
        spend: ad.sums.spend,
        orders: ad.sums.estimatedTenths / 10,
      })
  })

  it('of the report are those of the screen, in money of the currency', () => {
    const report = judgeView(evidence, { period, level: 'campaign' })
    const campaigns = weighView(evidence, all).campaigns
    for (const row of report.rows) {
      const shown = campaigns.find(c => c.id === row.id && c.network === row.network)
      expect(row.spend).toBeCloseTo(shown!.sums.spend / 100, 10)
    }
    expect(report.rows).toHaveLength(campaigns.length)
  })
})

describe('the gap', () => {
  const view = reconcileView(evidence, all)
  it('is explained to the last order and claim, as a whole and in each part', () => {
    const parts = [view.gap, ...view.sections.map(s => s.gap), ...(view.unplaced ? [view.unplaced] : [])]
    for (const { orders, claims, causes } of parts) {
      const of = (names: readonly string[], sign: number) =>
        causes.filter(line => names.includes(line.cause)).reduce((sum, line) => sum + sign * line.count, 0)
      expect(orders - claims).toBe(of(orderCauses, 1) + of(claimCauses, -1))
    }
  })

  it('opens each cause to as many orders or claims as it counts', () => {
    for (const { cause, count, value, pairs } of view.gap.causes) {
      const opened = figureView(evidence, { ...all, figure: cause })
      if (pairs === undefined) expect(opened.orderCount + opened.claimCount).toBe(count)
      else expect([opened.orderCount, opened.claimCount]).toEqual([pairs, pairs])
      expect([opened.amount, opened.worth]).toEqual([pairs ?? count, value])
    }
  })

  it('is the sum of its days', () => {
    const { days, gap } = view
    const sum = (pick: (day: (typeof days)[number]) => number) => days.reduce((s, day) => s + pick(day), 0)
    expect(sum(d => d.orders)).toBe(gap.orders)
    expect(sum(d => d.claims)).toBe(gap.claims)
    expect(days.map(d => d.day)).toEqual(days.map(d => d.day).sort())
    expect(days.at(-1)!.day <= formatDay(END)).toBe(true)
  })

  it('of networks is that of their campaigns', () => {
    for (const network of networks) {
      const own = view.sections.filter(s => s.path[0] === network)
      const whole = own.find(s => s.path.length === 1)
      const parts = own.filter(s => s.path.length === 2)
      expect(parts.reduce((sum, s) => sum + s.gap.claims, 0)).toBe(whole!.gap.claims)
      expect(parts.reduce((sum, s) => sum + s.gap.orders, 0)).toBe(whole!.gap.orders)
    }
  })

  it('of each part is that of the parts below it, cause by cause, down to the ads', () => {
    const sections = [...view.sections, ...(JSON.parse(reconcileBelowView(evidence, all)) as Section[])]
    const numbers = ({ gap }: Section) => [
      ...[gap.orders, gap.ordersValue, gap.claims, gap.claimsValue, gap.matched],
      ...gap.causes.flatMap(({ count, value, pairs = 0 }) => [count, value, pairs]),
    ]
    expect(sections.filter(s => s.path.length === 4).length).toBeGreaterThan(10)
    for (const whole of sections.filter(s => s.path.length < 4)) {
      const depth = whole.path.length
      const parts = sections.filter(
        s => s.path.length === depth + 1 && whole.path.every((id, i) => s.path[i] === id),
      )
      const sum = parts.map(numbers).reduce((a, b) => a.map((n, i) => n + b[i]!))
      expect(sum, whole.path.join(' › ')).toEqual(numbers(whole))
    }
  })
})

describe('what needs no estimate', () => {
  it('is answered without one', () => {
    const { data, placements, matches } = evidence
    const bare = evidenceFrom(data, placements, matches, () => {
      throw new Error('estimated')
    })
    const id = data.orders[0]!.order_id
    const answers: Partial<Record<(typeof withoutEstimate)[number], () => unknown>> = {
      order: () => orderView(bare, id),
      orderEvidence: () => orderEvidenceView(bare, [id]),
      unknownSources: () => unknownSourcesView(bare, null),
      provenCredits: () => provenCreditsView(bare, all),
      conversions: () => conversionsView(bare, all),
    }
    for (const view of withoutEstimate.filter(name => !(name in readings)))
      expect([view, answers[view]!()]).toEqual([view, expect.anything()])
    expect(() => weighView(bare, all)).toThrow('estimated')
  })
})

describe('one order', () => {
  it('says the same where it stands in a list and where it is opened', () => {
    const { orders } = figureView(evidence, { ...all, figure: 'proven' })
    expect(orders.length).toBeGreaterThan(10)
    for (const { fate: _, part: __, added: ___, ...line } of orders.slice(0, 10)) {
      expect(orderEvidenceView(evidence, [line.id])).toEqual([line])
      const opened = orderView(evidence, line.id)!
      expect(opened.line).toEqual(line)
      expect(opened.touches.length).toBeGreaterThanOrEqual(line.touches)
      expect(line.credits.reduce((sum, credit) => sum + credit.share, 0)).toBeCloseTo(1, 6)
    }
  })
  it('is nothing when nobody knows it', () => {
    expect(orderView(evidence, 'none')).toBeNull()
    expect(orderEvidenceView(evidence, ['none'])).toEqual([])
  })
})

describe('a scope', () => {
  const rule = namingRuleSchema.parse({
    level: 'campaign',
    separator: ' ',
    parts: [
      { name: 'theme', kind: 'text' },
      { name: 'kind', kind: 'text' },
    ],
  })
  it('of a part of names holds within a network too, and opens to its figures', () => {
    const tree = readNames(evidence.data.tree, [rule])
    const named = { ...evidence, data: { ...evidence.data, tree } }
    const [network] = networks
    const narrowed = { period, scope: { network: network! } }
    const { byPart, totals } = weighView(named, { ...narrowed, by: 'campaign.theme' })
    const heads = byPart!.filter(row => row.level === 'part')
    expect(sumOf(heads)).toEqual(totals.sums)
    for (const head of heads) {
      expect(scopeOf(head)).toEqual({ network, part: 'campaign.theme', value: head.id })
      expect(figureView(named, { period, scope: scopeOf(head), figure: 'claims' }).claimCount).toBe(
        head.sums.claimed,
      )
    }
  })
})
