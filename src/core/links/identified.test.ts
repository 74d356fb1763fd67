import { expect, it } from 'vitest'
import { type Parameters, type PlanScope, scopeKey } from './change'
import { identifiesAd, noLongerIdentified, readOtherwise } from './identified'
import { shippedProfiles } from './profiles'

const ad = (id: string, campaignId = 'c1') => ({
  network: 'norrfeed',
  id,
  name: id,
  campaignId,
  adSetId: 's1',
  landingPage: null,
  straight: false,
  placed: null,
})
const account: PlanScope = { network: 'norrfeed', level: 'account', scope: '' }

it('an ad is identified by its ID, its name, or a value that is set just for it', () => {
  expect(identifiesAd({ account: { utm_content: '{ad.id}' } })).toBe(true)
  expect(identifiesAd({ account: { utm_content: 'x-{ad.name}' } })).toBe(true)
  expect(identifiesAd({ ad: { utm_content: 'free-trial' } })).toBe(true)
  expect(identifiesAd({ account: { utm_content: 'all', utm_campaign: '{campaign.id}' } })).toBe(false)
  expect(identifiesAd({ account: { utm_content: '{ad.id}' }, ad: { utm_content: '' } })).toBe(false)
})

it('a change names the ads that nothing would identify any more', () => {
  const plans = new Map<string, Parameters>([
    [scopeKey(account), { utm_content: '{ad.id}' }],
    [scopeKey({ network: 'norrfeed', level: 'ad', scope: 'a2' }), { utm_term: 'mine' }],
  ])
  const ownOf = (scope: PlanScope) => plans.get(scopeKey(scope)) ?? {}
  const change = { what: 'plan' as const, ...account, before: ownOf(account), after: { utm_content: 'ad' } }
  const ads = [ad('a1'), ad('a2'), { ...ad('b1'), network: 'kelpie' }]
  expect(noLongerIdentified([change], ads, ownOf).map(one => one.id)).toEqual(['a1'])
  expect(noLongerIdentified([{ ...change, after: { x: '{ad.name}' } }], ads, ownOf)).toEqual([])
})

it('a change names the ads whose pasted links would be read as another ad, and no others', () => {
  const at = (id: string): PlanScope => ({ network: 'norrfeed', level: 'ad', scope: id })
  const plans = new Map<string, Parameters>([
    [scopeKey(account), { utm_content: '{ad.id}', spot: '{placement}' }],
    [scopeKey(at('a1')), { utm_content: 'free-trial' }],
  ])
  const ownOf = (scope: PlanScope) => plans.get(scopeKey(scope)) ?? {}
  const set = (scope: PlanScope, after: Parameters) => ({
    what: 'plan' as const,
    ...scope,
    before: ownOf(scope),
    after,
  })
  const ads = [ad('a1'), ad('a2'), { ...ad('b1'), network: 'kelpie' }]
  const known = {
    profiles: shippedProfiles,
    namesOf: (_: string, __: string, id: string) => [`name of ${id}`],
    usual: { campaign: 'utm_campaign', ad_set: 'utm_term', ad: 'utm_content' },
  }
  const warned = (...changes: ReturnType<typeof set>[]) =>
    readOtherwise(changes, ads, ownOf, known).map(one => one.id)
  // Its label goes to another ad, while its own links still carry it.
  expect(
    warned(set(at('a1'), { utm_content: 'paid' }), set(at('a2'), { utm_content: 'free-trial' })),
  ).toEqual(['a1'])
  // What a plan had before stays readable.
  expect(warned(set(account, { utm_content: '{ad.name}', spot: '{placement}' }))).toEqual([])
  expect(warned(set(account, { utm_content: '{ad.id}', spot: '{ad_set.name}' }))).toEqual([])
  expect(warned(set(at('a1'), { utm_content: 'paid' }))).toEqual([])
})
