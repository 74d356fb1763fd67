import { describe, expect, it } from 'vitest'
import { matchClaims } from '../evidence/match'
import { placeOrders } from '../evidence/place'
import { claim, click, dataset, delivery, order, type Rows } from '../evidence/sampleRecords'
import { estimateOrders } from './estimate'
import { gammaCdf, normalCdf, orderRange } from './range'
import { ratePriors } from './rates'

const kelpie = { network: 'kelpie', ad_id: 'ka', campaign_id: 'kc' }
const DAY = 24

/** A number of orders that are tracked, claimed, both, or neither; each at an hour of its own from `at` on. */
function some(
  prefix: string,
  n: number,
  { tracked, claimed, at = 0 }: { tracked?: object | undefined; claimed?: object[]; at?: number },
): Required<Pick<Rows, 'clicks' | 'orders' | 'claimRows'>> {
  const ids = Array.from({ length: n }, (_, i) => `${prefix}${i}`)
  return {
    clicks: tracked ? ids.map((id, i) => click(`k-${id}`, at + i / 60, tracked)) : [],
    orders: ids.map((id, i) => order(id, at + 1 + i / 60, tracked ? { click_id: `k-${id}` } : {})),
    claimRows: ids.flatMap((id, i) =>
      (claimed ?? []).map(who => claim(at + 1 + i / 60, { transaction_id: id, ...who })),
    ),
  }
}
function estimated(...parts: ReturnType<typeof some>[]) {
  const data = dataset({
    clicks: parts.flatMap(p => p.clicks),
    orders: parts.flatMap(p => p.orders),
    claimRows: parts.flatMap(p => p.claimRows),
  })
  const placements = placeOrders(data)
  const estimate = estimateOrders(data, placements, matchClaims(data, placements))
  const of = (network: string) => data.tree.networks.indexOf(network)
  const sums = (network: string) => {
    const own = estimate.shares.filter(s => data.tree.networkOf[s.leaf] === of(network))
    return {
      seen: own.reduce((sum, s) => sum + s.seen, 0),
      unseen: own.reduce((sum, s) => sum + s.unseen, 0),
    }
  }
  return { data, estimate, sums, capture: (network: string) => estimate.captures[of(network)]! }
}

describe('what two witnesses saw', () => {
  it('gives the capture of each by the other, and true orders by both', () => {
    const { capture } = estimated(
      some('b', 60, { tracked: {}, claimed: [{}] }),
      some('t', 20, { tracked: {} }),
      some('c', 15, { claimed: [{}] }),
      some('n', 40, {}),
    )
    expect(capture('norrfeed').networkCapture).toBeCloseTo(60 / 80, 9)
    expect(capture('norrfeed').ownCapture).toBeCloseTo(60 / 75, 3)
    // 80 tracked and 75 claimed of which 60 are both: by Lincoln and Petersen a hundred.
    expect(capture('norrfeed').orders).toBeGreaterThan(99)
    expect(capture('norrfeed').orders).toBeLessThan(101.5)
  })
  it('adds for what neither saw about as many as their shares say, where orders of nobody are there', () => {
    const parts = [
      some('b', 60, { tracked: {}, claimed: [{}] }),
      some('t', 20, { tracked: {} }),
      some('c', 15, { claimed: [{}] }),
    ]
    const { sums } = estimated(...parts, some('n', 40, {}))
    expect(sums('norrfeed').seen).toBeCloseTo(95, 1)
    // A quarter is missed by the one and a fifth by the other: of a hundred, five.
    expect(sums('norrfeed').unseen).toBeGreaterThan(4)
    expect(sums('norrfeed').unseen).toBeLessThan(6)
  })
  it('adds no more in a week than there are orders of nobody in that week', () => {
    const parts = [
      some('b', 60, { tracked: {}, claimed: [{}] }),
      some('t', 20, { tracked: {} }),
      some('c', 15, { claimed: [{}] }),
    ]
    expect(estimated(...parts).sums('norrfeed').unseen).toBe(0)
    expect(estimated(...parts, some('n', 2, {})).sums('norrfeed').unseen).toBeCloseTo(2, 9)
    // Those of the week after are of no use here.
    expect(estimated(...parts, some('n', 40, { at: 8 * DAY })).sums('norrfeed').unseen).toBe(0)
  })
  it('counts no claim by view, none for an order that does not count, and one of each network', () => {
    const records: Rows = {
      clicks: [click('k', 0)],
      orders: [order('a', 1, { click_id: 'k' }), order('b', 1), order('c', 1, { status: 'cancelled' })],
      claimRows: [
        claim(1, { transaction_id: 'a', kind: 'view' }),
        claim(1, { transaction_id: 'b', ad_id: 'first' }),
        claim(2, { transaction_id: 'b', ad_id: 'second' }),
        claim(2, { transaction_id: 'b', ...kelpie }),
        claim(1, { transaction_id: 'c' }),
      ],
    }
    const data = dataset(records)
    const placements = placeOrders(data)
    const { shares } = estimateOrders(data, placements, matchClaims(data, placements))
    const own = shares.map(s => [
      data.orders[s.order]!.order_id,
      data.tree.leaves[s.leaf]!.ad,
      s.certain ? 'tracked' : 'claimed',
    ])
    expect(own).toEqual([
      ['a', 'a1', 'tracked'],
      ['b', 'first', 'claimed'],
      ['b', 'ka', 'claimed'],
    ])
  })
})

describe('one order’s part in an estimate', () => {
  it('stands for those like it that nobody saw, and says how far it may be off', () => {
    const { estimate, data } = estimated(
      some('b', 60, { tracked: {}, claimed: [{}] }),
      some('t', 20, { tracked: {} }),
      some('c', 15, { claimed: [{}] }),
      some('n', 40, {}),
    )
    // The network claims 0.747 of what is tracked, we track 0.797 of what it claims: 0.0513 is missed by both.
    const of = (id: string) => estimate.shares.filter(s => data.orders[s.order]!.order_id === id)
    for (const id of ['b0', 't7', 'c3'])
      expect(of(id)).toEqual([
        {
          order: data.orders.findIndex(o => o.order_id === id),
          leaf: 0,
          seen: expect.closeTo(1, 2),
          certain: id !== 'c3',
          unseen: expect.closeTo(0.0541, 2),
          variance: expect.closeTo(0, 1),
        },
      ])
    expect(of('n0')).toEqual([])
    // 60 of 80: p(1 − p) over the cases and two.
    expect(estimate.doubts.network[0]).toBeCloseTo((0.748 * 0.252) / 82, 4)
  })
  it('is by how much of its week the network claims', () => {
    // In the first week it claims nine in ten, in the second three in ten.
    const { estimate, data } = estimated(
      some('b', 90, { tracked: {}, claimed: [{}] }),
      some('t', 10, { tracked: {} }),
      some('B', 30, { tracked: {}, claimed: [{}], at: 8 * DAY }),
      some('T', 70, { tracked: {}, at: 8 * DAY }),
      some('c', 30, { claimed: [{}] }),
      some('n', 90, {}),
      some('N', 90, { at: 8 * DAY }),
    )
    const unseen = (id: string) => estimate.shares.find(s => data.orders[s.order]!.order_id === id)!.unseen
    // We track 0.8 of what it claims: (1 − 0.9) × 0.2 is missed of the one, (1 − 0.3) × 0.2 of the other.
    expect(unseen('t0')).toBeCloseTo(0.02 / 0.98, 2)
    expect(unseen('T0')).toBeCloseTo(0.14 / 0.86, 2)
    expect(estimate.captures[0]).toMatchObject({ networkCapture: 0.6, ownCapture: expect.closeTo(0.8, 3) })
  })
  it('is by its own ad, where the ads differ in how much of them is tracked', () => {
    const other = { ad_id: 'a2' }
    const { estimate, data } = estimated(
      some('b', 95, { tracked: {}, claimed: [{}] }),
      some('c', 5, { claimed: [{}] }),
      some('d', 50, { tracked: other, claimed: [other] }),
      some('e', 50, { claimed: [other] }),
      some('t', 40, { tracked: {} }),
      some('u', 40, { tracked: other }),
      some('n', 200, {}),
    )
    const missed = (ad: string) => {
      const share = estimate.shares.find(
        s =>
          data.tree.leaves[s.leaf]!.ad === ad &&
          data.orders[s.order]!.order_id.startsWith(ad === 'a1' ? 't' : 'u'),
      )!
      return share.unseen / (1 + share.unseen)
    }
    // It claims 145 of 225 tracked, and 55 untracked: 0.38 of an order more for each tracked one on the whole, so
    // that 8 % are missed. Of a1 3.7 %, of a2 55 % are claimed for each tracked one.
    expect(missed('a1')).toBeGreaterThan(0.008)
    expect(missed('a1')).toBeLessThan(0.03)
    expect(missed('a2')).toBeGreaterThan(0.16)
    expect(missed('a2')).toBeLessThan(0.21)
  })
})

describe('orders that nobody saw', () => {
  const [low, high] = [{ ad_id: 'low' }, { ad_id: 'high' }]
  const parts = () => [
    some('b', 60, { tracked: low, claimed: [low] }),
    some('t', 20, { tracked: low }),
    some('c', 15, { claimed: [low] }),
    some('B', 60, { tracked: high, claimed: [high] }),
    some('T', 20, { tracked: high }),
    some('C', 15, { claimed: [high] }),
    some('n', 90, {}),
  ]
  const read = (billed: number[]) => {
    const all = parts()
    const data = dataset({
      clicks: all.flatMap(p => p.clicks),
      orders: all.flatMap(p => p.orders),
      claimRows: all.flatMap(p => p.claimRows),
      delivery: [low, high].flatMap((ad, i) =>
        billed[i]! > 0 ? [delivery('2026-10-01', { ...ad, clicks: `${billed[i]}` })] : [],
      ),
    })
    const placements = placeOrders(data)
    const { shares, doubts } = estimateOrders(data, placements, matchClaims(data, placements))
    const leaves = ['low', 'high'].map(ad => data.tree.leaves.findIndex(l => l.ad === ad))
    const sum = (leaf: number, of: 'seen' | 'unseen') =>
      shares.filter(s => s.leaf === leaf).reduce((all, s) => all + s[of], 0)
    return {
      data,
      leaves,
      seen: leaves.map(l => sum(l, 'seen')),
      unseen: leaves.map(l => sum(l, 'unseen')),
      doubts,
    }
  }
  it('are of an ad by its clicks, and the rate of ads like it', () => {
    const plain = read([0, 0])
    const missed = plain.unseen[0]! / (plain.seen[0]! + plain.unseen[0]!)
    expect(missed).toBeGreaterThan(0.03)
    const billed = [1000, 3000]
    const { data, leaves, seen, unseen, doubts } = read(billed)
    const exposure = new Float64Array(data.tree.leaves.length)
    const orders = new Float64Array(data.tree.leaves.length)
    leaves.forEach((leaf, i) => {
      exposure[leaf] = billed[i]! * (1 - missed)
      orders[leaf] = seen[i]!
    })
    const priors = ratePriors(data.tree, leaves, orders, exposure)
    leaves.forEach((leaf, i) => {
      const { shape, rate } = priors[i]!
      const wanted = (billed[i]! * missed * (seen[i]! + shape)) / (exposure[leaf]! + shape / rate)
      expect(unseen[i]).toBeCloseTo(wanted, 6)
      expect(doubts.weight[leaf]).toBeCloseTo(seen[i]! + shape, 9)
    })
    // As many are seen of both: where more clicks were, more were missed.
    expect(unseen[1]! / unseen[0]!).toBeGreaterThan(1.01)
    expect(plain.unseen[1]! / plain.unseen[0]!).toBeCloseTo(1, 6)
    leaves.forEach(leaf => expect(plain.doubts.weight[leaf]).toBeCloseTo(95.5, 3))
  })
  it('are none of another channel than the site', () => {
    const all = parts().slice(0, 3)
    const away = some('n', 40, {}).orders.map(one => ({ ...one, channel: 'store' }))
    const unseen = (orders: Rows['orders']) => {
      const data = dataset({
        clicks: all.flatMap(p => p.clicks),
        orders: [...all.flatMap(p => p.orders), ...orders!],
        claimRows: all.flatMap(p => p.claimRows),
      })
      const placements = placeOrders(data)
      const { shares } = estimateOrders(data, placements, matchClaims(data, placements))
      return shares.reduce((sum, share) => sum + share.unseen, 0)
    }
    expect(unseen(away)).toBe(0)
    expect(unseen(away.map(one => ({ ...one, channel: 'web' })))).toBeGreaterThan(4)
  })
})

describe('an untracked order that two networks claim', () => {
  /** Kelpie claims half of what comes by Norrfeed; Norrfeed never claims what comes by Kelpie. */
  const market = () =>
    estimated(
      some('a', 40, { tracked: {}, claimed: [{}, kelpie] }),
      some('b', 40, { tracked: {}, claimed: [{}] }),
      some('c', 30, { tracked: kelpie, claimed: [kelpie] }),
      some('x', 20, { claimed: [{}, kelpie] }),
      some('n', 60, {}),
    )
  it('goes to the one whose orders usually leave such claims', () => {
    const { sums } = market()
    expect(sums('norrfeed').seen).toBeGreaterThan(99)
    expect(sums('kelpie').seen).toBeLessThan(31)
    // All of it is somebody's, and no more.
    expect(sums('norrfeed').seen + sums('kelpie').seen).toBeCloseTo(130, 6)
  })
  it('is nobody’s more than another’s where known orders tell nothing of both', () => {
    const open = estimated(
      some('a', 50, { tracked: {}, claimed: [{}] }),
      some('b', 50, { tracked: kelpie, claimed: [kelpie] }),
      some('x', 20, { claimed: [{}, kelpie] }),
      some('n', 60, {}),
    )
    expect(open.sums('norrfeed').seen).toBeCloseTo(60, 0)
    expect(open.sums('kelpie').seen).toBeCloseTo(60, 0)
  })
  it('is certain of nothing that is shared, and of all that is tracked', () => {
    const { estimate } = market()
    for (const share of estimate.shares) {
      expect(share.variance).toBeGreaterThanOrEqual(0)
      if (share.seen === 1 && share.unseen === 0) expect(share.variance).toBe(0)
    }
    const shared = estimate.shares.filter(s => s.seen > 0.01 && s.seen < 0.99)
    for (const share of shared) expect(share.variance).toBeGreaterThan(0)
  })
})

describe('the range of an estimate', () => {
  it('follows the gamma distribution: chi-square’s tenths, by degrees of freedom', () => {
    for (const [degrees, tenth, ninth] of [
      [4, 1.064, 7.779],
      [10, 4.865, 15.987],
      [30, 20.599, 40.256],
    ] as const) {
      expect(gammaCdf(tenth, degrees, 2 * degrees)).toBeCloseTo(0.1, 2)
      expect(gammaCdf(ninth, degrees, 2 * degrees)).toBeCloseTo(0.9, 2)
    }
    expect(gammaCdf(0, 5, 5)).toBe(0)
    expect(gammaCdf(-1, 5, 5)).toBe(0)
  })
  it('follows the normal distribution: its table', () => {
    for (const [x, share] of [
      [0, 0.5],
      [0.5, 0.6914625],
      [1, 0.8413447],
      [1.2816, 0.9000085],
      [2, 0.9772499],
      [3, 0.9986501],
    ] as const) {
      expect(normalCdf(x)).toBeCloseTo(share, 5)
      expect(normalCdf(-x)).toBeCloseTo(1 - share, 5)
    }
  })
  it.each([
    // certain, mean, variance → whole numbers with a tenth on either side
    [0, 10, 10, 7, 14],
    [20, 10, 10, 27, 34],
    [0, 100, 400, 76, 126],
    [7, 0, 5, 7, 7],
    [7, 3, 0, 10, 10],
  ])('of %i certain and %i more with variance %i is %i to %i', (certain, mean, variance, low, high) => {
    expect(orderRange(certain, mean, variance)).toEqual({ low, high })
  })
  it('holds the estimate, and no fewer than are certain', () => {
    for (const mean of [0.2, 1, 2.5, 8])
      for (const variance of [0.1, 1, 9]) {
        const { low, high } = orderRange(3, mean, variance)
        expect(low).toBeGreaterThanOrEqual(3)
        expect(low).toBeLessThanOrEqual(3 + mean)
        expect(high).toBeGreaterThanOrEqual(3 + mean)
      }
  })
})
