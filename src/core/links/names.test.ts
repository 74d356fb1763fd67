import { describe, expect, it } from 'vitest'
import { type NamedEntity, nameFindings } from './names'
import { shippedProfiles } from './profiles'

const profile = (id: string) => shippedProfiles.find(p => p.id === id)!
const ad = (id: string, ...names: string[]): NamedEntity => ({ level: 'ad', id, names, parentId: 's1' })
const codes = (...entities: NamedEntity[]) => nameFindings(entities).map(f => f.code)

describe('names', () => {
  it.each([
    'New ad',
    'new campaign 3',
    'Untitled',
    'Copy of Looms',
    'Looms - Copy',
    'Looms copy 2',
    'Ad 12',
    'Ad set 4',
    'campaign',
  ])('“%s” is one that nobody gave', name => expect(codes(ad('1', name))).toEqual(['default_name']))
  it.each([
    'Newborn yarn',
    'Copyright cloth',
    'Adventures in weaving',
    'Postcard looms',
    'Hardcopy',
    'Ad for looms',
    '織り',
  ])('“%s” is one that somebody gave', name => expect(codes(ad('1', name))).toEqual([]))
  it('are the same where two of one parent have them, and not of different ones', () => {
    const [one, other] = [ad('1', 'Oak'), ad('2', 'Oak')]
    expect(nameFindings([one, other, ad('3', 'Ash')])).toEqual([
      {
        code: 'duplicate_name',
        severity: 'warning',
        at: { part: 'name', level: 'ad', id: '1' },
        name: 'Oak',
        ids: ['1', '2'],
      },
    ])
    expect(codes(one, { ...other, parentId: 's2' })).toEqual([])
    expect(codes(one, { ...other, level: 'ad_set' })).toEqual([])
  })
  it('were changed where an ID had another before; a name that came back counts', () => {
    expect(codes(ad('1', 'Oak', 'Ash'))).toEqual(['name_changed'])
    expect(codes(ad('1', 'Oak', 'Ash', 'Oak'))).toEqual(['name_changed'])
    expect(codes(ad('1', 'Oak', 'Oak'))).toEqual([])
  })
  it('are awkward in an address only where the network writes them there', () => {
    const entity = ad('1', 'Wool & linen + more')
    expect(nameFindings([entity], profile('norrfeed'))).toMatchObject([{ characters: '&+' }])
    expect(nameFindings([entity], profile('kelpie'))).toEqual([])
  })
})
