import { describe, expect, it } from 'vitest'
import { gatherEvidence } from '../weigh/evidence'
import { openClaims } from './candidates'
import { always, claim, click, dataset, order, type Rows } from './sampleRecords'

const opened = (rows: Rows) => {
  const { data, placements, matches } = gatherEvidence(dataset(rows))
  return openClaims(data, placements, matches, always, () => true).map(one => ({
    ...one,
    value: data.claims[one.claim]!.value,
    candidates: one.candidates.map(c => ({ ...c, id: data.orders[c.order]!.order_id })),
  }))
}
const keyed = (hours: number, more: object) => ({ ...claim(hours, more), claim_key: `k${hours}` })

describe('claims of which it is not certain what order they are for', () => {
  const rows: Rows = {
    clicks: [click('x', 0, { visitor_id: 'v' })],
    orders: [
      order('sure', 1, { total: '10.00' }),
      order('kin', 2, { visitor_id: 'v', total: '40.00' }),
      order('alike', 3, { total: '40.00' }),
      order('near', 4, { total: '41.00' }),
      order('far', 300, { total: '40.00' }),
    ],
    claimRows: [keyed(1, { transaction_id: 'sure', value: '10.00' }), keyed(5, { value: '40.00' })],
  }
  it('come with the orders near them: the same amount first, of those the ad that we know, and never far ones', () => {
    const [one, ...more] = opened(rows)
    expect(more).toEqual([])
    expect(one!.candidates.map(c => [c.id, c.more, c.kin])).toEqual([
      ['kin', 0, 'ad'],
      ['alike', 0, 'none'],
      ['near', -100, 'none'],
      ['sure', 3000, 'none'],
    ])
    expect(one!.candidates.map(c => c.held)).toEqual([false, false, false, true])
    expect(one!.candidates[0]!.late).toBe(3 * 3_600_000)
  })
  it('are no longer open once somebody has decided, and none is that has no key to decide by', () => {
    const decisions = [{ about: 'claim' as const, claim: 'k5', order: 'alike' }]
    expect(opened({ ...rows, decisions })).toEqual([])
    expect(opened({ ...rows, claimRows: [claim(5, { value: '40.00' })] })).toEqual([])
  })
})
