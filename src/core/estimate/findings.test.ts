import { expect, it } from 'vitest'
import { parseDay } from '@/core/shared/days'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { type Market, simulateMarket } from '@/practice/market/simulate'

const market = () => simulateMarket({ seed: 41, days: 28, scale: 0.4, end: parseDay('2026-11-15')! })
const codes = (of: Market, claims: 'rows' | 'sums') =>
  evidenceOfMarket(of, claims).estimate.findings.map(finding => finding.code)

it('has nothing to add to a market whose networks report in full', () => {
  expect(codes(market(), 'rows')).toEqual([])
  expect(codes(market(), 'sums')).toEqual([])
})

it('says whose values are on another basis, and estimates by counts alone', () => {
  const plain = market()
  const other = {
    ...plain,
    claims: plain.claims.map(row =>
      row.network === 'norrfeed' ? { ...row, value: (Number(row.value) * 0.7713 + 0.37).toFixed(2) } : row,
    ),
  }
  const counted = evidenceOfMarket(other, 'sums')
  expect(counted.estimate.findings).toEqual([
    {
      code: 'values_differ_in_basis',
      severity: 'warning',
      at: { network: 'norrfeed', share: expect.any(Number) },
    },
  ])
  const of = (evidence: ReturnType<typeof evidenceOfMarket>) =>
    evidence.estimate.captures[evidence.data.tree.networks.indexOf('norrfeed')]!.orders
  const right = of(evidenceOfMarket(plain, 'sums'))
  expect(Math.abs(Math.log(of(counted) / right))).toBeLessThan(0.08)
})

it('does not say so of a network that tells no values', () => {
  const plain = market()
  const silent = plain.claims.map(row => (row.network === 'norrfeed' ? { ...row, value: '' } : row))
  expect(codes({ ...plain, claims: silent }, 'sums')).toEqual([])
})

it('finds the basis on which a network reports, and matches values on it', () => {
  const plain = market()
  // The shop adds 3.19 of shipping to each order; networks still report the goods.
  const orders = plain.orders.map(row => ({
    ...row,
    total: (Number(row.total) + 3.19).toFixed(2),
    shipping: '3.19',
    tax: '0.00',
  }))
  const net = evidenceOfMarket({ ...plain, orders }, 'sums')
  expect(net.estimate.findings).toEqual([])
  const gross = evidenceOfMarket(plain, 'sums')
  net.estimate.captures.forEach((capture, n) => {
    expect(Math.abs(Math.log(capture.orders / gross.estimate.captures[n]!.orders))).toBeLessThan(0.01)
  })
})

it('says that one price hides what is claimed twice', () => {
  const plain = market()
  const same = {
    ...plain,
    orders: plain.orders.map(row => ({ ...row, total: '49.00', refunded: '' })),
    claims: plain.claims.map(row => ({
      ...row,
      value: (49 * (Number(row.click_through) + Number(row.view_through))).toFixed(2),
    })),
  }
  expect(codes(same, 'sums')).toEqual(['one_price', 'one_price', 'one_price'])
  expect(codes(same, 'rows')).toEqual([])
})

it('says that one network alone, or few orders on both sides, tell little', () => {
  const plain = market()
  const claims = plain.claims.filter(row => row.network === 'norrfeed')
  expect(codes({ ...plain, claims }, 'sums')).toEqual(['single_network', 'no_claims', 'no_claims'])
  const few = plain.claims.filter(row => row.network === 'norrfeed' || String(row.date) < '2026-10-24')
  expect(codes({ ...plain, claims: few }, 'sums')).toContain('few_pairs')
})

it('says how many orders came from nowhere that ads or visitors explain', () => {
  const plain = market()
  const walkIns = Array.from({ length: Math.round(plain.orders.length * 0.4) }, (_, i) => ({
    ...plain.orders[i]!,
    order_id: `W${i}`,
    customer_id: `walk-in-${i}`,
    visitor_id: '',
    click_id: '',
    utm_source: '',
    utm_campaign: '',
    utm_content: '',
    utm_term: '',
    landing_url: '',
  }))
  const evidence = evidenceOfMarket({ ...plain, orders: [...plain.orders, ...walkIns] }, 'rows')
  const found = evidence.estimate.findings.find(finding => finding.code === 'no_trace')!
  expect(found.at).toMatchObject({ count: expect.any(Number) })
  const { count } = found.at as { count: number }
  expect(count).toBeGreaterThan(walkIns.length * 0.6)
  expect(count).toBeLessThan(walkIns.length * 1.4)
})
