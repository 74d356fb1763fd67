import { describe, expect, it } from 'vitest'
import { parseDay } from '@/core/shared/days'
import type { WeighedRow } from '@/core/weigh/weighRow'
import { isInState, lastTold, readConditions, type State, writeConditions } from './filters'

const day = (text: string) => parseDay(text)!
/** An ad that spent until a day. */
const ad = (network: string, until: string | null): WeighedRow =>
  ({ network, lastSpent: until && day(until), active: null }) as WeighedRow
const view = {
  period: { from: '2026-11-01', to: '2026-11-27' },
  toldUntil: '2026-11-26',
  unbilled: [
    { network: 'norrfeed', until: '2026-11-26' },
    { network: 'mothwire', until: '2026-11-22' },
  ],
}

describe('an ad that spent in the last three days', () => {
  it.each<[string, string, string | null, State]>([
    ['did so in the days that are told', 'norrfeed', '2026-11-24', 'lately'],
    ['did not', 'norrfeed', '2026-11-23', 'still'],
    ['did, although its network tells late', 'mothwire', '2026-11-20', 'lately'],
    ['did not, and its network tells late', 'mothwire', '2026-11-19', 'still'],
    ['did not, of a network that has stopped telling', 'parkfold', '2026-10-30', 'still'],
    ['never did', 'norrfeed', null, 'still'],
    ['did, as a part of the ads of all networks', '', '2026-11-24', 'lately'],
  ])('%s', (_, network, until, state) => {
    const row = ad(network, until)
    const last = lastTold(view)(row)
    const found = (['lately', 'still'] as const).filter(one => isInState(one, row, last))
    expect(found).toEqual([state])
    // Where no report says whether an ad runs, it does if it spent lately.
    expect(isInState('active', row, last)).toBe(state === 'lately')
    expect(isInState('active', { ...row, active: state !== 'lately' }, last)).toBe(state !== 'lately')
  })
})

it.each<[number, number, State[]]>([
  [100, 0, ['over', 'few', 'none']],
  [100, 4, ['over', 'few', 'none']],
  [10, 4, ['under', 'few', 'none']],
  [100, 5, ['over', 'few']],
  [100, 30, ['under', 'few']],
  [100, 50, ['under']],
  [0, 0, ['few']],
])('%i spent for %i tenths of a result, at a line of 50, is %j', (spend, estimatedTenths, states) => {
  const row = {
    ...ad('norrfeed', null),
    line: 50,
    path: [],
    sums: { spend, estimatedTenths },
  } as unknown as WeighedRow
  const among = ['over', 'under', 'few', 'none'] as const
  expect(among.filter(state => isInState(state, row, 0))).toEqual(states)
})

describe('conditions on figures', () => {
  it('stand in an address as they are read from it', () => {
    const conditions = [
      { figure: 'cost', than: 'most', value: 30 },
      { figure: 'spend', than: 'least', value: 0.5 },
    ] as const
    expect(readConditions(writeConditions(conditions))).toEqual(conditions)
  })
  it('are left out where an address holds none', () => {
    expect(readConditions('cost:most:,cost:more:3,:least:1,cost,spend:least:x,')).toEqual([])
  })
})
