import { describe, expect, it } from 'vitest'
import { gatherEvidence } from '../weigh/evidence'
import { reconcile } from './gap'
import { always, claim, claimSum, click, dataset, order } from './sampleRecords'
import { sharedClaims } from './sharedClaims'

describe('claims of several networks on one order', () => {
  it('are counted once for each pair of networks that list them, and estimated where one only sums them by day', () => {
    const data = dataset({
      clicks: [
        click('x', 1, { network: 'whyfold', campaign_id: 'w', ad_id: 'w1', visitor_id: 'v' }),
        click('y', 1, { visitor_id: 'v' }),
      ],
      orders: [
        order('a', 2, { visitor_id: 'v', total: '30.00' }),
        order('b', 3, { total: '40.00' }),
        order('c', 4, { total: '50.00' }),
        order('gone', 5, { status: 'cancelled' }),
        order('late', 98 * 24, { total: '60.00' }),
      ],
      claimRows: [
        ...['a', 'b', 'c', 'gone'].map(transaction_id => claim(6, { transaction_id })),
        // Who saw an ad and did not click shares nothing by click.
        claim(6, { network: 'kelpie', ad_id: 'k1', transaction_id: 'c', kind: 'view' }),
        // Of another time than the period.
        ...['norrfeed', 'kelpie'].map(network => claim(99 * 24, { network, transaction_id: 'late' })),
        // Twice by one network is no sharing.
        claim(7, { transaction_id: 'c' }),
        ...['a', 'b', 'gone'].map(transaction_id =>
          claim(6, { network: 'kelpie', ad_id: 'k1', transaction_id }),
        ),
      ],
      claims: [claimSum('2026-10-01', { network: 'whyfold', ad_id: 'w1', value: '30.00' })],
    })
    const { placements, matches } = gatherEvidence(data)
    const fates = reconcile(data, placements, matches, { from: always.from, to: data.orders[0]!.day + 30 })
    const captures = data.tree.networks.map((name, network) => ({
      network,
      networkCapture: name === 'whyfold' ? 0.4 : 0.5,
      ownCapture: name === 'whyfold' ? 0.6 : 0.8,
    }))
    const found = sharedClaims(data, placements, matches, fates, captures)
    const SHARED = (0.5 * 0.4) / 0.7
    const named = found.pairs.map(({ networks, ...pair }) => [
      networks.map(n => data.tree.networks[n]).sort(),
      pair,
    ])
    expect(named.sort()).toEqual([
      [['kelpie', 'norrfeed'], { orders: 2, value: 7000, range: null }],
      // One order follows clicks of both; they claim 5 and 4 of 10 of such, and we see 8 and 6: 7 of 10.
      [
        ['norrfeed', 'whyfold'],
        {
          orders: expect.closeTo(SHARED, 9),
          value: expect.closeTo(3000 * SHARED, 6),
          range: { low: 0, high: expect.closeTo(SHARED + 1.2816 * Math.sqrt(SHARED), 6) },
        },
      ],
    ])
    expect(found).toMatchObject({ claimed: 3, claims: 7 })
  })
})
