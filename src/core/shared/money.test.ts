import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { convert, formatAmount, isBeyondCounting, minor, parseAmount, split } from './money'
import { converter } from './rates'

describe('money', () => {
  it('reads back every amount that it writes, in currencies of 0, 2 and 3 digits', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1e11, max: 1e11 }),
        fc.constantFrom('JPY', 'EUR', 'KWD'),
        (units, currency) => {
          expect(parseAmount(formatAmount(units, currency), currency)).toBe(units)
        },
      ),
    )
  })
  it('refuses what is finer than the currency, and what is no number', () => {
    expect(parseAmount('1.005', 'EUR')).toBeNull()
    expect(parseAmount('1.500', 'EUR')).toBe(150)
    // More than can be counted exactly is no amount, whatever the currency's digits.
    expect(parseAmount('9007199254740.991', 'KWD')).toBe(Number.MAX_SAFE_INTEGER)
    for (const text of ['9007199254740.992', '9999999999999', '99999999999999999999'])
      expect([parseAmount(text, 'KWD'), isBeyondCounting(text, 'KWD')]).toEqual([null, true])
    expect(isBeyondCounting('12.34567', 'EUR')).toBe(false)
    for (const text of ['', '1,50', '1e3', 'NaN', '--1', '.5']) expect(parseAmount(text, 'EUR')).toBeNull()
  })
  it('splits to the last cent, whatever the weights', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1e9 }),
        fc.array(fc.double({ min: 0, max: 1e3, noNaN: true }), { minLength: 1, maxLength: 12 }),
        (total, weights) => {
          const parts = split(total, weights)
          expect(parts.reduce((a, b) => a + b, 0)).toBe(total)
          expect(parts.every(p => Number.isInteger(p) && p >= 0)).toBe(true)
        },
      ),
    )
  })
  it('converts between exponents without floats', () => {
    expect(convert(minor(10000), 'JPY', 'EUR', '0.0061')).toBe(6100)
    expect(convert(minor(100), 'EUR', 'JPY', '163.5')).toBe(164)
    expect(convert(minor(110), 'USD', 'EUR', '1.10', 'inverse')).toBe(100)
  })
})

describe('exchange rates', () => {
  const toOwn = converter([{ day: 100, base: 'USD', quote: 'EUR', rate: '0.9' }])
  it('takes the latest rate of the 7 days before, and none older or later', () => {
    expect(toOwn(minor(1000), 'USD', 'EUR', 107)).toBe(900)
    expect(toOwn(minor(1000), 'USD', 'EUR', 108)).toBeNull()
    expect(toOwn(minor(1000), 'USD', 'EUR', 99)).toBeNull()
    expect(toOwn(minor(900), 'EUR', 'USD', 100)).toBe(1000)
  })
})
