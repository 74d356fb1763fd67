import { expect, it } from 'vitest'
import { settingsSchema } from '../intake/settings'
import { assembleLink } from './assemble'
import { shippedProfiles } from './profiles'
import { usualPlan } from './usualPlan'

const settings = settingsSchema.parse({})
const usual = (id: string, keys = settings) => usualPlan(shippedProfiles.find(p => p.id === id)!, keys)

it('names source, campaign, ad set and ad where the settings look, by name or else by ID', () => {
  expect(usual('norrfeed')).toEqual({
    utm_source: 'norrfeed',
    utm_campaign: '{campaign.name}',
    utm_term: '{ad_set.name}',
    utm_content: '{ad.name}',
  })
  expect(usual('kelpie', { ...settings, ad_key: 'ad' })).toEqual({
    utm_source: 'kelpie',
    utm_campaign: '{campaign.id}',
    utm_term: '{ad_set.id}',
    ad: '{ad.id}',
  })
  expect(usual('guildpost')).toEqual({ utm_source: 'guildpost' })
})

it('gives every network that fills in its campaign an address without a finding', () => {
  for (const profile of shippedProfiles.filter(p => 'campaign.id' in p.dialect.tokens)) {
    const { findings } = assembleLink({
      profile,
      destination: 'https://tarnbrook.example/kits',
      plan: { account: usualPlan(profile, settings) },
      otherProfiles: shippedProfiles,
    })
    expect([profile.id, findings]).toEqual([profile.id, []])
  }
})
