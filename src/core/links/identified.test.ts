import { expect, it } from 'vitest'
import { type Parameters, type PlanScope, scopeKey } from './change'
import { identifiesAd, noLongerIdentified } from './identified'

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
