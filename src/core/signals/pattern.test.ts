import { describe, expect, it } from 'vitest'
import { matchesAddress } from './matchAddress'
import { patternProblem } from './pattern'

describe('a pattern that somebody writes', () => {
  it.each([
    ['^shop\\.example/(thanks|danke)$', null],
    ['order=\\d{4,8}', null],
    ['(a+)+$', 'repeats_within_repeats'],
    ['([a-z]*)*x', 'repeats_within_repeats'],
    ['(', 'not_a_pattern'],
    ['(?=thanks)', 'not_a_pattern'],
    ['(a)\\1', 'not_a_pattern'],
  ])('%s', (text, problem) => {
    expect(patternProblem(text)).toBe(problem)
  })
  it('takes a time that grows with the address alone, whatever it is and whoever sends it', () => {
    const conditions = { any: [{ by: 'pattern' as const, text: '(a+)+$' }], none: [] }
    // An engine that tries every way of sharing the letters out would outlive us.
    expect(matchesAddress(conditions, `https://shop.example/${'a'.repeat(5000)}!`)).toBe(false)
    expect(matchesAddress(conditions, `https://shop.example/${'a'.repeat(5000)}`)).toBe(true)
  })
})
