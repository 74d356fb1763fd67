import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import * as z from 'zod'
import { anyProfile } from './anyProfile'
import { levelsOf, profileSchema, spell, spellings } from './profile'
import { shippedProfiles } from './profiles'

const own = {
  id: 'fernlight',
  name: 'Fernlight',
  dialect: { open: '((', close: '))', tokens: { 'ad.id': 'advert' } },
}
/** The paths of the fields that are wrong, with what is said of each. */
const wrong = (part: object): Record<string, string> => {
  const read = profileSchema.safeParse({ ...own, ...part })
  return read.success ? {} : Object.fromEntries(read.error.issues.map(i => [i.path.join('.'), i.message]))
}
const dialect = (part: object) => wrong({ dialect: { ...own.dialect, ...part } })

describe('a network profile', () => {
  it('needs little, and fills in what is usual', () => {
    expect(profileSchema.parse(own)).toMatchObject({
      fields: [{ id: 'address', holds: 'address' }],
      levels: ['campaign', 'ad_set', 'ad'],
      max_length: 2048,
      click_window_days: 30,
      review_levels: [],
    })
  })
  it('is refused at the field that is wrong', () => {
    expect(wrong({ id: 'Fern light' })).toHaveProperty('id')
    expect(wrong({ name: '' })).toHaveProperty('name')
    expect(wrong({ fields: [] })).toHaveProperty('fields')
    expect(wrong({ fields: [{ id: 'x', holds: 'pixels' }] })).toHaveProperty('fields.0.holds')
    expect(wrong({ sub_ids: { limit: -1, in: 'query' } })).toHaveProperty('sub_ids.limit')
    expect(wrong({ click_window_days: 91 })).toHaveProperty('click_window_days')
    expect(wrong({ review_levels: ['post'] })).toHaveProperty('review_levels.0')
    expect(wrong({ levels: ['campaign'] }).levels).toMatch(/lowest level is needed/)
    expect(dialect({ open: '' })['dialect.open']).toMatch(/before a value are missing/)
    expect(dialect({ close: '&' })['dialect.close']).toMatch(/would break the address/)
    expect(dialect({ tokens: { 'ad.colour': 'x' } })['dialect.tokens.ad.colour']).toMatch(
      /no token ad\.colour/,
    )
    expect(dialect({ tokens: { 'ad.id': 'a b' } })['dialect.tokens.ad.id']).toMatch(/would break/)
    expect(dialect({ tokens: { 'ad.id': '((a))' } })['dialect.tokens.ad.id']).toMatch(/they are added/)
    expect(dialect({ tokens: { 'ad.id': 'a', 'ad.name': 'a' } })['dialect.tokens.ad.name']).toMatch(
      /the same/,
    )
    expect(dialect({ open: '%', close: '%', tokens: { 'ad.id': 'AD' } })['dialect.tokens.ad.id']).toMatch(
      /encoded/,
    )
  })
  it('goes out as JSON and comes in the same, with what this program does not know', () => {
    fc.assert(
      fc.property(fc.oneof(fc.constantFrom(...shippedProfiles), anyProfile), profile => {
        const sent = { ...profile, colour: 'green' }
        expect(profileSchema.parse(JSON.parse(JSON.stringify(sent)))).toEqual(sent)
      }),
    )
  })
  it('is described by a JSON Schema that names every member of those that ship', () => {
    const schema = z.toJSONSchema(profileSchema, { io: 'input', unrepresentable: 'any' })
    for (const profile of shippedProfiles)
      expect(Object.keys(profile).filter(member => !(member in (schema.properties ?? {})))).toEqual([])
    expect(schema.required).toEqual(['id', 'name', 'dialect'])
  })
  it('has the levels of its network, from the account down', () => {
    const levels = (id: string) => levelsOf(shippedProfiles.find(p => p.id === id)!)
    expect(levels('norrfeed')).toEqual(['account', 'campaign', 'ad_set', 'ad'])
    expect(levels('parkfold')).toEqual(['account', 'campaign', 'ad'])
    expect(levels('corvane')).toEqual(['account', 'ad'])
  })
  it('spells each token in one way, which means that token alone', () => {
    fc.assert(
      fc.property(fc.oneof(fc.constantFrom(...shippedProfiles), anyProfile), ({ dialect }) => {
        const written = spellings(dialect)
        expect(new Set(written.map(([spelling]) => spelling)).size).toBe(written.length)
        for (const [spelling, token] of written) expect(spell(dialect, token)).toBe(spelling)
      }),
    )
  })
})

it('the seven networks each have a profile of their own', () => {
  expect(shippedProfiles.map(p => p.id).sort()).toEqual([
    'corvane',
    'guildpost',
    'kelpie',
    'mothwire',
    'norrfeed',
    'parkfold',
    'whyfold',
  ])
})
