import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkNames, namingRuleSchema, readName, ruleFor } from './naming'

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
  it.each([
    [
      'a value with the separator in it',
      { separator: 'o' },
      ['parts', 0, 'values'],
      'a value has o in it, which parts the name',
    ],
    [
      'two parts of one name, in whatever letters',
      {
        parts: [
          { name: 'Theme', kind: 'text' },
          { name: 'theme', kind: 'text' },
        ],
      },
      ['parts', 1, 'name'],
      'another part has this name',
    ],
    [
      'a list of nothing',
      { parts: [{ name: 'a', kind: 'list' }] },
      ['parts', 0, 'values'],
      'list what it may be',
    ],
    ['no separator', { separator: '' }, ['separator'], 'say what stands between parts'],
    ['no part', { parts: [] }, ['parts'], 'a name needs a part'],
    [
      'a part without a name',
      { parts: [{ name: ' ', kind: 'text' }] },
      ['parts', 0, 'name'],
      'name the part',
    ],
  ])('are refused a rule with %s', (_, change, path, message) => {
    const { issues } = namingRuleSchema.safeParse({ ...rule, ...change }).error!
    expect(issues.map(issue => [issue.path, issue.message])).toEqual([[path, message]])
  })
  const monthly = namingRuleSchema.parse({
    level: 'ad',
    separator: '_',
    parts: [{ name: 'month', kind: 'month' }],
  })
  it.each([
    ['2026-10', null, true],
    ['2026-1', '2026-01', false],
    ['2026/10', '2026-10', false],
    ['2026 10', '2026-10', false],
    ['202610', '2026-10', false],
    ['10/2026', '2026-10', false],
    ['1-2026', '2026-01', false],
    ['10 2026', '2026-10', false],
    ['Jan 26', '2026-01', false],
    ['december-2026', '2026-12', false],
    ['oct26', '2026-10', false],
    ['0/2026', null, false],
    ['13-2026', null, false],
    ['2026-13', null, false],
    ['x2026-10', null, false],
    ['2026-10x', null, false],
    ['x10/2026', null, false],
    ['10/2026x', null, false],
    ['10x2026', null, false],
    ['octopus 26', '2026-10', false],
    ['smarch 26', null, false],
    ['102026', null, false],
  ])('take %s for a month: %s', (text, proposal, fits) => {
    const read = readName(monthly, text)
    expect([read.parts !== null, read.proposal]).toEqual([fits, proposal])
    if (!fits) expect(read.problems).toEqual([{ code: 'not_a_month', part: 'month', value: text }])
  })
  const numbered = namingRuleSchema.parse({
    level: 'ad',
    separator: '_',
    parts: [{ name: 'no', kind: 'number' }],
  })
  it.each([
    ['104', null],
    ['v104', '104'],
    ['104b', '104'],
    ['1 of 4', '1'],
    ['four', null],
  ])('take %s for a number: %s', (text, proposal) => {
    const read = readName(numbered, text)
    const fits = text === '104'
    expect(read).toEqual({
      parts: fits ? { no: text } : null,
      problems: fits ? [] : [{ code: 'not_a_number', part: 'no', value: text }],
      proposal,
    })
  })
  it('say in each problem what was found and what is near', () => {
    expect(readName(rule, 'lomms__2026').problems).toEqual([
      { code: 'not_in_list', part: 'product', value: 'lomms', nearest: 'looms' },
      { code: 'part_empty', part: 'audience' },
      { code: 'not_a_month', part: 'month', value: '2026' },
    ])
    expect(readName(rule, 'looms').problems).toEqual([{ code: 'parts_missing', expected: 3, found: 1 }])
    expect(readName(rule, 'a_b_c_d').problems).toEqual([{ code: 'parts_too_many', expected: 3, found: 4 }])
    expect(readName(rule, 'beads_x_2026-10').problems).toEqual([
      { code: 'not_in_list', part: 'product', value: 'beads', nearest: null },
    ])
  })
  it('are counted where they have a rule, and listed where they do not fit', () => {
    const entity = (id: string, name: string, level: 'campaign' | 'ad' = 'campaign') => ({
      network: 'kelpie',
      level,
      id,
      name,
    })
    const fits = entity('c1', 'looms_all_2026-10')
    const slips = entity('c2', 'Looms_all_2026-10')
    expect(checkNames([rule], [fits, slips, entity('a1', 'anything', 'ad')])).toEqual({
      read: 2,
      unfit: [
        {
          ...slips,
          problems: [{ code: 'not_in_list', part: 'product', value: 'Looms', nearest: 'looms' }],
          proposal: 'looms_all_2026-10',
        },
      ],
    })
  })
})
