import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { formatAmount, minor } from '../shared/money'
import { gatherEvidence } from '../weigh/evidence'
import { amountBases, type Basis, bases, basisNames } from './amountBasis'
import { reconcile } from './gap'
import { always, claim, dataset, order, type Rows } from './sampleRecords'

const found = (rows: Rows, settings: object = {}) => {
  const data = dataset(rows, settings)
  const { placements, matches } = gatherEvidence(data)
  return amountBases(data, reconcile(data, placements, matches, always))
}
const euro = (units: number) => formatAmount(minor(units), 'EUR')
const amounts = fc.record({
  total: fc.integer({ min: 5000, max: 50_000 }),
  tax: fc.integer({ min: 300, max: 900 }),
  shipping: fc.integer({ min: 1000, max: 2000 }),
  refunded: fc.constantFrom(0, 2500),
})

describe('which amount a network seems to report', () => {
  it('is found whatever it is, and its claims then come to what was booked', () => {
    fc.assert(
      fc.property(
        fc.array(amounts, { minLength: 3, maxLength: 12 }),
        fc.constantFrom(...basisNames),
        (list, basis: Basis) => {
          const rows: Rows = {
            orders: list.map((own, i) =>
              order(`o${i}`, i, {
                ...Object.fromEntries(Object.entries(own).map(([key, units]) => [key, euro(units)])),
                status: own.refunded > 0 ? 'partially_refunded' : 'paid',
              }),
            ),
            claimRows: list.map((own, i) =>
              claim(i, { transaction_id: `o${i}`, value: euro(bases[basis](own as never)) }),
            ),
          }
          const [one, ...more] = found(rows)
          expect(more).toEqual([])
          expect(one!.best).toMatchObject({ basis, share: 1 })
          expect(one!.claimed).toBe(one!.booked)
        },
      ),
    )
  })
  it('is none where no amount fits more than half, and says so by currency too', () => {
    const orders = [order('a', 1), order('b', 2), order('c', 3)]
    const claims = (...values: string[]) =>
      values.map((value, i) => claim(i, { transaction_id: 'abc'[i]!, value, currency: 'USD' }))
    const rates = [{ day: Date.parse('2026-10-01') / 86_400_000, base: 'USD', quote: 'EUR', rate: '0.5' }]
    expect(found({ orders, rates, claimRows: claims('7.00', '8.00', '200.00') })[0]!.best).toBeNull()
    expect(found({ orders, rates, claimRows: claims('200.00', '200.01', '7.00') })[0]!.best).toMatchObject({
      basis: 'total',
      share: 2 / 3,
    })
  })
  it('holds an order in another currency against its claim in the workspace’s', () => {
    const rates = [{ day: Date.parse('2026-10-01') / 86_400_000, base: 'USD', quote: 'EUR', rate: '0.5' }]
    const orders = ['a', 'b', 'c'].map((id, i) =>
      order(id, i, { currency: 'USD', total: '90.00', tax: '15.00', shipping: '5.00' }),
    )
    const claimRows = ['a', 'b', 'c'].map((id, i) => claim(i, { transaction_id: id, value: '37.50' }))
    expect(found({ orders, rates, claimRows })[0]).toMatchObject({
      best: { basis: 'without_tax', share: 1 },
      claimed: 11_250,
      booked: 11_250,
    })
  })
})
