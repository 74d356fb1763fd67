import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { EntityRow } from '@/core/links/account'
import { findingsOfNames } from '@/core/links/account'
import { type LinkChange, scopeOf, undoing } from '@/core/links/change'
import { shippedProfiles } from '@/core/links/profiles'
import type { StationData } from '@/server/links/station'
import { openStation, ownParameters, surveyStation, trackedOf, withChanges } from './station'

const page = 'https://tarnbrook.example/kits'
const ad = (
  network: string,
  id: string,
  name: string,
  more: Partial<{ page: string | null }> = {},
): EntityRow => [network, 'ad', id, 'c1', 's1', name, more.page === undefined ? page : more.page, true, null]
const data = (entities: EntityRow[]): StationData => ({
  entities,
  formerNames: { 'kelpie/campaign/c1': ['Looms'] },
  plans: [['kelpie', 'account', '', { utm_source: 'kelpie', utm_content: '{ad.id}' }]],
  profiles: [...shippedProfiles],
  hosts: [],
  keys: { campaign_key: 'utm_campaign', ad_set_key: 'utm_term', ad_key: 'utm_content' },
  tracked: { kelpie: { [page]: 'https://go.tarnbrook.example/c/ke1' } },
  saved: { 'kelpie/a2': 'https://go.tarnbrook.example/c/own' },
  namingRules: [],
  practised: [],
})
const campaign: EntityRow = ['kelpie', 'campaign', 'c1', 'c1', '', 'Looms & more', null, false, null]
const open = (entities: EntityRow[]) => openStation(data(entities))
const survey = (station: ReturnType<typeof open>, arrived = {}) =>
  surveyStation(station, findingsOfNames(station.entities, station.formerNames, station.profiles), arrived)

describe('the station in the browser', () => {
  it('lists ads by network and name, whatever order they came in, the same name by ID', () => {
    const rows = [
      ad('norrfeed', 'n1', 'b'),
      ad('kelpie', 'a3', 'Same'),
      ad('kelpie', 'a1', 'same'),
      ad('kelpie', 'a2', 'Another'),
    ]
    fc.assert(
      fc.property(fc.shuffledSubarray(rows, { minLength: rows.length }), shuffled => {
        expect(open([campaign, ...shuffled]).ads.map(a => a.id)).toEqual(['a2', 'a1', 'a3', 'n1'])
      }),
    )
  })

  it('tells at each ad what its campaign’s name is found to be', () => {
    const [first] = survey(open([campaign, ad('kelpie', 'a1', 'One')])).ads
    expect(first).toMatchObject({ state: 'tagged', worst: 'warning' })
    expect(first?.codes).toEqual(expect.arrayContaining(['name_changed']))
  })

  it('shows a change at every ad that it touches, at no other, and nothing of it once it is undone', () => {
    const station = open([
      ad('kelpie', 'a1', 'One'),
      ad('kelpie', 'a2', 'Two'),
      ad('norrfeed', 'n1', 'Three'),
    ])
    const changes: LinkChange[] = [
      {
        what: 'plan',
        ...scopeOf(station.ads[0]!, 'account'),
        before: { utm_source: 'kelpie', utm_content: '{ad.id}' },
        after: {},
      },
      {
        what: 'ad',
        network: 'kelpie',
        ad: 'a2',
        before: { landingPage: page, straight: true },
        after: { landingPage: null, straight: true },
      },
    ]
    const changed = withChanges(station, changes)
    const states = (of: typeof station) => survey(of).ads.map(a => [a.id, a.state, a.landingPage])
    expect(states(changed)).toEqual([
      ['a1', 'untagged', page],
      ['a2', 'untagged', null],
      ['n1', 'untagged', page],
    ])
    expect(states(withChanges(changed, undoing(changes)))).toEqual(states(station))
    expect(ownParameters(station.plans)(scopeOf(station.ads[0]!, 'account'))).toEqual({
      utm_source: 'kelpie',
      utm_content: '{ad.id}',
    })
  })

  it('leads by the ad’s own code before that of its page, and by none where there is no page', () => {
    const station = open([
      ad('kelpie', 'a1', 'One'),
      ad('kelpie', 'a2', 'Two'),
      ad('kelpie', 'a3', 'x', { page: null }),
    ])
    expect(station.ads.map(a => trackedOf(station, a))).toEqual([
      'https://go.tarnbrook.example/c/ke1',
      'https://go.tarnbrook.example/c/own',
      null,
    ])
  })

  it('believes clicks: what arrives without a parameter differs from the plan', () => {
    const station = open([ad('kelpie', 'a1', 'One')])
    const arrived = { lastDay: 3, unresolved: [], empty: [], unknown: [], missing: ['utm_content'] }
    expect(survey(station, { 'kelpie/a1': arrived }).ads[0]).toMatchObject({
      state: 'differs',
      arrivals: { lastDay: 3 },
    })
  })
})
