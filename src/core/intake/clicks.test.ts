import fc from 'fast-check'
import { expect, it } from 'vitest'
import { readRows, recordsOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { gatherEvidence } from '../weigh/evidence'
import { judge } from '../weigh/judge'
import { reportJudgement } from '../weigh/report'
import { type ClickColumns, type ClickFacts, clickColumns, gatherClicks } from './clicks'
import { buildDataset } from './dataset'
import { namedClicks } from './orderParameters'

const click = fc.record<ClickFacts>({
  click_id: fc.integer({ min: 0, max: 30 }).map(n => `k${n}`),
  clicked_at: fc.integer({ min: 0, max: 50 }),
  network: fc.constantFrom('norrfeed', 'kelpie'),
  campaign_id: fc.constantFrom(null, 'c1', 'c2'),
  ad_set_id: fc.constantFrom(null, 's1'),
  ad_id: fc.constantFrom(null, 'a1', 'a2'),
  visitor_id: fc.constantFrom(null, 'v1', 'v2', 'v3'),
  network_click_id: fc.constantFrom(null, 'n1'),
  device: fc.constantFrom(null, 'phone', 'desktop'),
})
/** The columns as rows again. */
const rowsOf = (c: ReturnType<typeof clickColumns>) => {
  const visitors = [...c.visitors.keys()]
  return Array.from({ length: c.count }, (_, i) => ({
    id: c.ids[i],
    at: c.at[i],
    ad: c.ads[c.ad[i]!],
    visitor: visitors[c.visitor[i]!] ?? null,
    network: c.networkClickIds[i],
  }))
}

it('keeps of each click ID the first, in order of time, with its ad and visitor', () => {
  fc.assert(
    fc.property(fc.array(click, { maxLength: 40 }), rows => {
      const first = rows.filter((row, i) => rows.findIndex(r => r.click_id === row.click_id) === i)
      const wanted = first
        .sort((a, b) => a.clicked_at - b.clicked_at)
        .map(r => ({
          id: r.click_id,
          at: r.clicked_at,
          ad: {
            network: r.network,
            campaign: r.campaign_id ?? '',
            adSet: r.ad_set_id ?? '',
            ad: r.ad_id ?? '',
          },
          visitor: r.visitor_id,
          network: r.network_click_id,
        }))
      const columns = clickColumns(rows as never)
      expect(rowsOf(columns)).toEqual(wanted)
      expect(columns.ids.map(id => columns.numberOf.get(id))).toEqual([...columns.ids.keys()])
    }),
  )
})

it('is the same when clicks come in parts, with the columns taken in between', () => {
  fc.assert(
    fc.property(fc.array(fc.array(click, { maxLength: 12 }), { maxLength: 4 }), parts => {
      const { add, columns } = gatherClicks()
      for (const part of parts) {
        part.forEach(add)
        columns()
      }
      const sortable = (rows: ReturnType<typeof rowsOf>) => rows.map(row => JSON.stringify(row)).sort()
      expect(sortable(rowsOf(columns()))).toEqual(sortable(rowsOf(clickColumns(parts.flat() as never))))
      const { at } = columns()
      expect([...at]).toEqual([...at].sort((a, b) => a - b))
    }),
  )
})

it('gathered in several places, and of them what is named, are those of one place', () => {
  const some = fc.uniqueArray(fc.constantFrom('k1', 'k5', 'k9', 'k20', 'n1', 'v1', 'v3'))
  fc.assert(
    fc.property(fc.array(fc.array(click, { maxLength: 12 }), { maxLength: 4 }), some, (places, names) => {
      const ids = new Set(names)
      const named = { clickIds: ids, networkClickIds: ids, visitors: ids }
      const whole = gatherClicks()
      places.flat().forEach(whole.add)
      const parts = places.map(rows => {
        const part = gatherClicks()
        rows.forEach(part.add)
        return part
      })
      const visitors = new Set(parts.flatMap(part => [...part.visitorsByClick(named)]))
      const together = gatherClicks()
      for (const part of parts) together.take(part.part(named, visitors))
      expect(together.columns()).toEqual(whole.columns(named))
    }),
  )
})

it('of which only those are numbered that an order can name, gives the same figures', () => {
  const market = simulateMarket({ seed: 2, days: 25, scale: 0.3, end: 20_700 })
  const orders = readRows('orders', market.orders)
  const { add, columns } = gatherClicks()
  for (const row of readRows('clicks', market.clicks)) add(row)
  const judged = (clicks: ClickColumns) => {
    const { records, settings } = recordsOfMarket(market, 'rows', clicks)
    const evidence = gatherEvidence(buildDataset(records, settings))
    return reportJudgement(evidence, judge(evidence, { from: 0, to: 30_000 }), settings, 'ad', [])
  }
  const named = columns(namedClicks(orders))
  expect(named.count).toBeLessThan(columns().count / 3)
  expect(judged(named)).toEqual(judged(columns()))
  // Orders that carry a click ID alone bring the visitor's other clicks along.
  const bare = orders.map(order => ({ ...order, visitor_id: null }))
  const visitors = new Set([...columns(namedClicks(bare)).visitors.keys()])
  expect(visitors.size).toBeGreaterThan(20)
  const { numberOf } = columns(namedClicks(bare))
  for (const row of market.clicks)
    if (visitors.has(String(row.visitor_id))) expect(numberOf.has(String(row.click_id))).toBe(true)
})
