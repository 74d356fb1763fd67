import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { namingRuleSchema, readName, ruleFor } from './naming'

const rule = namingRuleSchema.parse({
  level: 'campaign',
  separator: '_',
  parts: [
    { name: 'product', kind: 'list', values: ['looms', 'yarn', 'course'] },
    { name: 'audience', kind: 'text' },
    { name: 'month', kind: 'month' },
  ],
})

describe('names by a rule', () => {
  it('are read part by part', () => {
    expect(readName(rule, 'looms_beginners_2026-10')).toEqual({
      parts: { product: 'looms', audience: 'beginners', month: '2026-10' },
      problems: [],
      proposal: null,
    })
  })
  it.each([
    ['Looms_beginners_2026-10', 'not_in_list', 'looms_beginners_2026-10'],
    ['lomms_beginners_Oct 26', 'not_in_list', 'looms_beginners_2026-10'],
    ['yarn - knitters - 10/2026', 'parts_missing', 'yarn_knitters_2026-10'],
    ['yarn|knitters|202610', 'parts_missing', 'yarn_knitters_2026-10'],
    ['beads_knitters_2026-10', 'not_in_list', null],
    ['yarn_knitters_13/2026', 'not_a_month', null],
    ['yarn__2026-10', 'part_empty', null],
    ['yarn_a_b_2026-10', 'parts_too_many', null],
  ])('%s does not fit: %s', (name, code, proposal) => {
    const read = readName(rule, name)
    expect(read.parts).toBeNull()
    expect(read.problems.map(p => p.code)).toContain(code)
    expect(read.proposal).toBe(proposal)
  })
  it('are only ever proposed so that they fit', () => {
    fc.assert(
      fc.property(fc.string(), name => {
        const { proposal, parts } = readName(rule, name)
        expect(proposal === null || readName(rule, proposal).parts !== null).toBe(true)
        expect(parts === null || Object.values(parts).join('_') === name).toBe(true)
      }),
    )
    for (const name of ['Lomms - beginners - Oct 26', 'YARN_k_10/2026'])
      expect(readName(rule, readName(rule, name).proposal!).parts).not.toBeNull()
  })
  it('keep to the network’s own rule before that of all', () => {
    const own = { ...rule, networks: ['kelpie'], separator: '|' }
    expect(ruleFor([rule, own], 'kelpie', 'campaign')).toBe(own)
    expect(ruleFor([rule, own], 'norrfeed', 'campaign')).toBe(rule)
    expect(ruleFor([rule, own], 'kelpie', 'ad')).toBeNull()
  })
  it('are refused a rule whose parts cannot be told apart', () => {
    const broken = namingRuleSchema.safeParse({ ...rule, separator: 'o' })
    expect(broken.error?.issues[0]?.path).toEqual(['parts', 0, 'values'])
  })
})
