import fc from 'fast-check'
import { expect, it } from 'vitest'
import { occurredAt } from './occurred'
import { chooseBranch, nextAddress } from './routing'

it('passes every parameter on, adds the click ID, and keeps the fragment, whatever they hold', () => {
  const text = fc.string({ unit: 'grapheme', maxLength: 12 })
  const pairs = fc.array(fc.tuple(text, text), { maxLength: 4 })
  const query = (list: [string, string][]) => new URLSearchParams(list).toString()
  fc.assert(
    fc.property(pairs, pairs, text, fc.webFragments(), (own, given, id, fragment) => {
      const to = `https://shop.example/kits${own.length > 0 ? `?${query(own)}` : ''}${fragment && `#${fragment}`}`
      const next = new URL(nextAddress(to, query(given), 'aq_click', id))
      expect([...next.searchParams]).toEqual([...own, ...given, ['aq_click', id]])
      expect(next.hash).toBe(new URL(to).hash)
    }),
  )
})

it('gives every branch its share and never one of weight nought', () => {
  const branch = (weight: number) => ({ address: 'https://shop.example/', weight })
  const branches = [branch(1), branch(2), branch(5)]
  const counts = [0, 0, 0]
  for (let i = 0; i < 8000; i++) counts[chooseBranch(branches, 'code', `visitor ${i}`)]! += 1
  counts.forEach((n, i) => expect(n / 1000 / branches[i]!.weight).toBeCloseTo(1, 0))
})

it('takes the time of an ID where it is plausible', () => {
  const received = Date.UTC(2026, 10, 2, 0, 0, 30)
  const at = (ms: number) =>
    `${ms
      .toString(16)
      .padStart(12, '0')
      .replace(/^(.{8})/, '$1-')}-7abc-8def-0123456789ab`
  expect(occurredAt(at(received - 60_000), received)).toBe(received - 60_000)
  expect(occurredAt(at(received + 60_000), received)).toBe(received)
  expect(occurredAt(at(received - 9 * 86_400_000), received)).toBe(received)
  expect(occurredAt('e1234567', received)).toBe(received)
})

it('leads to an offer whatever landing page it was: neither split tells anything of the other', () => {
  const branch = { address: 'https://shop.example/', weight: 1 }
  const counts = [
    [0, 0],
    [0, 0],
  ]
  for (let i = 0; i < 8000; i++) {
    const landing = chooseBranch([branch, branch], 'code', `visitor ${i}`)
    counts[landing]![chooseBranch([branch, branch], 'code', `visitor ${i}`, 'offer')]! += 1
  }
  // Chi-square of four cells of 2000, one degree of freedom: 10.8 is met once in a thousand.
  const strain = counts.flat().reduce((sum, n) => sum + (n - 2000) ** 2 / 2000, 0)
  expect(strain).toBeLessThan(20)
})
