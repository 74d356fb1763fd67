import Ajv2020 from 'ajv/dist/2020'
import addFormats from 'ajv-formats'
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
  describe('by its JSON Schema', () => {
    const schema = z.toJSONSchema(profileSchema, { io: 'input', unrepresentable: 'any' })
    const ajv = new Ajv2020({ strict: false })
    addFormats(ajv)
    const takes = ajv.compile(schema)
    it('has every member of those that ship, and needs three', () => {
      for (const profile of shippedProfiles)
        expect(Object.keys(profile).filter(member => !(member in (schema.properties ?? {})))).toEqual([])
      expect(schema.required).toEqual(['id', 'name', 'dialect'])
    })
    it('is right whenever the parser takes it', () => {
      fc.assert(
        fc.property(fc.oneof(fc.constantFrom(...shippedProfiles), anyProfile), profile => {
          expect([takes(profile), takes.errors]).toEqual([true, null])
        }),
      )
      for (const part of [{}, { time_zone: 'Europe/Lisbon' }, { time_zone: 'UTC' }, { dialect: {} }])
        expect(takes({ ...own, ...part })).toBe(profileSchema.safeParse({ ...own, ...part }).success)
    })
    const tag = { base: 'b', event: 'e' }
    const requests = { script: 'https://n.example/t.js', hit: 'https://n.example/h', parameters: {} }
    const outgoing = { method: 'POST', address: 'https://n.example/e' }
    const dialectOf = (part: object) => ({ dialect: { ...own.dialect, ...part } })
    it.each<[string, object]>([
      ['no ID', { id: undefined }],
      ['an ID with a capital', { id: 'Fernlight' }],
      ['an ID that begins with a dash', { id: '-fern' }],
      ['no name', { name: '' }],
      ['a name that is no text', { name: 7 }],
      ['no dialect', { dialect: undefined }],
      ['a dialect that is none', { dialect: '((' }],
      ['tokens with nothing to open them', dialectOf({ open: '' })],
      ['tokens without a word of what opens them', { dialect: { tokens: { 'ad.id': 'a' } } }],
      ['an opening with a space', dialectOf({ open: '( ' })],
      ['an opening with &', dialectOf({ open: '&(' })],
      ['a close with ?', dialectOf({ close: '?' })],
      ['an opening that is too long', dialectOf({ open: '('.repeat(11) })],
      ['a close that is too long', dialectOf({ close: ')'.repeat(11) })],
      ['a token that there is not', dialectOf({ tokens: { 'ad.colour': 'x' } })],
      ['a place of no number', dialectOf({ tokens: { 'sub.0': 'x' } })],
      ['a place beyond ninety-nine', dialectOf({ tokens: { 'sub.100': 'x' } })],
      ['a token of no letters', dialectOf({ tokens: { 'ad.id': '' } })],
      ['a token with a space', dialectOf({ tokens: { 'ad.id': 'a b' } })],
      ['a token with &', dialectOf({ tokens: { 'ad.id': 'a&b' } })],
      ['a token that is too long', dialectOf({ tokens: { 'ad.id': 'a'.repeat(101) } })],
      [
        'what reads as an encoded character',
        dialectOf({ open: '%', close: '%', tokens: { 'ad.id': 'ADID' } }),
      ],
      ['no field', { fields: [] }],
      ['a field that holds something else', { fields: [{ id: 'x', holds: 'pixels' }] }],
      ['a field without a name', { fields: [{ id: '', holds: 'query' }] }],
      ['sub IDs fewer than none', { sub_ids: { limit: -1, in: 'query' } }],
      ['sub IDs by halves', { sub_ids: { limit: 1.5, in: 'query' } }],
      ['sub IDs in no place', { sub_ids: { limit: 1, in: 'header' } }],
      ['sub IDs that say too little', { sub_ids: { limit: 1 } }],
      ['a length of nothing', { max_length: 0 }],
      ['a review of a level that there is not', { review_levels: ['post'] }],
      ['no ads', { levels: ['campaign', 'ad_set'] }],
      ['no levels', { levels: [] }],
      ['a level that there is not', { levels: ['ad', 'post'] }],
      ['a name for a level that there is not', { level_names: { post: 'Post' } }],
      ['a click window of no day', { click_window_days: 0 }],
      ['a click window of a year', { click_window_days: 91 }],
      ['a view window before its day', { view_window_days: -1 }],
      ['a view window by halves', { view_window_days: 0.5 }],
      ['a date of something else', { dated_by: 'order' }],
      ['a zone on another planet', { time_zone: 'Mars/Base' }],
      ['a column that we have not', { report_columns: { colour: 'Colour' } }],
      ['a column without a name', { report_columns: { spend: '' } }],
      ['an account of no letters', { account: '' }],
      ['code without an event', { tag: { base: 'b' } }],
      ['code that is too long', { tag: { ...tag, base: 'b'.repeat(20_001) } }],
      ['requests without a script', { tag: { ...tag, requests: { ...requests, script: '' } } }],
      [
        'a parameter of something else',
        { tag: { ...tag, requests: { ...requests, parameters: { x: 'y' } } } },
      ],
      ['code placed by somebody else', { placed_by: 'shop' }],
      ['a request by another method', { outgoing: { ...outgoing, method: 'PATCH' } }],
      ['a request to no whole address', { outgoing: { ...outgoing, address: 'n.example/e' } }],
      ['a place in the host', { outgoing: { ...outgoing, address: 'https://{account}.example/' } }],
      ['a GET with a body', { outgoing: { ...outgoing, method: 'GET', body: 'x' } }],
      ['a header with a space', { outgoing: { ...outgoing, headers: [{ name: 'a b', value: '' }] } }],
      ['an instant that is none', { relayed_since: 'yesterday' }],
      ['a slot without a name', { slots: { standard: [''], generic: [] } }],
      ['slots of one kind', { slots: { standard: [] } }],
    ])('is refused with %s, as by the parser', (_, part) => {
      const given = JSON.parse(JSON.stringify({ ...own, ...part }))
      expect([profileSchema.safeParse(given).success, takes(given)]).toEqual([false, false])
    })
    it('says in words what no schema can compare', () => {
      expect(JSON.stringify(schema)).toContain('no two tokens are written the same')
    })
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
