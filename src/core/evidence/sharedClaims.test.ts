import { describe, expect, it } from 'vitest'
import { gatherEvidence } from '../weigh/evidence'
import { reconcile } from './gap'
import { always, claim, claimSum, click, dataset, order } from './sampleRecords'
import { sharedClaims } from './sharedClaims'

describe('claims of several networks on one order', () => {
  it('are counted once for each pair of networks, with those that only daily sums tell of apart', () => {
    const data = dataset({
      clicks: [click('x', 1, { network: 'whyfold', campaign_id: 'w', ad_id: 'w1', visitor_id: 'v' })],
      orders: [
        order('a', 2, { visitor_id: 'v', total: '30.00' }),
        order('b', 3, { total: '40.00' }),
        order('c', 4, { total: '50.00' }),
        order('gone', 5, { status: 'cancelled' }),
      ],
      claimRows: [
        ...['a', 'b', 'c', 'gone'].map(transaction_id => claim(6, { transaction_id })),
        // Twice by one network is no sharing.
        claim(7, { transaction_id: 'c' }),
        ...['a', 'b', 'gone'].map(transaction_id =>
          claim(6, { network: 'kelpie', ad_id: 'k1', transaction_id }),
        ),
      ],
      claims: [claimSum('2026-10-01', { network: 'whyfold', ad_id: 'w1', value: '30.00' })],
    })
    const { placements, matches } = gatherEvidence(data)
    const found = sharedClaims(data, matches, reconcile(data, placements, matches, always))
    const named = found.pairs.map(({ networks, ...pair }) => [
      networks.map(n => data.tree.networks[n]).sort(),
      pair,
    ])
    expect(named.sort()).toEqual([
      [['kelpie', 'norrfeed'], { orders: 2, value: 7000, certain: 2 }],
      [['kelpie', 'whyfold'], { orders: 1, value: 3000, certain: 0 }],
      [['norrfeed', 'whyfold'], { orders: 1, value: 3000, certain: 0 }],
    ])
    expect(found).toMatchObject({ claimed: 3, several: 2, claims: 7 })
  })
})
