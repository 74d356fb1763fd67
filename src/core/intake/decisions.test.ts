import { describe, expect, it } from 'vitest'
import { matchClaims } from '../evidence/match'
import { placeOrders } from '../evidence/place'
import { claim, click, dataset, instantAt, order, type Rows } from '../evidence/sampleRecords'
import { type Decided, decisionSchema } from './decisions'

const keyed = (key: string, hours: number, more: object = {}) => ({ ...claim(hours, more), claim_key: key })
const rows: Rows = {
  clicks: [click('k', 0, { visitor_id: 'v' })],
  orders: [
    order('a', 1, { visitor_id: 'v', customer_id: 'u1' }),
    order('b', 2, { customer_id: 'u2' }),
    order('c', 3, { customer_id: 'u3' }),
  ],
  claimRows: [keyed('ka', 1, { transaction_id: 'a' }), keyed('kb', 2, { transaction_id: 'x' })],
}
const read = (decisions: Decided[], result?: string) => {
  const data = dataset({ ...rows, decisions }, {}, result)
  const placements = placeOrders(data)
  return {
    orders: data.orders.map(o => [o.order_id, o.counts, o.channel, o.customer_id]),
    placed: placements.map(p => p.by),
    matches: matchClaims(data, placements).map(m => [data.orders[m.order]?.order_id ?? null, m.by]),
  }
}

describe('what was decided by hand', () => {
  const plain = read([])
  it('says what an order is', () => {
    expect(read([{ about: 'test', order: 'b' }]).orders[1]).toEqual(['b', false, null, 'u2'])
    expect(read([{ about: 'channel', order: 'b', channel: 'phone' }]).orders[1]).toEqual([
      'b',
      true,
      'phone',
      'u2',
    ])
    const moved: Decided[] = [{ about: 'result', order: 'b', result: 'lead' }]
    expect(read(moved).orders.map(([id]) => id)).toEqual(['a', 'c'])
    expect(read(moved, 'lead').orders.map(([id]) => id)).toEqual(['b'])
  })
  it('says which order a claim is, whatever else it says, or that it is none of ours', () => {
    expect(plain.matches).toEqual([
      ['a', 'transaction'],
      [null, null],
    ])
    expect(read([{ about: 'claim', claim: 'kb', order: 'c' }]).matches[1]).toEqual(['c', 'hand'])
    expect(read([{ about: 'claim', claim: 'ka', order: 'b' }]).matches[0]).toEqual(['b', 'hand'])
    expect(read([{ about: 'claim', claim: 'ka', order: null }]).matches[0]).toEqual([null, null])
  })
  it('says which customers are one, and whose are then one another’s', () => {
    const one = read([
      { about: 'customers', customers: ['u3', 'u2'] },
      { about: 'customers', customers: ['u2', 'u1'] },
    ])
    expect(one.orders.map(o => o[3])).toEqual(['u1', 'u1', 'u1'])
    expect(plain.placed).toEqual(['visitor_id', null, null])
    expect(one.placed).toEqual(['visitor_id', 'customer', 'customer'])
  })
  it('holds as the last of several says, and adds up where they are of different things', () => {
    const both = read([
      { about: 'claim', claim: 'ka', order: null },
      { about: 'channel', order: 'b', channel: 'phone' },
      { about: 'test', order: 'b' },
      { about: 'claim', claim: 'ka', order: 'c' },
      { about: 'channel', order: 'b', channel: 'store' },
    ])
    expect(both.matches[0]).toEqual(['c', 'hand'])
    expect(both.orders[1]).toEqual(['b', false, 'store', 'u2'])
  })
  it('is passed over where what it is about is not there, and changes nothing that it was given', () => {
    const before = JSON.stringify(rows)
    expect(
      read([
        { about: 'test', order: 'gone' },
        { about: 'claim', claim: 'gone', order: 'a' },
        { about: 'claim', claim: 'ka', order: 'gone' },
        { about: 'customers', customers: ['nobody', 'else'] },
      ]),
    ).toEqual(plain)
    expect(JSON.stringify(rows)).toBe(before)
  })
  it('says who, when and why', () => {
    const made = { id: 'd', by: 'Ana', at: instantAt(0), why: 'our own card', about: 'test', order: 'b' }
    expect(decisionSchema.parse(made)).toEqual(made)
    for (const wrong of [{ why: ' ' }, { by: '' }, { about: 'whim' }, { order: '' }])
      expect(decisionSchema.safeParse({ ...made, ...wrong }).success).toBe(false)
  })
})
