import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyProfile, planFor, text } from './anyProfile'
import { assembleLink, sampleValue } from './assemble'
import type { LinkFinding } from './finding'
import type { LinkInput } from './linkInput'
import { nameFindings } from './names'
import { resolvePlan, type TagPlan } from './plan'
import { shippedProfiles } from './profiles'

const profile = (id: string) => shippedProfiles.find(p => p.id === id)!
const sample = {
  campaign: { id: 'nc1', name: 'Autumn kits' },
  ad_set: { id: 'ns1', name: 'Weavers' },
  ad: { id: 'na1', name: 'Oak & wool' },
}
const source = { utm_source: 'norrfeed', utm_campaign: '{campaign.name}' }
const link = (input: Partial<LinkInput>) =>
  assembleLink({
    profile: profile('norrfeed'),
    destination: 'https://tarnbrook.example/kits',
    plan: { account: source },
    sample,
    otherProfiles: shippedProfiles,
    ...input,
  })
const codes = (input: Partial<LinkInput>) => link(input).findings.map(f => f.code)

describe('assembling an address', () => {
  it('keeps what was there, appends the plan, and leaves the fragment last', () => {
    const made = link({
      destination: 'https://tarnbrook.example/kits?lang=pt#looms',
      plan: { account: source, ad: { utm_content: '{ad.name}' } },
    })
    expect(made.address).toBe(
      'https://tarnbrook.example/kits?lang=pt&utm_source=norrfeed&utm_campaign=[[campaign_title]]&utm_content=[[ad_title]]#looms',
    )
    expect(made.preview).toBe(
      'https://tarnbrook.example/kits?lang=pt&utm_source=norrfeed&utm_campaign=Autumn%20kits&utm_content=Oak%20%26%20wool#looms',
    )
    expect(made.fields).toEqual({
      destination: 'https://tarnbrook.example/kits?lang=pt#looms',
      parameters: 'utm_source=norrfeed&utm_campaign=[[campaign_title]]&utm_content=[[ad_title]]',
    })
    expect(made.origin).toEqual({ utm_source: 'account', utm_campaign: 'account', utm_content: 'ad' })
  })
  it('lets the lowest level win, and an empty value remove', () => {
    const made = link({
      plan: { account: { a: '1', b: '2', c: '3' }, campaign: { b: 'x' }, ad_set: { c: '' }, ad: { b: 'y' } },
    })
    expect(made.address).toBe('https://tarnbrook.example/kits?a=1&b=y')
    expect(made.origin).toEqual({ a: 'account', b: 'ad' })
  })
  it.each([
    ['as it is written', 'utm_source=old&lang=pt', 'lang=pt&'],
    ['more than once', 'utm_source=old&lang=pt&utm_source=older', 'lang=pt&'],
    ['encoded', 'utm%5Fsource=old&lang=pt', 'lang=pt&'],
    ['without a value', 'utm_source&lang=pt', 'lang=pt&'],
    ['behind the fragment', 'lang=pt#utm_source=old', 'lang=pt&'],
    ['in other letters: another parameter', 'UTM_Source=old', 'UTM_Source=old&'],
  ])('puts the plan’s value in the place of the address’s own: %s', (_, query, kept) => {
    const made = link({ destination: `https://tarnbrook.example/kits?${query}` })
    expect(made.address).toBe(
      `https://tarnbrook.example/kits?${kept}utm_source=norrfeed&utm_campaign=[[campaign_title]]`,
    )
  })
  it('puts sub-IDs in the query or the path, up to the limit', () => {
    const subIds = ['a/b', '{sub.2}', 'c']
    const corvane = profile('corvane')
    expect(link({ profile: corvane, plan: {}, subIds }).address).toBe(
      'https://tarnbrook.example/kits?p1=a%2Fb&p2=#p2#&p3=c',
    )
    const inPath = { ...corvane, sub_ids: { limit: 2, in: 'path' as const, names: [] } }
    const made = link({ profile: inPath, plan: {}, subIds, destination: 'https://corvane.example/o/?z=1' })
    expect(made.address).toBe('https://corvane.example/o/a%2Fb/#p2#?z=1')
    expect(made.findings.map(f => f.code)).toContain('too_many_sub_ids')
  })
  it('reads the network’s own spelling in a plan or a destination as the token it is', () => {
    const made = link({
      destination: 'https://tarnbrook.example/?x=[[ad_ref]]',
      plan: { account: { ...source, y: '[[ad_title]]' } },
    })
    expect(made.preview).toContain('x=na1')
    expect(made.preview).toContain('y=Oak%20%26%20wool')
  })
  it('gives exactly the sample values when the preview is parsed, for any text and profile', () => {
    const named = fc.record({ id: text, name: text })
    fc.assert(
      fc.property(
        fc
          .oneof(fc.constantFrom(...shippedProfiles), anyProfile)
          .chain(network => fc.tuple(fc.constant(network), planFor(network))),
        fc.record({ campaign: named, ad_set: named, ad: named, keyword: text, source: text }),
        ([network, parameters], values) => {
          const account = Object.fromEntries(
            Object.entries(parameters).map(([key, [, value]]) => [key, value]),
          )
          const made = link({
            profile: network,
            destination: 'https://tarnbrook.example/#looms',
            plan: { account },
            sample: values,
          })
          const expected = made.parameters.map(p => [
            p.key,
            p.segments.map(s => (s.kind === 'literal' ? s.text : sampleValue(values, s.token))).join(''),
          ])
          expect([...new URL(made.preview).searchParams]).toEqual(expected)
          expect(new URL(made.preview).hash).toBe('#looms')
        },
      ),
    )
  })
  it('resolves a resolved plan to itself', () => {
    fc.assert(
      fc.property(anyProfile.chain(planFor), parameters => {
        const plan: TagPlan = {}
        for (const [key, [level, value]] of Object.entries(parameters))
          plan[level] = { ...plan[level], [key]: value }
        const once = resolvePlan(plan).parameters
        const again = resolvePlan({
          account: Object.fromEntries(once.map(p => [p.key, p.template])),
        }).parameters
        expect(again.map(p => [p.key, p.template]).sort()).toEqual(once.map(p => [p.key, p.template]).sort())
      }),
    )
  })
  it('says of every repair that it made it', () => {
    const repairs = ['second_question_mark', 'parameters_after_fragment']
    const key = fc.stringMatching(/^[a-z]{1,6}$/)
    const pairs = fc.array(fc.tuple(key, fc.stringMatching(/^[a-z?#&=/ ]{0,8}$/)), {
      minLength: 1,
      maxLength: 5,
    })
    const marks = fc.array(fc.constantFrom('?', '&', '#', '#x?', '#x&'), { minLength: 5, maxLength: 5 })
    fc.assert(
      fc.property(pairs, marks, (parameters, before) => {
        const destination = `https://tarnbrook.example/kits${parameters.map(([k, v], i) => `${i === 0 ? '?' : before[i]}${k}=${v.replaceAll('#', '%23')}`).join('')}`
        const made = link({ destination, plan: {} })
        if (made.findings.some(f => repairs.includes(f.code))) return
        const [meant, got] = [new URL(destination), new URL(made.address)]
        expect([...got.searchParams]).toEqual([...meant.searchParams])
        expect(got.hash).toBe(meant.hash)
      }),
    )
  })
  it('changes nothing when a finished address is assembled again', () => {
    const destination = fc.webUrl({ withQueryParameters: true, withFragments: true })
    fc.assert(
      fc.property(destination, text => {
        const once = link({ destination: text, plan: {} })
        expect(link({ destination: once.address, plan: {} }).address).toBe(once.address)
      }),
    )
  })
})

describe('findings', () => {
  const long = 'x'.repeat(3000)
  /** One slip for each finding. */
  const slips: Partial<Record<LinkFinding['code'], Partial<LinkInput>>> = {
    not_an_address: { destination: 'tarnbrook kits' },
    second_question_mark: { destination: 'https://tarnbrook.example/kits?a=1?b=2' },
    parameters_after_fragment: { destination: 'https://tarnbrook.example/kits#looms?b=2' },
    parameters_without_question_mark: { destination: 'https://tarnbrook.example/kits&a=1' },
    duplicate_key: { destination: 'https://tarnbrook.example/kits?utm_source=old' },
    unknown_token: { profile: profile('kelpie'), plan: { account: { ...source, x: '{ad.name}' } } },
    foreign_dialect: { plan: { account: { ...source, x: '<post_id>' } } },
    misspelled_token: { plan: { account: { ...source, x: '[[ad_titel]]' } } },
    empty_on_test: {
      profile: profile('kelpie'),
      plan: { account: { utm_source: 'kelpie', utm_term: '{keyword}' } },
    },
    id_where_name_exists: { plan: { account: { utm_source: 'norrfeed', utm_campaign: '{campaign.id}' } } },
    token_in_nested_address: {
      plan: { account: { ...source, next: 'https://tarnbrook.example/?a={ad.id}' } },
    },
    too_many_sub_ids: { subIds: ['a'] },
    not_https: { destination: 'http://tarnbrook.example/kits' },
    host_not_listed: { hosts: ['corvane.example'] },
    too_long: { plan: { account: { ...source, x: long } } },
    missing_source: { plan: { account: { utm_campaign: 'x' } } },
    missing_campaign: { plan: { account: { utm_source: 'x' } } },
    mixed_case: { plan: { account: { utm_source: 'Norrfeed', utm_campaign: 'x' } } },
    personal_data: { plan: { account: { ...source, who: 'ines@tarnbrook.example' } } },
    edit_causes_review: { plan: { account: source, ad: { x: '1' } } },
    default_name: { sample: { ...sample, campaign: { id: '1', name: 'New campaign' } } },
    reserved_character_in_name: { sample },
  }
  it.each(Object.entries(slips))('%s', (code, input) => {
    expect(codes(input)).toContain(code)
  })
  it('finds nothing on a clean link', () => {
    expect(codes({ sample: { ...sample, ad: { id: 'na1', name: 'Oak and wool' } } })).toEqual([])
  })
  it('mends a second question mark and parameters behind the fragment', () => {
    expect(link({ destination: 'https://tarnbrook.example/kits?a=1?b=2#top&c=3', plan: {} }).address).toBe(
      'https://tarnbrook.example/kits?a=1&b=2&c=3#top',
    )
  })
  it('leaves alone what only looks like a slip', () => {
    const innocent = [
      'https://tarnbrook.example/kits?q=really?',
      'https://tarnbrook.example/#/route?x=1',
      'https://tarnbrook.example/?next=https://a.example/?b=1',
      'http://shop.localhost/',
    ]
    for (const destination of innocent)
      expect(codes({ destination })).not.toEqual(
        expect.arrayContaining([expect.stringMatching(/question|fragment|https/)]),
      )
    expect(codes({ plan: { account: { ...source, id: '351912345678' } } })).not.toContain('personal_data')
  })
  it('names the level that avoids a review', () => {
    const found = link({ plan: { account: source, ad: { x: '1' } } }).findings.find(
      f => f.code === 'edit_causes_review',
    )
    expect(found).toMatchObject({ level: 'ad', instead: 'ad_set' })
  })
  it('tells renamed and doubled names', () => {
    const found = nameFindings([
      { level: 'ad', id: '1', names: ['Oak', 'Oak tall'], parentId: 's' },
      { level: 'ad', id: '2', names: ['Oak tall'], parentId: 's' },
      { level: 'ad', id: '3', names: ['Oak tall'], parentId: 'other' },
    ])
    expect(found.map(f => f.code)).toEqual(['name_changed', 'duplicate_name'])
  })
})
