import { describe, expect, it } from 'vitest'
import { matchClaims } from '../evidence/match'
import { placeOrders } from '../evidence/place'
import { claim, click, dataset, order, type Rows } from '../evidence/sampleRecords'
import { shrinkShares, witnesses } from './capture'
import { estimateOrders } from './estimate'
import { gammaCdf, orderRange } from './range'

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
    // Chapman: (80 + 1)(75 + 1) / (60 + 1) − 1.
    expect(capture('norrfeed').orders).toBeCloseTo((81 * 76) / 61 - 1, 1)
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
    const seen = witnesses(data, placements, matchClaims(data, placements))
    const adOf = (leaf: number) => data.tree.leaves[leaf]?.ad ?? null
    expect(seen.map(w => [data.orders[w.order]!.order_id, adOf(w.tracked), w.claimed.map(adOf)])).toEqual([
      ['a', 'a1', []],
      ['b', null, ['first', 'ka']],
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
          unseen: expect.closeTo(0.0541, 2),
          variance: expect.closeTo(1.35 * (0.0541 / 0.9487), 2),
          slopeNetwork: expect.closeTo(0.203 / 0.9, 2),
          slopeOwn: expect.closeTo(0.253 / 0.9, 2),
        },
      ])
    expect(of('n0')).toEqual([])
    // 60 of 80, and 60 of 75, each with half a case more: p(1 − p) over the cases and one.
    expect(estimate.networkVariance[0]).toBeCloseTo((0.747 * 0.253) / 81, 4)
    expect(estimate.ownVariance[0]).toBeCloseTo((0.796 * 0.204) / 76, 4)
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
    // The network claims 145 of 225 tracked: 0.356 × 0.05 and 0.356 × 0.5.
    expect(missed('a1')).toBeCloseTo(0.018, 2)
    expect(missed('a2')).toBeCloseTo(0.178, 2)
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
  it('goes by what untracked orders tell of each network, until that changes no more', () => {
    // Both claim everything of both: only how many each left untracked can tell them apart.
    const open = estimated(
      some('a', 50, { tracked: {}, claimed: [{}] }),
      some('b', 50, { tracked: kelpie, claimed: [kelpie] }),
      some('c', 40, { claimed: [{}] }),
      some('x', 20, { claimed: [{}, kelpie] }),
      some('n', 60, {}),
    )
    const norrfeed = open.sums('norrfeed').seen
    // Norrfeed leaves four in nine untracked and Kelpie hardly any: what both claim is Norrfeed's.
    expect(norrfeed - 90).toBeGreaterThan(18)
    expect(open.sums('kelpie').seen - 50).toBeLessThan(2)
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

describe('shares drawn toward a common one', () => {
  it('are the common one where nothing is known, and nearly their own where much is', () => {
    const groups = [
      { hits: 900, trials: 1000 },
      { hits: 100, trials: 1000 },
      { hits: 0, trials: 0 },
    ]
    const [high, low, none] = shrinkShares(groups, 0.5)
    expect(high!.share).toBeGreaterThan(0.88)
    expect(low!.share).toBeLessThan(0.12)
    expect(none!.share).toBeCloseTo(0.5, 9)
    expect(none!.variance).toBeGreaterThan(high!.variance)
  })
  it.each([
    // Spread 0.72 less 0.24 of chance over 100 cases: 0.0048 between them, which is worth 49 cases.
    [[66, 54], 49],
    // Spread 8 less 0.24: 0.0776 between them, worth 2.1 cases; four are the least.
    [[80, 40], 4],
    // No more than chance: each is the common one but for the cases themselves.
    [[62, 58], 10_000],
  ])('weigh the common 0.6 against %j of 100 as so many cases: %i', (hits, weight) => {
    const shrunk = shrinkShares(
      hits.map(n => ({ hits: n, trials: 100 })),
      0.6,
    )
    hits.forEach((n, i) => {
      const share = (n + weight * 0.6) / (100 + weight)
      expect(shrunk[i]!.share).toBeCloseTo(share, 9)
      expect(shrunk[i]!.variance).toBeCloseTo((share * (1 - share)) / (101 + weight), 9)
    })
  })
  it('are all nearly the common one where they differ by chance alone', () => {
    const [one, other] = shrinkShares(
      [
        { hits: 5, trials: 10 },
        { hits: 6, trials: 10 },
      ],
      0.55,
    )
    expect(one!.share).toBeCloseTo(0.55, 2)
    expect(other!.share).toBeCloseTo(0.55, 2)
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
