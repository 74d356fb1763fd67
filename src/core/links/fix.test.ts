import { describe, expect, it } from 'vitest'
import { adLink } from './adLink'
import { type LinkChange, type Parameters, type PlanScope, scopeKey, scopeOf, undoing } from './change'
import type { LinkFinding } from './finding'
import { fixOf } from './fix'
import type { PlanLevel } from './profile'
import { shippedProfiles } from './profiles'
import { planOfAd } from './survey'

/** One ad with its plan, as far as a fix sees it. */
function station(network: string, landingPage: string, plan: Partial<Record<PlanLevel, Parameters>>) {
  const profile = shippedProfiles.find(p => p.id === network)!
  const ad = { network, id: 'a1', campaignId: 'c1', adSetId: 's1', landingPage, straight: true }
  const stored = new Map(
    Object.entries(plan).map(([level, own]) => [scopeKey(scopeOf(ad, level as PlanLevel)), own]),
  )
  const ownOf = (scope: PlanScope) => stored.get(scopeKey(scope)) ?? {}
  const link = () =>
    adLink({
      ...ad,
      profile,
      plan: planOfAd(ad, ownOf),
      tracked: null,
      hosts: [],
      otherProfiles: shippedProfiles,
    })
  const apply = (changes: readonly LinkChange[]) => {
    for (const change of changes)
      if (change.what === 'ad') Object.assign(ad, change.after)
      else stored.set(scopeKey(change), change.after)
  }
  const fix = (finding: LinkFinding) => {
    const scope = (level: PlanLevel) => scopeOf(ad, level)
    const own = {
      account: ownOf(scope('account')),
      campaign: ownOf(scope('campaign')),
      ad_set: ownOf(scope('ad_set')),
      ad: ownOf(scope('ad')),
    }
    return fixOf({ link: link(), profile, otherProfiles: shippedProfiles, own, scope, ad }, finding)
  }
  return { link, apply, fix, state: () => JSON.stringify([ad, [...stored]]) }
}

const page = 'https://tarnbrook.example/kits'
const account = { utm_source: 'norrfeed', utm_campaign: '{campaign.name}' }
const slips: [LinkFinding['code'], Given, string][] = [
  ['second_question_mark', ['norrfeed', `${page}?a=1?b=2`, { account }], `${page}?a=1&b=2`],
  ['parameters_after_fragment', ['norrfeed', `${page}#looms?a=1`, { account }], `${page}?a=1`],
  ['parameters_without_question_mark', ['norrfeed', `${page}&a=1&b=2`, { account }], `${page}?a=1&b=2`],
  [
    'duplicate_key',
    ['norrfeed', `${page}?utm_source=old&lang=pt`, { account }],
    `${page}?lang=pt&utm_source=norrfeed`,
  ],
  [
    'unknown_token',
    [
      'kelpie',
      page,
      { account: { utm_source: 'kelpie', utm_campaign: '{campaign.id}', utm_content: 'ad-{ad.name}' } },
    ],
    'utm_content=ad-%adno%',
  ],
  [
    'foreign_dialect',
    ['norrfeed', page, { account, ad_set: { utm_content: 'x-<post_id>' } }],
    'utm_content=x-[[ad_ref]]',
  ],
  [
    'misspelled_token',
    ['norrfeed', page, { account: { ...account, x: 'a-[[ad_titel]]' } }],
    'x=a-[[ad_title]]',
  ],
  ['misspelled_token', ['kelpie', page, { account: { ...account, x: '{{ad.id}}' } }], 'x=%adno%'],
  ['unknown_token', ['norrfeed', page, { account: { ...account, x: '{ad.nme}' } }], 'x=[[ad_title]]'],
  [
    'foreign_dialect',
    ['norrfeed', `${page}?n=a+b&x=%3Cpost_id%3E-1`, { account }],
    'kits?n=a+b&x=[[ad_ref]]-1&utm_source',
  ],
  [
    'id_where_name_exists',
    ['norrfeed', page, { account: { ...account, utm_content: '{ad.id}' } }],
    'utm_content=[[ad_title]]',
  ],
  ['missing_source', ['whyfold', page, { account: { utm_campaign: 'x' } }], 'utm_source=whyfold'],
  ['missing_campaign', ['kelpie', page, { account: { utm_source: 'kelpie' } }], 'utm_campaign=%campno%'],
  [
    'mixed_case',
    ['norrfeed', page, { account: { UTM_Source: 'Norrfeed', utm_campaign: 'x' } }],
    'utm_source=norrfeed',
  ],
  ['personal_data', ['norrfeed', `${page}?to=ines@tarnbrook.example`, { account }], `${page}?utm_source`],
  ['missing_source', ['norrfeed', page, { account, ad: { utm_source: '' } }], 'utm_source=norrfeed'],
]
type Given = [network: string, landingPage: string, plan: Partial<Record<PlanLevel, Parameters>>]

describe('fixes', () => {
  it.each(slips)('mends %s, and the undone fix leaves everything as it was', (code, given, contained) => {
    const { link, fix, apply, state } = station(...given)
    const before = state()
    const finding = link().findings.find(f => f.code === code)!
    const changes = fix(finding)
    expect(changes).toHaveLength(1)
    apply(changes)
    expect(link().findings.map(f => f.code)).not.toContain(code)
    expect(link().address).toContain(contained)
    apply(undoing(changes))
    expect(state()).toBe(before)
  })
  it('offers none where somebody has to decide', () => {
    const undecided: [LinkFinding['code'], Given][] = [
      ['not_https', ['norrfeed', 'http://tarnbrook.example/', { account }]],
      ['unknown_token', ['guildpost', page, { account: { ...account, x: '{keyword}' } }]],
      ['misspelled_token', ['norrfeed', page, { account: { ...account, x: '[[somebody]]' } }]],
      ['misspelled_token', ['norrfeed', page, { account: { ...account, x: '{[[ad_title]]}' } }]],
      ['too_long', ['norrfeed', page, { account: { ...account, x: 'x'.repeat(3000) } }]],
      ['edit_causes_review', ['norrfeed', page, { account, ad: { x: '1' } }]],
      ['missing_campaign', ['guildpost', page, { account: { utm_source: 'guildpost' } }]],
    ]
    for (const [code, given] of undecided) {
      const { link, fix } = station(...given)
      expect(fix(link().findings.find(f => f.code === code)!)).toEqual([])
    }
  })
})
