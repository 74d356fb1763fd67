import { describe, expect, it } from 'vitest'
import { claimCauses, orderCauses } from '@/core/evidence/gap'
import { WHOLE } from '@/core/evidence/place'
import { namingRuleSchema } from '@/core/links/naming'
import { formatDay, parseDay } from '@/core/shared/days'
import { nameLeaves } from '@/core/weigh/byPart'
import { addSums, noSums } from '@/core/weigh/figures'
import type { JudgedRow } from '@/core/weigh/judge'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import {
  adFiguresView,
  figureView,
  judgeView,
  orderEvidenceView,
  orderView,
  reconcileView,
  weighBelowView,
  weighView,
} from './views'

const END = parseDay('2026-11-15')!
const evidence = evidenceOfMarket(simulateMarket({ seed: 5, days: 40, scale: 0.5, end: END }))
const period = { from: END - 27, to: END }
const all = { period, scope: {} }
const networks = evidence.data.tree.networks
const scopeOf = (row: JudgedRow) => {
  const [network, campaign, ad_set, ad] = row.key.split('\u001f')
  return {
    network: network!,
    campaign: campaign!,
    ...(ad_set === undefined ? {} : { ad_set }),
    ...(ad === undefined ? {} : { ad }),
  }
}
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

  it('are what opens behind them, for every campaign, ad set and ad', () => {
    for (const row of [...rowsOf.campaign!, ...below]) {
      const scope = scopeOf(row)
      const open = (figure: 'claims' | 'estimated' | 'spend' | 'proven') =>
        figureView(evidence, { period, scope, figure })
      expect(open('claims').claimCount).toBe(row.sums.claimed)
      expect(open('claims').claimValue).toBe(row.sums.claimedValue)
      expect(open('spend').delivery).toMatchObject({
        spend: row.sums.spend,
        impressions: row.sums.impressions,
        clicks: row.sums.clicks,
      })
      const { seen, unseen } = open('estimated')
      expect(Math.abs((seen + unseen) * 10 - row.sums.estimatedTenths)).toBeLessThan(rowsOf.ad!.length)
      // Under this rule a credit is a whole order.
      expect(open('proven').orderCount).toBe(row.sums.provenCredit / WHOLE)
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
    for (const { cause, count, pairs } of view.gap.causes) {
      const opened = figureView(evidence, { ...all, figure: cause })
      if (pairs === undefined) expect(opened.orderCount + opened.claimCount).toBe(count)
      else expect([opened.orderCount, opened.claimCount]).toEqual([pairs, pairs])
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
      const own = view.sections.filter(s => s.network === network)
      const whole = own.find(s => s.campaign === null)
      const parts = own.filter(s => s.campaign !== null)
      expect(parts.reduce((sum, s) => sum + s.gap.claims, 0)).toBe(whole!.gap.claims)
      expect(parts.reduce((sum, s) => sum + s.gap.orders, 0)).toBe(whole!.gap.orders)
    }
  })
})

describe('one order', () => {
  it('says the same where it stands in a list and where it is opened', () => {
    const { orders } = figureView(evidence, { ...all, figure: 'proven' })
    expect(orders.length).toBeGreaterThan(10)
    for (const { fate: _, ...line } of orders.slice(0, 10)) {
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
    nameLeaves(evidence.data.tree, [rule])
    const [network] = networks
    const narrowed = { period, scope: { network: network! } }
    const { byPart, totals } = weighView(evidence, { ...narrowed, by: 'campaign.theme' })
    const heads = byPart!.filter(row => row.level === 'part')
    expect(sumOf(heads)).toEqual(totals.sums)
    for (const head of heads) {
      const scope = { network: network!, part: 'campaign.theme', value: head.id }
      expect(figureView(evidence, { period, scope, figure: 'claims' }).claimCount).toBe(head.sums.claimed)
    }
  })
})
