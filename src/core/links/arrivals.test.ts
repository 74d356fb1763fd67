import { describe, expect, it } from 'vitest'
import { findingsOfNames } from './account'
import { scopeKey } from './change'
import { compareHops } from './hops'
import { readArrivals } from './parameterArrivals'
import { planInTime } from './planInTime'
import { shippedProfiles } from './profiles'
import { surveyAds } from './survey'

const plans = new Map([
  [
    scopeKey({ network: 'norrfeed', level: 'account', scope: '' }),
    {
      utm_source: 'norrfeed',
      utm_campaign: '{campaign.name}',
      utm_content: 'ad-{ad.id}',
      spot: '{placement}',
    },
  ],
  [scopeKey({ network: 'norrfeed', level: 'ad', scope: 'a2' }), { utm_content: 'fixed' }],
])
const ownOf = (scope: Parameters<typeof scopeKey>[0]) => plans.get(scopeKey(scope)) ?? {}
const names = new Map([
  ['Autumn kits', 'c1'],
  ['Autumn', 'c1'],
])
const click = (adId: string, query: string, at = 0) => ({
  network: 'norrfeed',
  campaignId: 'c1',
  adSetId: 's1',
  adId,
  at,
  query,
})
const read = (...clicks: ReturnType<typeof click>[]) =>
  readArrivals(
    clicks,
    { profiles: shippedProfiles, ownOf, stateAt: () => 0, find: (_, __, value) => names.get(value) ?? null },
    100,
  )

describe('what arrived of the plan', () => {
  const all = 'utm_source=norrfeed&utm_campaign=Autumn%20kits&utm_content=ad-a1&spot=feed'
  it('tells resolved, unresolved, empty, unknown and missing values apart', () => {
    const { parameters, ads } = read(
      click('a1', all, 200),
      click('a1', 'utm_source=nf&utm_campaign=[[campaign_title]]&utm_content=ad-&spot='),
      click('a1', 'utm_source=&utm_campaign=Spring&utm_content=ad-%26&spot=<where_seen>'),
      click('a1', 'utm_campaign=&utm_content=x1&spot=%257B'),
    )
    const counts = Object.fromEntries(parameters.map(p => [p.key, Object.values(p.counts)]))
    expect(counts).toEqual({
      utm_source: [1, 0, 1, 1, 1],
      utm_campaign: [1, 1, 1, 1, 0],
      utm_content: [2, 0, 1, 1, 0],
      spot: [2, 1, 1, 0, 0],
    })
    expect(ads.get('norrfeed/a1')).toMatchObject({
      lastDay: 1,
      unresolved: ['utm_campaign', 'spot'],
      missing: ['utm_source'],
    })
  })
  it('keeps names under the same ID together, and names the level that sets the value', () => {
    const renamed = read(click('a1', all), click('a1', all.replace('%20kits', '')))
    const campaign = renamed.parameters.find(p => p.key === 'utm_campaign')!
    expect(campaign.values.map(v => [v.value, v.names])).toEqual([
      ['Autumn kits', 'c1'],
      ['Autumn', 'c1'],
    ])
    const content = read(click('a2', all)).parameters.find(p => p.key === 'utm_content')!
    expect(content.values).toMatchObject([{ as: 'unknown', value: 'ad-a1', level: 'ad' }])
  })
})

it('clicks are held against the plan of their time', () => {
  const { ownOf: ownAt, stateAt } = planInTime([
    { network: 'norrfeed', level: 'account', scope: '', since: 0, parameters: { utm_source: 'norrfeed' } },
    {
      network: 'norrfeed',
      level: 'account',
      scope: '',
      since: 100,
      parameters: { utm_source: 'norrfeed', spot: '{placement}' },
    },
  ])
  const clicks = [50, 99, 100, 150].map(at => click('a1', 'utm_source=norrfeed', at))
  const { parameters } = readArrivals(
    clicks,
    { profiles: shippedProfiles, ownOf: ownAt, stateAt, find: () => null },
    0,
  )
  expect(parameters.map(p => [p.key, p.counts.resolved, p.counts.missing])).toEqual([
    ['utm_source', 4, 0],
    ['spot', 0, 2],
  ])
})

describe('the values that arrived', () => {
  it('stand by how they arrived, then by how often, each with the ad that it came from last', () => {
    const spots = ['feed', '', 'story', 'feed', '[[spot]]', '', 'story', 'feed'].map((spot, i) =>
      click(`a${i}`, `utm_source=norrfeed&spot=${spot}`),
    )
    const { clicks, parameters } = read(...spots, click('a9', 'utm_source=norrfeed'))
    expect(clicks).toBe(9)
    expect(parameters.find(p => p.key === 'spot')).toEqual({
      network: 'norrfeed',
      key: 'spot',
      token: 'placement',
      counts: { resolved: 5, unresolved: 1, empty: 2, unknown: 0, missing: 1 },
      values: [
        { as: 'resolved', value: 'feed', count: 3, ad: 'a7', level: 'account', names: null },
        { as: 'resolved', value: 'story', count: 2, ad: 'a6', level: 'account', names: null },
        { as: 'unresolved', value: '[[spot]]', count: 1, ad: 'a4', level: 'account', names: null },
        { as: 'empty', value: '', count: 2, ad: 'a5', level: 'account', names: null },
        { as: 'missing', value: '', count: 1, ad: 'a9', level: 'account', names: null },
      ],
    })
  })
  it('are read with the text that stands about a token', () => {
    const plan: Record<string, string> = { where: 'at-{placement}-end' }
    const framed = (value: string) =>
      readArrivals(
        [click('a1', `where=${value}`)],
        {
          profiles: shippedProfiles,
          ownOf: ({ level }) => (level === 'account' ? plan : {}),
          stateAt: () => 0,
          find: () => null,
        },
        0,
      ).parameters[0]!.values[0]!.as
    expect(['at-feed-end', 'at-feed', 'feed-end', 'at--end', '', 'feed'].map(framed)).toEqual([
      'resolved',
      'unknown',
      'unknown',
      'empty',
      'empty',
      'unknown',
    ])
  })
  it('of networks that nobody knows are passed over', () => {
    expect(read({ ...click('a1', 'utm_source=x'), network: 'nobody' })).toEqual({
      clicks: 0,
      parameters: [],
      ads: new Map(),
    })
  })
})

describe('the state of each ad', () => {
  const ad = (
    id: string,
    placed: string | null,
    landingPage: string | null = 'https://tarnbrook.example/kits',
    network = 'norrfeed',
  ) => ({
    network,
    id,
    name: id,
    campaignId: 'c1',
    adSetId: 's1',
    landingPage,
    straight: true,
    placed,
  })
  const planned =
    'https://tarnbrook.example/kits?utm_source=norrfeed&utm_campaign=[[campaign_title]]&utm_content=ad-[[ad_ref]]&spot=[[spot]]'
  it('compares what stands at the network with the plan, and believes clicks', () => {
    const ads = [
      ad('same', planned),
      ad('escaped', planned.replaceAll('[', '%5B').replaceAll(']', '%5D')),
      ad('other', planned.replace('norrfeed', 'nf')),
      ad('unplaced', null),
      ad('losing', null),
      ad('nowhere', null, null),
      ad('planless', null, 'https://tarnbrook.example/', 'guildpost'),
    ]
    const arrived = { lastDay: 1, unresolved: [], empty: [], unknown: [], missing: ['spot'] }
    const states = surveyAds({
      ads,
      nameFindings: findingsOfNames(
        ads.map(a => [
          a.network,
          'ad',
          a.id,
          'c1',
          's1',
          a.id === 'same' ? 'New ad' : a.id,
          null,
          true,
          null,
        ]),
        {},
        shippedProfiles,
      ),
      profiles: shippedProfiles,
      ownOf,
      tracked: () => null,
      hosts: [],
      arrivals: (_, id) => (id === 'losing' ? arrived : undefined),
    })
    expect(states.map(s => s.state)).toEqual([
      'tagged',
      'tagged',
      'differs',
      'tagged',
      'differs',
      'untagged',
      'untagged',
    ])
    expect(states[0]!.codes[0]).toBe('default_name')
    expect(states[0]!.worst).toBe('warning')
    expect(states[5]).toMatchObject({ codes: ['not_an_address'], worst: 'error' })
  })
})

describe('parameters from hop to hop', () => {
  it('tells what each of them went through', () => {
    const fates = compareHops(
      'https://a.example/?same=1&gone=2&twice=3&again=a%20b&plain=a%2520b&other=4',
      'https://b.example/?same=1&twice=3&twice=3&again=a%2520b&plain=a%20b&other=5&new=6',
    )
    expect(fates.map(f => [f.key, f.fate])).toEqual([
      ['same', 'kept'],
      ['gone', 'lost'],
      ['twice', 'doubled'],
      ['again', 'encoded_again'],
      ['plain', 'decoded'],
      ['other', 'changed'],
      ['new', 'added'],
    ])
  })
})
