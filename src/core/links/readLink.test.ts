import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { adLink } from './adLink'
import { shippedProfiles } from './profiles'
import { type AdPath, type KnownLinks, linkReader, networkFinder, type PlanVersion } from './readLink'

const NETWORK = 'norrfeed'
const profile = shippedProfiles.find(p => p.id === NETWORK)!
const ad = (campaign: string, adSet: string, id: string): AdPath => ({
  network: NETWORK,
  campaign,
  adSet,
  ad: id,
})
const ads = [
  ad('c1', 's1', 'a1'),
  ad('c1', 's1', 'a2'),
  ad('c1', 's2', 'a3'),
  ad('c2', 's3', 'a4'),
  ad('c2', 's3', 'a5'),
]
const names: Record<string, string[]> = {
  c1: ['Kits', 'Autumn kits'],
  c2: ['Gift-season'],
  s1: ['Weavers'],
  s2: ['Knitters'],
  s3: ['Weavers-again'],
  a1: ['Oak & wool'],
  a2: ['Hands at the loom'],
  a3: ['Oak & wool'],
  a4: ['Film'],
  a5: ['Before - after'],
}
const account = (parameters: Record<string, string>, since = 0): PlanVersion => ({
  network: NETWORK,
  level: 'account',
  scope: '',
  since,
  parameters,
})
const onAd = (scope: string, parameters: Record<string, string>, since = 0): PlanVersion => ({
  network: NETWORK,
  level: 'ad',
  scope,
  since,
  parameters,
})
const known = (plans: PlanVersion[], more: Partial<KnownLinks> = {}): KnownLinks => ({
  profiles: shippedProfiles,
  plans,
  ads,
  namesOf: (_, __, id) => names[id] ?? [],
  usual: { campaign: 'utm_campaign', ad_set: 'utm_term', ad: 'utm_content' },
  ...more,
})
const reading = (plans: PlanVersion[], query: string, at = 1000, more?: Partial<KnownLinks>) => {
  const parameters = new URLSearchParams(query)
  return linkReader(known(plans, more))(NETWORK).read(key => parameters.get(key), at)
}
const path = (found: AdPath) => [found.campaign, found.adSet, found.ad]
const usual = { utm_source: 'norrfeed', utm_campaign: '{campaign.name}', utm_content: '{ad.id}' }

describe('a click is read by its own ad’s plan', () => {
  it('whatever is set at another ad', () => {
    const plans = [account(usual), onAd('a1', { utm_content: '{ad.name}' }, 500)]
    expect(path(reading(plans, 'utm_campaign=Autumn kits&utm_content=a2'))).toEqual(['c1', 's1', 'a2'])
    expect(path(reading(plans, 'utm_campaign=Autumn kits&utm_content=Oak %26 wool'))).toEqual([
      'c1',
      's1',
      'a1',
    ])
  })
  it('and links that were pasted before a change stay readable', () => {
    const plans = [account(usual), account({ ...usual, utm_content: '{ad.name}', spot: '{placement}' }, 500)]
    expect(path(reading(plans, 'utm_campaign=Autumn kits&utm_content=a3'))).toEqual(['c1', 's2', 'a3'])
    expect(reading(plans, 'utm_campaign=Autumn kits&utm_content=Hands at the loom&spot=feed')).toMatchObject({
      ad: 'a2',
      by: 'name',
    })
    const moved = [account({ k: '{keyword}', utm_content: '{ad.id}' }), account({ k: '{ad_set.name}' }, 500)]
    expect(reading(moved, 'k=linen&utm_content=a1').tokens.get('keyword')).toBe('linen')
  })
  it('as it stood when the click came, before any other', () => {
    const plans = [
      account({ x: '{keyword}', utm_content: '{ad.id}' }),
      account({ x: '{placement}', utm_content: '{ad.id}' }, 500),
    ]
    expect([...reading(plans, 'x=feed&utm_content=a1', 499).tokens]).toEqual([['keyword', 'feed']])
    expect([...reading(plans, 'x=feed&utm_content=a1', 500).tokens]).toEqual([['placement', 'feed']])
  })
  it('by a fixed label, which is that ad’s alone and makes no other', () => {
    const plans = [account(usual), onAd('a4', { utm_content: 'free-trial' }, 500)]
    expect(reading(plans, 'utm_campaign=Gift-season&utm_content=free-trial')).toMatchObject({
      ad: 'a4',
      by: 'label',
    })
    const shared = [...plans, onAd('a5', { utm_content: 'free-trial' }, 600)]
    expect(path(reading(shared, 'utm_content=free-trial'))).toEqual(['c2', 's3', ''])
  })
  it('by two tokens in one value, also where names hold the mark between them', () => {
    const plans = [account({ utm_content: '{campaign.name} - {ad.name}' })]
    expect(path(reading(plans, 'utm_content=Gift-season - Before - after'))).toEqual(['c2', 's3', 'a5'])
    const nothing = reading(plans, 'utm_content=Nobody - knows')
    expect(path(nothing)).toEqual(['', '', ''])
    expect(nothing.unknown).toEqual([
      { level: 'campaign', value: 'Nobody' },
      { level: 'ad', value: 'knows' },
    ])
  })
  it('an unknown value makes no ad, and is told as unknown', () => {
    const found = reading([account(usual)], 'utm_campaign=Autumn kits&utm_content=a99')
    expect([path(found), found.unknown]).toEqual([['c1', '', ''], [{ level: 'ad', value: 'a99' }]])
  })
  it('and neither a value that the network left unfilled', () => {
    const found = reading([account(usual)], 'utm_campaign=[[campaign_title]]&utm_content=[[ad_ref]]')
    expect([path(found), found.unknown]).toEqual([['', '', ''], []])
  })
})

it('an ID tells the ad, however many ads share a value that was set for each of them', () => {
  const many = Array.from({ length: 1200 }, (_, i) => ad('c9', 's9', `m${i}`))
  const plans = [
    account(usual),
    ...many.map(one => onAd(one.ad, { utm_medium: 'paid', spot: '{placement}' }, 10)),
  ]
  const of = (query: string) => reading(plans, query, 1000, { ads: [...ads, ...many] })
  expect(path(of('utm_source=norrfeed&utm_medium=paid&utm_content=m7&spot=feed'))).toEqual(['c9', 's9', 'm7'])
  expect(path(of('utm_source=norrfeed&utm_medium=paid&utm_content=a4'))).toEqual(['c2', 's3', 'a4'])
  expect(path(of('utm_source=norrfeed&utm_medium=paid'))).toEqual(['c9', 's9', ''])
})

describe('parameters that no plan explains', () => {
  it('are read by the usual keys, as deep as that is certain', () => {
    expect(path(reading([], 'utm_campaign=KITS&utm_content=oak %26 wool&utm_term=weavers'))).toEqual([
      'c1',
      's1',
      'a1',
    ])
    expect(path(reading([], 'utm_campaign=kits&utm_content=oak %26 wool'))).toEqual(['c1', '', ''])
    expect(path(reading([], 'utm_campaign=unknown&utm_content=unknown'))).toEqual(['', '', ''])
  })
  it('but not by a key in which a plan keeps something else', () => {
    // The keyword is called as an ad set is.
    const plans = [account({ utm_campaign: '{campaign.id}', utm_term: '{keyword}', utm_content: '{ad.id}' })]
    const found = reading(plans, 'utm_campaign=c1&utm_term=Knitters&utm_content=a1')
    expect([path(found), found.tokens.get('keyword')]).toEqual([['c1', 's1', 'a1'], 'Knitters'])
    expect(path(reading(plans, 'utm_campaign=c1&utm_term=Knitters'))).toEqual(['c1', '', ''])
  })
})

it('the code of a link tells its ad, unless the address names another by its ID', () => {
  const read = linkReader(known([account(usual)]))(NETWORK).read
  const given = (query: string) => (key: string) => new URLSearchParams(query).get(key)
  expect(read(given(''), 0, ads[3]!)).toMatchObject({ ad: 'a4', by: 'code' })
  expect(read(given('utm_content=a1'), 0, ads[3]!)).toMatchObject({ ad: 'a1', by: 'id' })
})

it('the network is that of the source, or the only one that sets such values', () => {
  const plans = [account({ src: 'nf', medium: 'feed' }), { ...account({ src: 'kp' }), network: 'kelpie' }]
  const find = networkFinder(plans, { insta: 'norrfeed', letter: '' }, ['norrfeed', 'kelpie'])
  const of = (query: string) => find(key => new URLSearchParams(query).get(key))
  expect(
    [
      'utm_source=Kelpie',
      'utm_source=INSTA',
      'src=nf&medium=feed',
      'src=nf',
      'utm_source=letter&src=kp',
      '',
    ].map(of),
  ).toEqual(['kelpie', 'norrfeed', 'norrfeed', null, null, null])
})

it('whatever a plan makes of an ad, is read as that ad, now and after any later change', () => {
  const template = fc.constantFrom(
    '{ad.id}',
    '{ad.name}',
    '{ad_set.id}-{ad.id}',
    '{campaign.name}|{ad.name}',
    'x',
  )
  const plan = fc.record({
    a: template,
    b: fc.constantFrom('{placement}', '{campaign.id}', 'cpc', '{ad_set.name}'),
  })
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.constantFrom('', 'a1', 'a4'), plan), { minLength: 1, maxLength: 5 }),
      fc.constantFrom(...ads),
      fc.nat(4),
      (changes, clicked, when) => {
        const plans = changes.map(([scope, parameters], i) =>
          scope === '' ? account(parameters, i) : onAd(scope, parameters, i),
        )
        const at = Math.min(when, plans.length - 1)
        const holds = (scope: string) =>
          plans.findLast(p => p.scope === scope && p.since <= at)?.parameters ?? {}
        const sample = {
          campaign: { id: clicked.campaign, name: names[clicked.campaign]!.at(-1)! },
          ad_set: { id: clicked.adSet, name: names[clicked.adSet]![0]! },
          ad: { id: clicked.ad, name: names[clicked.ad]![0]! },
          placement: 'feed',
        }
        const { preview, parameters } = adLink({
          profile,
          landingPage: 'https://tarnbrook.example/kits',
          straight: true,
          tracked: null,
          hosts: [],
          otherProfiles: [],
          plan: { account: holds(''), ad: holds(clicked.ad) },
          sample,
        })
        const found = reading(plans, new URL(preview).search, at, {
          usual: { campaign: 'none', ad_set: 'none', ad: 'none' },
        })
        // Never another ad; and this one wherever its own ID stands in the address.
        expect(['', clicked.ad]).toContain(found.ad || clicked.ad)
        if (found.ad !== '')
          expect(found.ad === clicked.ad || !parameters.some(p => p.template.includes('ad.id'))).toBe(true)
        if (parameters.some(p => p.template.includes('{ad.id}'))) expect(found.ad).toBe(clicked.ad)
      },
    ),
  )
})
