import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type EntityRow, entityKey, findingsOfNames, readAccount } from './account'
import { scopeKey } from './change'
import { shippedProfiles } from './profiles'

const named = (
  level: 'campaign' | 'ad_set' | 'ad',
  id: string,
  name: string,
  above: Partial<Above> = {},
): EntityRow => [
  above.network ?? 'norrfeed',
  level,
  id,
  above.campaign ?? 'c1',
  above.adSet ?? 's1',
  name,
  null,
  false,
  null,
]
interface Above {
  network: string
  campaign: string
  adSet: string
}
const order = (rows: readonly EntityRow[]) => readAccount(rows).ads.map(ad => ad.id)

describe('the ads of an account', () => {
  it('stand by network, campaign and ad set, numbers in names by their size', () => {
    const rows = [
      named('campaign', 'c1', 'Kits 10'),
      named('campaign', 'c2', 'kits 9'),
      named('ad_set', 's1', 'All'),
      named('ad', 'x', 'Loom 2'),
      named('ad', 'y', 'loom 10'),
      named('ad', 'z', 'Anything', { campaign: 'c2' }),
      named('ad', 'k', 'Kelpie', { network: 'kelpie' }),
    ]
    expect(order(rows)).toEqual(['k', 'z', 'x', 'y'])
  })
  it('are the same whatever order they came in, each once, those of an ad set together', () => {
    const id = fc.integer({ min: 0, max: 400 })
    const rows = fc.uniqueArray(
      fc.record({ ad: id, set: fc.nat(4), name: fc.constantFrom('Oak', 'oak', 'Kits 2', 'Kits 10', '') }),
      { selector: row => row.ad, maxLength: 25 },
    )
    fc.assert(
      fc.property(rows, fc.nat(), (found, turn) => {
        const entities = found.map(row =>
          named('ad', `a${row.ad}`, row.name, { adSet: `s${row.set}`, campaign: `c${row.set % 2}` }),
        )
        const at = entities.length > 0 ? turn % entities.length : 0
        const ads = readAccount(entities).ads
        expect(readAccount([...entities.slice(at), ...entities.slice(0, at)]).ads).toEqual(ads)
        expect(ads.map(a => a.id).sort()).toEqual(entities.map(t => t[2]).sort())
        const sets = ads.map(a => a.adSetId)
        const runs = sets.filter((set, i) => set !== sets[i - 1])
        expect(runs.length).toBe(new Set(sets).size)
      }),
    )
  })
  it('leave the names of campaigns and ad sets by their keys, not those of ads', () => {
    const { names } = readAccount([
      named('campaign', 'c1', 'Kits'),
      named('ad_set', 's1', 'All'),
      named('ad', 'x', 'X'),
    ])
    expect(names).toEqual({
      [entityKey('norrfeed', 'campaign', 'c1')]: 'Kits',
      [entityKey('norrfeed', 'ad_set', 's1')]: 'All',
    })
  })
})

describe('findings about names', () => {
  const found = (rows: readonly EntityRow[], former = {}) => findingsOfNames(rows, former, shippedProfiles)
  const codes = (
    rows: readonly EntityRow[],
    level: 'campaign' | 'ad_set' | 'ad',
    scope: string,
    former = {},
  ) => (found(rows, former).get(scopeKey({ network: 'norrfeed', level, scope })) ?? []).map(f => f.code)
  it('stand at each of those that share a name, within one parent alone', () => {
    const rows = [
      named('ad', 'x', 'Oak'),
      named('ad', 'y', 'Oak'),
      named('ad', 'z', 'Oak', { adSet: 's2' }),
      named('ad', 'x', 'Oak', { network: 'kelpie' }),
    ]
    expect(['x', 'y', 'z'].map(id => codes(rows, 'ad', id))).toEqual([
      ['duplicate_name'],
      ['duplicate_name'],
      [],
    ])
  })
  it('tell an entity that was renamed, with its names in order', () => {
    const rows = [named('campaign', 'c1', 'Gift season')]
    const former = { [entityKey('norrfeed', 'campaign', 'c1')]: ['Gifts', 'Gift'] }
    const [renamed] = found(rows, former).get(
      scopeKey({ network: 'norrfeed', level: 'campaign', scope: 'c1' }),
    )!
    expect(renamed).toMatchObject({ code: 'name_changed', names: ['Gifts', 'Gift', 'Gift season'] })
  })
  it.each([
    ['New campaign', true],
    ['Untitled', true],
    ['Ad set 3', true],
    ['Copy of Looms', true],
    ['Looms - Copy 2', true],
    ['Newcomers', false],
    ['Adventure', false],
    ['Copywriters', false],
    ['Drafty rooms', false],
  ])('%s is a default name: %s', (name, isDefault) => {
    expect(codes([named('campaign', 'c1', name)], 'campaign', 'c1').includes('default_name')).toBe(isDefault)
  })
  it('are awkward in an address only where the network writes the name there', () => {
    const rows = [named('ad', 'x', 'Oak & wool'), named('ad', 'x', 'Oak & wool', { network: 'kelpie' })]
    expect(codes(rows, 'ad', 'x')).toEqual(['reserved_character_in_name'])
    expect(found(rows).get(scopeKey({ network: 'kelpie', level: 'ad', scope: 'x' }))).toBeUndefined()
  })
})
