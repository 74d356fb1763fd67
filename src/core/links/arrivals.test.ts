import { describe, expect, it } from 'vitest'
import { findingsOfNames } from './account'
import { scopeKey } from './change'
import { compareHops } from './hops'
import { readArrivals } from './parameterArrivals'
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
    { profiles: shippedProfiles, ownOf, find: (_, __, value) => names.get(value) ?? null },
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
