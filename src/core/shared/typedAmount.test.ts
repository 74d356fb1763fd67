import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { formatAmount } from './money'
import { readTyped } from './typedAmount'

describe('an amount that was typed', () => {
  it.each([
    ['1.250,00', 'EUR', 125000],
    ['1,250.00', 'EUR', 125000],
    ['1250', 'EUR', 125000],
    ['1250,5', 'EUR', 125050],
    ['1250.5', 'EUR', 125050],
    ['1 250,50', 'EUR', 125050],
    ['1\u00a0250,50', 'EUR', 125050],
    ["1'250.50", 'EUR', 125050],
    ['1’250.50', 'EUR', 125050],
    ['1.250.000', 'EUR', 125000000],
    ['1.250.000,75', 'EUR', 125000075],
    ['12,', 'EUR', 1200],
    ['0,05', 'EUR', 5],
    ['1,250', 'JPY', 1250],
    ['1.250', 'JPY', 1250],
    ['1,5', 'KWD', 1500],
  ])('%s %s', (text, currency, amount) => {
    expect(readTyped(text, currency)).toEqual({ amount })
  })

  it.each([
    ['1.250', 'EUR', /may be 1250 or 1.25 EUR/],
    ['1,250', 'EUR', /may be 1250 or 1.25 EUR/],
    ['', 'EUR', /is no amount of EUR: write it as 1250.00/],
    ['12.345,6.7', 'EUR', /no amount/],
    ['1,25,000', 'EUR', /no amount/],
    ['1.250,005', 'EUR', /no amount/],
    ['-5', 'EUR', /no amount/],
    ['5 EUR', 'EUR', /no amount/],
    ['.5', 'EUR', /no amount/],
    ['1,5', 'JPY', /no amount of JPY: write it as 1250/],
  ])('is refused: %s %s', (text, currency, problem) => {
    expect(readTyped(text, currency)).toEqual({ problem: expect.stringMatching(problem) })
  })

  it('is itself again, written by either habit', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e12 }), fc.constantFrom('.', ','), (units, decimal) => {
        const [whole = '', cents = ''] = formatAmount(units, 'EUR').split('.')
        const grouped = whole.replace(/\B(?=(\d{3})+$)/g, decimal === '.' ? ',' : '.')
        expect(readTyped(`${grouped}${decimal}${cents}`, 'EUR')).toEqual({ amount: units })
      }),
    )
  })
})
