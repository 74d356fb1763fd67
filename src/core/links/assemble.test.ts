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
/** The same, whose names nothing is found of. */
const clean = { ...sample, ad: { id: 'na1', name: 'Oak and wool' } }
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
  it.each([
    ['a text', { placement: 'feed' }, 'placement', 'feed'],
    ['a number', { 'sub.2': 7 }, 'sub.2', '7'],
    ['a part of an entity', { ad: { id: 'a1', name: 'Oak' } }, 'ad.name', 'Oak'],
    ['an entity as a whole', { ad: { id: 'a1' } }, 'ad', ''],
    ['a part that it lacks', { ad: { id: 'a1' } }, 'ad.name', ''],
    ['a part of a text', { ad: 'a1' }, 'ad.name', ''],
    ['a part of nothing', { ad: null }, 'ad.name', ''],
    ['what nobody said', {}, 'keyword', ''],
  ])('samples %s', (_, values, token, sampled) => {
    expect(sampleValue(values as never, token)).toBe(sampled)
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
  const kits = 'https://tarnbrook.example/kits'
  const inParameter = (key: string) => ({ part: 'parameter', key, level: 'account' }) as const
  const also = (parameters: Record<string, string>): Partial<LinkInput> => ({
    plan: { account: { ...source, ...parameters } },
  })
  const destination = { part: 'destination' } as const
  /** A slip, and all that is found of it; the sample's names have none. */
  const slips: [what: string, Partial<LinkInput>, ...found: LinkFinding[]][] = [
    [
      'no address',
      { destination: 'tarnbrook kits' },
      { code: 'not_an_address', severity: 'error', at: destination, text: 'tarnbrook kits' },
    ],
    [
      'a second question mark',
      { destination: `${kits}?a=1?b=2` },
      { code: 'second_question_mark', severity: 'warning', at: destination },
    ],
    [
      'parameters behind the fragment',
      { destination: `${kits}#looms?b=2` },
      { code: 'parameters_after_fragment', severity: 'warning', at: destination },
    ],
    [
      'parameters without a question mark',
      { destination: `${kits}&a=1` },
      { code: 'parameters_without_question_mark', severity: 'warning', at: destination },
    ],
    [
      'a key that the plan has too',
      { destination: `${kits}?utm_source=old` },
      {
        code: 'duplicate_key',
        severity: 'warning',
        at: { part: 'parameter', key: 'utm_source' },
        key: 'utm_source',
        kept: 'norrfeed',
        dropped: 'old',
      },
    ],
    [
      'a token that the network lacks, with what can stand for it',
      { profile: profile('kelpie'), plan: { account: { ...source, utm_campaign: 'x', x: '{ad.name}' } } },
      { code: 'unknown_token', severity: 'error', at: inParameter('x'), token: 'ad.name', instead: 'ad.id' },
    ],
    [
      'a token that nobody has',
      also({ x: '{ad.colour}' }),
      { code: 'unknown_token', severity: 'error', at: inParameter('x'), token: 'ad.colour', instead: null },
    ],
    [
      'another network’s token',
      also({ x: '<post_id>' }),
      {
        code: 'foreign_dialect',
        severity: 'error',
        at: inParameter('x'),
        text: '<post_id>',
        profile: 'mothwire',
      },
    ],
    [
      'a token with letters changed',
      also({ x: '[[ad_titel]]' }),
      {
        code: 'misspelled_token',
        severity: 'error',
        at: inParameter('x'),
        text: '[[ad_titel]]',
        token: 'ad.name',
      },
    ],
    [
      'a token that is empty on a test',
      { profile: profile('kelpie'), plan: { account: { utm_source: 'kelpie', utm_campaign: '{keyword}' } } },
      { code: 'empty_on_test', severity: 'hint', at: inParameter('utm_campaign'), token: 'keyword' },
    ],
    [
      'an ID where the name could stand',
      { plan: { account: { utm_source: 'norrfeed', utm_campaign: '{campaign.id}' } } },
      {
        code: 'id_where_name_exists',
        severity: 'hint',
        at: inParameter('utm_campaign'),
        token: 'campaign.id',
        name: 'campaign.name',
      },
    ],
    [
      'a token within an address within the plan',
      also({ next: 'https://tarnbrook.example/?a={ad.name}' }),
      { code: 'token_in_nested_address', severity: 'warning', at: inParameter('next'), token: 'ad.name' },
    ],
    [
      'a token within an address within the address',
      { destination: `${kits}?next=https://a.example/?b=[[ad_title]]` },
      {
        code: 'token_in_nested_address',
        severity: 'warning',
        at: { part: 'parameter', key: 'next' },
        token: 'ad.name',
      },
    ],
    [
      'a sub-ID where there are none',
      { subIds: ['a'] },
      { code: 'too_many_sub_ids', severity: 'error', at: { part: 'sub_id', index: 0 }, limit: 0, given: 1 },
    ],
    [
      'more sub-IDs than there are, one of them with a token that nobody has',
      {
        profile: profile('corvane'),
        plan: { account: { utm_source: 'x', utm_campaign: 'y' } },
        subIds: ['{nope}', 'b', 'c', 'd', 'e', 'f', 'g'],
      },
      {
        code: 'unknown_token',
        severity: 'error',
        at: { part: 'sub_id', index: 0 },
        token: 'nope',
        instead: null,
      },
      { code: 'too_many_sub_ids', severity: 'error', at: { part: 'sub_id', index: 6 }, limit: 6, given: 7 },
    ],
    [
      'no https',
      { destination: 'http://tarnbrook.example/kits' },
      { code: 'not_https', severity: 'warning', at: destination },
    ],
    ['no https on this machine', { destination: 'http://localhost/kits' }],
    ['no https at a name of this machine', { destination: 'http://shop.localhost/kits' }],
    ['no https at its number', { destination: 'http://127.0.0.1:4620/kits' }],
    ['no https at its longer number', { destination: 'http://[::1]/kits' }],
    [
      'no https where a name only ends like one of this machine',
      { destination: 'http://notlocalhost/kits' },
      { code: 'not_https', severity: 'warning', at: destination },
    ],
    [
      'no https where a name only begins like it',
      { destination: 'http://localhost.example/kits' },
      { code: 'not_https', severity: 'warning', at: destination },
    ],
    [
      'a host that nobody listed',
      { hosts: ['corvane.example'] },
      { code: 'host_not_listed', severity: 'error', at: destination, host: 'tarnbrook.example' },
    ],
    ['a host that is listed in other letters', { hosts: ['Tarnbrook.Example'] }],
    [
      'more than the network takes',
      also({ x: 'x'.repeat(3000) }),
      { code: 'too_long', severity: 'error', at: { part: 'address' }, length: 3085, limit: 2048 },
    ],
    [
      'no source',
      { plan: { account: { utm_campaign: 'x' } } },
      { code: 'missing_source', severity: 'warning', at: { part: 'address' }, key: 'utm_source' },
    ],
    [
      'no campaign',
      { plan: { account: { utm_source: 'x' } } },
      { code: 'missing_campaign', severity: 'warning', at: { part: 'address' }, key: 'utm_campaign' },
    ],
    [
      'either of them in the address itself',
      { destination: `${kits}?utm_source=a&UTM_CAMPAIGN=b`, plan: {} },
    ],
    [
      'capitals in a value',
      { plan: { account: { utm_source: 'Norrfeed', utm_campaign: 'x' } } },
      { code: 'mixed_case', severity: 'hint', at: inParameter('utm_source'), value: 'Norrfeed' },
    ],
    [
      'capitals in a key',
      { plan: { account: { UTM_source: 'norrfeed', utm_campaign: 'x' } } },
      { code: 'mixed_case', severity: 'hint', at: inParameter('UTM_source'), value: 'UTM_source' },
    ],
    [
      'an e-mail address in the plan',
      also({ who: 'ines@tarnbrook.example' }),
      { code: 'personal_data', severity: 'error', at: inParameter('who'), kind: 'email' },
    ],
    [
      'a telephone number in the plan',
      also({ who: '+351 912 345 678' }),
      { code: 'personal_data', severity: 'error', at: inParameter('who'), kind: 'phone' },
    ],
    [
      'an e-mail address in the address',
      { destination: `${kits}?who=ines@tarnbrook.example` },
      { code: 'personal_data', severity: 'error', at: { part: 'parameter', key: 'who' }, kind: 'email' },
    ],
    [
      'a change where ads are reviewed',
      { plan: { account: source, ad: { x: '1' } } },
      {
        code: 'edit_causes_review',
        severity: 'hint',
        at: { part: 'level', level: 'ad' },
        level: 'ad',
        instead: 'ad_set',
      },
    ],
    [
      'a name that nobody gave',
      { sample: { ...clean, campaign: { id: '1', name: 'New campaign' } } },
      {
        code: 'default_name',
        severity: 'warning',
        at: { part: 'name', level: 'campaign', id: '1' },
        name: 'New campaign',
      },
    ],
    [
      'a mark of addresses in a name',
      { sample },
      {
        code: 'reserved_character_in_name',
        severity: 'hint',
        at: { part: 'name', level: 'ad', id: 'na1' },
        name: 'Oak & wool',
        characters: '&',
      },
    ],
  ]
  it.each(slips)('%s', (_, input, ...found) => {
    expect(link({ sample: clean, ...input }).findings).toEqual(found)
  })
  it('leave nothing of what is no address but the plan', () => {
    expect(link({ destination: 'tarnbrook kits' })).toMatchObject({
      fields: { destination: '', parameters: '' },
      address: '',
      preview: '',
      origin: { utm_source: 'account', utm_campaign: 'account' },
      parameters: [
        { key: 'utm_source', written: 'norrfeed', resolved: 'norrfeed' },
        { key: 'utm_campaign', written: '[[campaign_title]]', resolved: 'Autumn kits' },
      ],
    })
  })
  it('finds nothing on a clean link', () => {
    expect(codes({ sample: clean })).toEqual([])
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
