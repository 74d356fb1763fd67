import { describe, expect, it } from 'vitest'
import { type Minor, minor } from '../shared/money'
import { countResults, isFor, type Occurrence, resultSchema, usualWorth } from './result'

/** At an hour of the day: click, visitor, transaction, value. */
type Came = [
  id: string,
  hour: number,
  click: string | null,
  visitor: string | null,
  transaction: string | null,
  value: number | null,
]
const occurrence = ([id, hour, click, visitor, transaction, value]: Came): Occurrence => ({
  id,
  at: hour * 3_600_000,
  click,
  visitor,
  transaction,
  value: value === null ? null : minor(value),
})
const byEvent = { by: 'event' as const }

describe('occurrences of a result', () => {
  const table: [
    says: string,
    count: 'once' | 'every',
    minimum: number | undefined,
    Came[],
    (number | string)[],
  ][] = [
    [
      'each counts under “every”',
      'every',
      undefined,
      [
        ['a', 1, 'c1', 'v1', null, 100],
        ['b', 2, 'c1', 'v1', null, 200],
      ],
      [100, 200],
    ],
    [
      'one for each click under “once”',
      'once',
      undefined,
      [
        ['a', 1, 'c1', 'v1', null, 100],
        ['b', 2, 'c1', 'v2', null, 200],
        ['c', 3, 'c2', 'v1', null, 300],
      ],
      [100, 'once_per_click', 300],
    ],
    [
      'one for each visitor where there is no click',
      'once',
      undefined,
      [
        ['a', 1, null, 'v1', null, 100],
        ['b', 2, null, 'v1', null, 200],
        ['c', 3, null, 'v2', null, 300],
      ],
      [100, 'once_per_click', 300],
    ],
    [
      'a click and a visitor of one name are two',
      'once',
      undefined,
      [
        ['a', 1, 'x', null, null, 100],
        ['b', 2, null, 'x', null, 200],
      ],
      [100, 200],
    ],
    [
      'whoever is nobody counts each time',
      'once',
      undefined,
      [
        ['a', 1, null, null, null, 100],
        ['b', 2, null, null, null, 200],
      ],
      [100, 200],
    ],
    [
      'the same transaction once, whoever it was',
      'every',
      undefined,
      [
        ['a', 1, 'c1', 'v1', 'T1', 100],
        ['b', 2, 'c2', 'v2', 'T1', 100],
        ['c', 3, 'c2', 'v2', 'T2', 100],
      ],
      [100, 'same_transaction', 100],
    ],
    [
      'that it is told again says more than that its click had one',
      'once',
      undefined,
      [
        ['a', 1, 'c1', null, 'T1', 100],
        ['b', 2, 'c1', null, 'T1', 100],
      ],
      [100, 'same_transaction'],
    ],
    [
      'the earliest, whatever comes first',
      'once',
      undefined,
      [
        ['a', 2, 'c1', null, null, 100],
        ['b', 1, 'c1', null, null, 200],
      ],
      ['once_per_click', 200],
    ],
    [
      'of one instant the first by its ID',
      'once',
      undefined,
      [
        ['b', 1, 'c1', null, null, 200],
        ['a', 1, 'c1', null, null, 100],
      ],
      ['once_per_click', 100],
    ],
    [
      'as much as the least counts, and less does not',
      'every',
      100,
      [
        ['a', 1, null, null, null, 100],
        ['b', 2, null, null, null, 99],
      ],
      [100, 'below_minimum'],
    ],
    [
      'what is worth nothing counts where there is no least',
      'every',
      undefined,
      [['a', 1, null, null, null, 0]],
      [0],
    ],
    [
      'where nothing said a value there is none',
      'every',
      undefined,
      [['a', 1, null, null, null, null]],
      ['no_value'],
    ],
    [
      'what does not count uses up neither its transaction nor its click',
      'once',
      100,
      [
        ['a', 1, 'c1', null, 'T1', 50],
        ['b', 2, 'c1', null, 'T1', 150],
      ],
      ['below_minimum', 150],
    ],
    [
      'the same occurrence twice is one',
      'every',
      undefined,
      [
        ['a', 1, null, null, null, 100],
        ['a', 2, null, null, null, 300],
      ],
      [100, 100],
    ],
  ]
  it.each(table)('%s', (_, count, minimum, came, expected) => {
    const outcome = countResults(
      { value: byEvent, count, minimum: minimum === undefined ? undefined : (minimum as Minor) },
      came.map(occurrence),
    )
    expect(came.map(([id]) => outcome.get(id))).toEqual(expected)
  })
})

describe('a result is for', () => {
  const click = { network: 'norrfeed', campaign: 'nc1', at: 0 }
  it.each([
    ['all that came, where it names nothing', [], [], click, true],
    ['what came by no click as well', [], [], null, true],
    ['its network', ['norrfeed'], [], click, true],
    ['no other network', ['kelpie'], [], click, false],
    ['its campaign', [], ['norrfeed/nc1'], click, true],
    ['no other campaign', [], ['norrfeed/nc2'], click, false],
    ['no campaign of that ID elsewhere', [], ['kelpie/nc1'], click, false],
    ['either of the two', ['kelpie'], ['norrfeed/nc1'], click, true],
    ['nothing without a click, where it names something', ['norrfeed'], [], null, false],
  ] as const)('%s', (_, networks, campaigns, by, yes) => {
    expect(isFor({ networks: [...networks], campaigns: [...campaigns] }, by)).toBe(yes)
  })
})

describe('a result', () => {
  it('is worth as usual what its rule says alone, as a decimal of its currency', () => {
    expect(usualWorth({ value: { by: 'fixed', amount: 550 }, currency: 'EUR' })).toEqual({
      value: '5.50',
      currency: 'EUR',
    })
    expect(usualWorth({ value: byEvent, currency: 'EUR' })).toEqual({ value: '', currency: '' })
    expect(usualWorth({ value: { by: 'less_fee', amount: 500, fee: 900 }, currency: 'JPY' })).toEqual({
      value: '0',
      currency: 'JPY',
    })
  })
  it('has a currency that there is, and a name', () => {
    const given = { id: 'lead', name: 'Lead', kind: 'lead', currency: 'EUR', value: byEvent, count: 'once' }
    expect(resultSchema.safeParse(given).success).toBe(true)
    expect(resultSchema.safeParse({ ...given, currency: 'EURO' }).success).toBe(false)
    expect(resultSchema.safeParse({ ...given, name: '' }).success).toBe(false)
    expect(resultSchema.safeParse({ ...given, count: 'twice' }).success).toBe(false)
    expect(resultSchema.safeParse({ ...given, value: { by: 'fixed', amount: -1 } }).success).toBe(false)
  })
})
