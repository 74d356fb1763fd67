import fc from 'fast-check'
import { expect, it } from 'vitest'
import { evidenceOfMarket } from '@/practice/market/evidenceOfMarket'
import { simulateMarket } from '@/practice/market/simulate'
import { WHOLE } from '../evidence/place'
import { parseDay } from '../shared/days'
import { minor, split } from '../shared/money'
import { provenCredits, valueParts } from './credits'
import { judge } from './judge'

it('the parts of an order are whole and sum to it', () => {
  const weights = fc.array(fc.integer({ min: 1, max: 1000 }), { minLength: 1, maxLength: 9 })
  fc.assert(
    fc.property(fc.nat(100_000_00), weights, (value, weight) => {
      const credits = split(WHOLE, weight).map(share => ({ click: 0, leaf: 0, share }))
      const parts = valueParts(minor(value), credits)
      expect(parts.every(p => Number.isInteger(p) && p >= 0)).toBe(true)
      expect(parts.reduce((a, b) => a + b, 0)).toBe(value)
    }),
  )
})

it('proven credits by network sum to what is judged as proven', () => {
  const end = parseDay('2026-11-15')!
  const evidence = evidenceOfMarket(simulateMarket({ seed: 8, days: 30, scale: 0.5, end }))
  const period = { from: end - 20, to: end - 3 }
  const { networks } = judge(evidence, period)
  expect(networks.some(n => n.sums.provenCredit > 0)).toBe(true)
  for (const { network, sums } of networks) {
    const shares = provenCredits(evidence, period, network).reduce((sum, c) => sum + c.share, 0)
    expect([network, shares]).toEqual([network, sums.provenCredit])
  }
})
