import { describe, expect, it } from 'vitest'
import { parseDay } from '@/core/shared/days'
import { bySegment } from '@/core/weigh/bySegment'
import { judge, judgeByPart } from '@/core/weigh/judge'
import { segmentPart } from '@/core/weigh/segments'
import { evidenceOfMarket } from './evidenceOfMarket'
import { type Market, simulateMarket } from './simulate'

const END = parseDay('2026-11-15')!
const always = { from: -1e6, to: 1e6 }

const judged = (market: Market) => judge(evidenceOfMarket(market), always)

/** Every network under another name: nothing may hang on what it is called. */
function renamed(market: Market): Market {
  const name = (row: Record<string, string | number>) => ({
    ...row,
    ...('network' in row ? { network: `x-${row.network}` } : {}),
    ...(row.utm_source ? { utm_source: `x-${row.utm_source}` } : {}),
  })
  const settings = {
    ...market.settings,
    networks: (market.settings.networks as { id: string }[]).map(n => ({ ...n, id: `x-${n.id}` })),
  }
  const ads = market.truth.ads.map(a => ({ ...a, network: `x-${a.network}` }))
  return {
    ...market,
    delivery: market.delivery.map(name),
    clicks: market.clicks.map(name),
    orders: market.orders.map(name),
    claimRows: market.claimRows.map(name),
    settings,
    truth: { ...market.truth, ads },
  }
}

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!

const estimated = (row: { sums: { estimatedTenths: number } }) => row.sums.estimatedTenths / 10

describe('estimates against a truth that the application never sees', () => {
  const ofClaims = (claims: 'rows' | 'sums', seeds: number[]) => {
    const markets = seeds.map(seed => simulateMarket({ seed, days: 75, scale: 1, end: END }))
    if (claims === 'rows') markets.push(renamed(simulateMarket({ seed: 27, days: 60, scale: 1.5, end: END })))
    const evidence = markets.map(market => evidenceOfMarket(market, claims))
    const ads = markets.flatMap((market, i) => {
      const rows = new Map(
        judge(evidence[i]!, always)
          .rows.filter(r => r.level === 'ad')
          .map(r => [`${r.network}/${r.id}`, r]),
      )
      return market.truth.ads
        .filter(ad => ad.orders >= 5)
        .map(ad => ({ truth: ad.orders, row: rows.get(`${ad.network}/${ad.ad_id}`)! }))
    })
    const errorOf = (estimate: (row: (typeof ads)[number]['row']) => number) =>
      median(ads.map(({ truth, row }) => Math.abs(Math.log(estimate(row) / truth))))
    const held = ads.filter(({ truth, row }) => row.low <= truth && truth <= row.high).length / ads.length
    return { evidence, errorOf, held }
  }
  it('are within 4 % for the median ad, where claims and tracking alone are far off', () => {
    const { errorOf, held } = ofClaims('rows', [21, 22, 23, 24])
    expect(errorOf(estimated)).toBeLessThanOrEqual(0.04)
    expect(errorOf(row => row.sums.claimed)).toBeGreaterThan(0.1)
    expect(errorOf(row => (row.sums.provenCredit + row.sums.taggedCredit) / 1e6)).toBeGreaterThan(0.2)
    expect(held).toBeGreaterThanOrEqual(0.75)
    expect(held).toBeLessThanOrEqual(0.88)
  })
  it('are within 5.5 % where networks report sums by day and ad alone', () => {
    const { errorOf, held, evidence } = ofClaims('sums', [21, 23, 25, 26])
    expect(errorOf(estimated)).toBeLessThanOrEqual(0.055)
    expect(held).toBeGreaterThanOrEqual(0.7)
    expect(held).toBeLessThanOrEqual(0.9)
    for (const { data, estimate } of evidence) {
      const counting = data.orders.filter(order => order.counts).length
      expect(estimate.captures.reduce((sum, own) => sum + own.orders, 0)).toBeLessThan(counting)
      // Nobody’s order is counted twice, and every part of an ad stands on one.
      const seen = new Map<number, number>()
      for (const one of estimate.shares) seen.set(one.order, (seen.get(one.order) ?? 0) + one.seen)
      for (const [order, parts] of seen) {
        expect(parts).toBeLessThanOrEqual(1.02)
        expect(data.orders[order]!.counts).toBe(true)
      }
    }
  })
})

describe('segments against the same truth', () => {
  it.each(['rows', 'sums'] as const)('are estimated with ranges that hold it, of claims as %s', claims => {
    const segments = [21, 23, 25, 26].flatMap(seed => {
      const market = simulateMarket({ seed, days: 75, scale: 1, end: END })
      const evidence = evidenceOfMarket(market, claims)
      const said = new Map(market.clicks.map(({ click_id, placement }) => [click_id, String(placement)]))
      const parted = bySegment(
        evidence,
        'placement',
        click => said.get(evidence.data.clicks.ids[click]!) ?? '',
      )
      const rows = judgeByPart(parted, always, segmentPart('placement'), '').filter(
        row => row.level === 'campaign' && row.path[1] !== '',
      )
      return rows.map(row => ({
        row,
        truth: market.truth.orders.filter(
          ({ counts, campaign_id, placement }) =>
            counts && campaign_id === row.id && placement === row.path[1],
        ).length,
      }))
    })
    expect(segments.length).toBeGreaterThan(50)
    const held = segments.filter(({ row, truth }) => row.low <= truth && truth <= row.high).length
    expect(held / segments.length).toBeGreaterThanOrEqual(0.7)
    expect(held / segments.length).toBeLessThanOrEqual(0.92)
    const errors = segments.map(({ row, truth }) => Math.abs(Math.log(estimated(row) / truth)))
    expect(median(errors)).toBeLessThanOrEqual(0.06)
  })
})

describe('the demo market', () => {
  const market = simulateMarket({ seed: 11, days: 75, scale: 1, end: END })
  it('keeps spend to the cent and every order and claim', () => {
    const { totals, gap } = judged(market)
    const cents = market.delivery.reduce((sum, row) => sum + Math.round(Number(row.spend) * 100), 0)
    expect(totals.sums.spend).toBe(cents)
    expect(gap.orders).toBe(
      market.orders.filter(o => o.status === 'paid' || o.status === 'partially_refunded').length,
    )
    expect(gap.claims).toBe(market.claimRows.length)
  })
  it('tells its story: capture falls, claims repeat, networks share orders', () => {
    const { gap, rows } = judged(market)
    for (const cause of ['repeat', 'shared', 'view_only', 'does_not_count', 'no_such_order', 'not_seen'])
      expect(gap.causes.find(c => c.cause === cause)!.count, cause).toBeGreaterThan(5)
    expect(rows.find(r => r.name === 'Cold reach, wide')!.verdict.kind).toBe('cut')
  })
  it('is the same for the same seed, and another for another', () => {
    const orders = (seed: number) =>
      JSON.stringify(simulateMarket({ seed, days: 10, scale: 0.2, end: END }).orders)
    expect(orders(5)).toBe(orders(5))
    expect(orders(5)).not.toBe(orders(6))
  })
})

/** The shop's export alone: what our tracking knew of an order stands in the parameters of its landing page. */
function exportAlone(market: Market, without: readonly string[] = []): Market {
  const { data, placements } = evidenceOfMarket(market)
  const leafOf = new Map(
    data.orders.map(({ order_id }, o) => [order_id, placements[o]!.credits[0]?.leaf ?? -1]),
  )
  const nameOf = new Map(
    market.delivery.flatMap(row => [
      [row.campaign_id, row.campaign_name],
      [row.ad_set_id, row.ad_set_name],
    ]),
  )
  const orders = market.orders.map(row => {
    const leaf = data.tree.leaves[leafOf.get(String(row.order_id)) ?? -1]
    return {
      ...row,
      visitor_id: '',
      click_id: '',
      utm_source: leaf?.network ?? '',
      utm_campaign: nameOf.get(leaf?.campaign ?? '') ?? '',
      utm_term: nameOf.get(leaf?.adSet ?? '') ?? '',
      utm_content: leaf?.ad ?? '',
    }
  })
  const told = (row: Record<string, string | number>) => !without.includes(String(row.network))
  return {
    ...market,
    clicks: [],
    orders,
    claims: market.claims.filter(told),
    claimRows: market.claimRows.filter(told),
  }
}

describe('estimates of networks that report conversions above ads, or in parts', () => {
  const seeds = [31, 32]
  /** Sums of whole campaigns, or each conversion shared evenly by two ads. */
  const changed = {
    'by campaign': (market: Market) => {
      const campaignOf = new Map(market.delivery.map(row => [row.ad_id, row.campaign_id]))
      const sums = new Map<string, Record<string, string | number>>()
      for (const row of market.claims) {
        const campaign = String(campaignOf.get(row.ad_id ?? ''))
        const key = [row.date, row.network, campaign, row.conversion].join('/')
        const sum = sums.get(key)
        const add = (name: string) => Number(sum?.[name] ?? 0) + Number(row[name] || 0)
        sums.set(key, {
          ...row,
          ad_id: '',
          campaign_id: campaign,
          click_through: add('click_through'),
          view_through: add('view_through'),
          value: add('value').toFixed(2),
        })
      }
      return [...sums.values()]
    },
    'in parts': (market: Market) => {
      const ads = [...new Set(market.delivery.map(row => `${row.network}/${row.ad_id}`))]
      const other = (row: Record<string, string | number>) => {
        const own = ads.filter(ad => ad.startsWith(`${row.network}/`))
        return own[(own.indexOf(`${row.network}/${row.ad_id}`) + 1) % own.length]!.split('/')[1]!
      }
      const sums = new Map<string, Record<string, string | number>>()
      for (const row of market.claims)
        for (const [ad, share] of [
          [row.ad_id, 0.75],
          [other(row), 0.25],
        ] as const) {
          const key = [row.date, row.network, ad, row.conversion].join('/')
          const sum = sums.get(key)
          const add = (name: string) => Number(sum?.[name] ?? 0) + Number(row[name] || 0) * share
          sums.set(key, {
            ...row,
            ad_id: ad ?? '',
            click_through: add('click_through'),
            view_through: add('view_through'),
            value: add('value').toFixed(2),
          })
        }
      return [...sums.values()]
    },
  }
  it.each(Object.keys(changed) as (keyof typeof changed)[])('hold %s: of ads and of the whole', how => {
    const ads = seeds.flatMap(seed => {
      const market = simulateMarket({ seed, days: 60, scale: 1, end: END })
      const claims = changed[how](market) as Market['claims']
      const { rows, gap } = judge(evidenceOfMarket({ ...market, claims }, 'sums'), always)
      const plain = judge(evidenceOfMarket(market, 'sums'), always)
      // What networks claim in all is what their files say, in parts or whole.
      expect(gap.claims).toBeCloseTo(plain.gap.claims, 2)
      const byAd = new Map(
        rows.flatMap(r => (r.level === 'ad' ? [[`${r.network}/${r.id}`, r] as const] : [])),
      )
      return market.truth.ads
        .filter(ad => ad.orders >= 5)
        .map(ad => ({ truth: ad.orders, row: byAd.get(`${ad.network}/${ad.ad_id}`)! }))
    })
    expect(
      median(ads.map(({ truth, row }) => Math.abs(Math.log(estimated(row) / truth)))),
    ).toBeLessThanOrEqual(0.09)
    const held = ads.filter(({ truth, row }) => row.low <= truth && truth <= row.high).length / ads.length
    expect(held).toBeGreaterThanOrEqual(0.7)
    const sum =
      ads.reduce((all, { row }) => all + estimated(row), 0) / ads.reduce((all, { truth }) => all + truth, 0)
    expect(Math.abs(sum - 1)).toBeLessThanOrEqual(0.05)
  })
})

describe('estimates of a shop’s export and reports alone, without a click log', () => {
  const seeds = [31, 32, 33]
  const figures = (without: readonly string[], claims: 'rows' | 'sums') => {
    const ads = seeds.flatMap(seed => {
      const market = simulateMarket({ seed, days: 75, scale: 1, end: END })
      const evidence = evidenceOfMarket(exportAlone(market, without), claims)
      const rows = new Map(
        judge(evidence, always).rows.flatMap(r =>
          r.level === 'ad' ? [[`${r.network}/${r.id}`, r] as const] : [],
        ),
      )
      return market.truth.ads
        .filter(ad => ad.orders >= 5)
        .map(ad => ({ network: ad.network, truth: ad.orders, row: rows.get(`${ad.network}/${ad.ad_id}`)! }))
    })
    const of = (own: typeof ads) => ({
      off: median(own.map(({ truth, row }) => Math.abs(Math.log(estimated(row) / truth)))),
      sum:
        own.reduce((sum, { row }) => sum + estimated(row), 0) /
        own.reduce((sum, { truth }) => sum + truth, 0),
      held: own.filter(({ truth, row }) => row.low <= truth && truth <= row.high).length / own.length,
    })
    return { all: of(ads), silent: of(ads.filter(ad => without.includes(ad.network))) }
  }
  it('are within 8.5 % for the median ad, and sums within 6 %', () => {
    const { all } = figures([], 'sums')
    expect(all.off).toBeLessThanOrEqual(0.085)
    expect(Math.abs(all.sum - 1)).toBeLessThanOrEqual(0.06)
    expect(all.held).toBeGreaterThanOrEqual(0.7)
  })
  it('are nearly as good as with clicks where networks list their conversions', () => {
    const { all } = figures([], 'rows')
    expect(all.off).toBeLessThanOrEqual(0.05)
    expect(Math.abs(all.sum - 1)).toBeLessThanOrEqual(0.03)
  })
  it.each(['norrfeed', 'kelpie'])('hold of %s’s ads too where it reports no conversions', network => {
    const { all, silent } = figures([network], 'sums')
    expect(all.off).toBeLessThanOrEqual(0.11)
    expect(silent.off).toBeLessThanOrEqual(0.13)
    expect(Math.abs(silent.sum - 1)).toBeLessThanOrEqual(0.1)
    expect(silent.held).toBeGreaterThanOrEqual(0.65)
  })
  it('leave what is tracked as it was counted where no network reports conversions', () => {
    const market = simulateMarket({ seed: 31, days: 75, scale: 1, end: END })
    const evidence = evidenceOfMarket(exportAlone(market, ['norrfeed', 'kelpie', 'mothwire']), 'sums')
    const { totals } = judge(evidence, always)
    expect(evidence.estimate.findings.map(({ code }) => code)).toEqual(['nothing_claimed', 'by_parameters'])
    expect(totals.sums.estimatedTenths / 10).toBeCloseTo(totals.sums.taggedCredit / 1e6, 6)
    expect(totals.low).toBe(totals.high)
  })
  it('never pass what the shop booked', () => {
    for (const without of [[], ['kelpie'], ['kelpie', 'norrfeed']]) {
      const market = simulateMarket({ seed: 34, days: 30, scale: 0.5, end: END })
      const { data, estimate } = evidenceOfMarket(exportAlone(market, without), 'sums')
      const all = estimate.shares.reduce((sum, { seen, unseen }) => sum + seen + unseen, 0)
      expect(all).toBeLessThanOrEqual(data.orders.filter(order => order.counts).length)
    }
  })
})
