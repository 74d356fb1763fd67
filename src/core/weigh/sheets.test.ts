import { describe, expect, it } from 'vitest'
import { shippedProfiles } from '../links/profiles'
import { sheetCells, sheetProfileSchema } from './changeSheet'
import { noSums } from './figures'
import { listedSegments } from './lists'
import type { JudgedRow } from './rows'

const row = (more: Partial<JudgedRow>): JudgedRow => ({
  level: 'part',
  path: ['click.source', 'sp-1'],
  id: 'sp-1',
  name: 'sp-1',
  formerNames: [],
  byResult: null,
  restsOn: null,
  network: 'parkfold',
  parentId: null,
  sums: { ...noSums(), estimatedTenths: 20 },
  low: 0,
  high: 0,
  variance: 0,
  squares: 0,
  leaves: 0,
  leavesSquares: 0,
  worth: null,
  line: 2000,
  rate: { log: Math.log(1 / 1000), variance: 0.01 },
  left: 2000,
  verdict: { kind: 'raise', because: 'under_the_line', probability: 0.99, needed: null },
  ...more,
})

describe('a list of segments', () => {
  it('leaves out what is to be cut, keeps what is to be raised, and says nothing of the rest', () => {
    const verdict = (kind: JudgedRow['verdict']['kind']) => ({ ...row({}).verdict, kind })
    const rows = [
      row({ id: 'good' }),
      row({ id: 'bad', verdict: verdict('cut') }),
      row({ id: 'even', verdict: verdict('hold') }),
      row({ id: 'new', verdict: verdict('wait') }),
      row({ id: '', verdict: verdict('cut') }),
      row({ id: 'far', rate: { log: Math.log(1 / 100), variance: 0.01 } }),
    ]
    // Twice its cost back: the bid rises by the root of that, and by half at most.
    const seen = { ...noSums(), spend: 700, estimatedTenths: 35 }
    expect(listedSegments([row({ sums: seen })], 'parkfold')).toMatchObject([
      { network: 'parkfold', spend: 700, results: 3.5 },
    ])
    expect(
      listedSegments([row({ line: null }), row({ rate: null }), row({ level: 'ad' })], 'parkfold'),
    ).toEqual([])
    expect(listedSegments(rows, 'parkfold').map(one => [one.value, one.action, one.factor])).toEqual([
      ['good', 'include', 1.4],
      ['bad', 'exclude', 0],
      ['far', 'include', 1.5],
    ])
  })
  it('leaves in the network’s own columns and words', () => {
    const { sheets } = shippedProfiles.find(one => one.id === 'parkfold')!
    const line = { date: '2026-11-20', ids: [], names: [], levelName: '' }
    expect(
      sheetCells(
        sheets,
        'lists',
        [
          { ...line, value: 'sp-1', action: 'include', bidFactor: 1.4 },
          { ...line, value: 'sp-2', action: 'exclude', bidFactor: 0 },
        ],
        'EUR',
      ),
    ).toEqual({
      fields: ['source', 'rule', 'multiplier'],
      data: [
        ['sp-1', 'allow', '1.40'],
        ['sp-2', 'block', ''],
      ],
    })
  })
})

describe('a change sheet', () => {
  it('says what each network asks for; one that asks for nothing gets every column', () => {
    const cut = {
      date: '2026-11-20',
      ids: ['c1', 's1', 'a1'],
      names: ['Autumn', 'Buyers', 'Oak'],
      levelName: 'ad',
      perDay: 0,
      factor: 0,
    }
    const raised = {
      ...cut,
      ids: ['c1'],
      names: ['Autumn'],
      levelName: 'campaign',
      perDay: 12_345.4,
      factor: 1.25,
    }
    const usual = sheetCells(sheetProfileSchema.parse({}), 'moves', [cut, raised], 'EUR')
    expect(usual.data).toEqual([
      ['ad', 'c1', 'Autumn', 's1', 'Buyers', 'a1', 'Oak', 'paused', ''],
      ['campaign', 'c1', 'Autumn', '', '', '', '', 'active', '123.45'],
    ])
    // What is moved to a share of nobody's budget has no amount, and a segment has no change.
    expect(
      sheetCells(
        sheetProfileSchema.parse({}),
        'moves',
        [{ ...raised, perDay: undefined }],
        'EUR',
      ).data[0]!.slice(-2),
    ).toEqual(['active', ''])
    const kelpie = shippedProfiles.find(one => one.id === 'kelpie')!
    expect(sheetCells(kelpie.sheets, 'moves', [cut, raised], 'EUR').data).toEqual([
      ['c1', 's1', 'a1', '-100', 'off'],
      ['c1', '', '', '25', 'on'],
    ])
    expect(sheetCells(kelpie.sheets, 'moves', [{ ...raised, factor: undefined }], 'EUR').data[0]![3]).toBe('')
  })
})
