import { describe, expect, it } from 'vitest'
import { WHOLE } from '../evidence/place'
import type { ProvenCredit } from '../weigh/credits'
import { sourceLines } from './sources'

const counted = (network: string, values: string[], clicks: number) => ({
  network,
  values,
  clicks,
  visitors: clicks - 1,
})
const credit = (network: string, clickId: string, share: number, value: number) =>
  ({ network, clickId, share: share * WHOLE, value }) as ProvenCredit
const valuesOf = (clickId: string) => (clickId === 'unsaid' ? null : clickId.split('-'))

describe('lines of sources', () => {
  it('hold clicks, orders by their shares and worth, of one network each', () => {
    const lines = sourceLines(
      [
        counted('kelpie', ['loom', 'exact'], 30),
        counted('kelpie', ['loom', 'broad'], 40),
        counted('norrfeed', ['loom', 'exact'], 20),
      ],
      [
        credit('kelpie', 'loom-exact', 1, 5000),
        credit('kelpie', 'loom-exact', 0.25, 1000),
        credit('norrfeed', 'loom-exact', 0.5, 700),
        credit('kelpie', 'unsaid', 1, 9000),
      ],
      valuesOf,
    )
    expect(lines).toEqual([
      { network: 'kelpie', values: ['loom', 'broad'], clicks: 40, visitors: 39, orders: 0, value: 0 },
      { network: 'kelpie', values: ['loom', 'exact'], clicks: 30, visitors: 29, orders: 1.25, value: 6000 },
      { network: 'norrfeed', values: ['loom', 'exact'], clicks: 20, visitors: 19, orders: 0.5, value: 700 },
    ])
  })
  it('are there for an order whose click was of earlier days, and stand by clicks, then orders', () => {
    const lines = sourceLines(
      [counted('kelpie', ['a'], 5), counted('kelpie', ['b'], 5)],
      [
        credit('kelpie', 'c', 1, 100),
        credit('kelpie', 'd', 0.5, 50),
        credit('kelpie', 'd', 1, 50),
        credit('kelpie', 'b', 1, 10),
      ],
      valuesOf,
    )
    expect(lines.map(l => [l.values[0], l.clicks, l.visitors, l.orders, l.value])).toEqual([
      ['b', 5, 4, 1, 10],
      ['a', 5, 4, 0, 0],
      ['d', 0, 0, 1.5, 100],
      ['c', 0, 0, 1, 100],
    ])
  })
})
