import { expect, it } from 'vitest'
import { findingsOfNames } from '@/core/links/account'
import { type PlanScope, scopeKey } from '@/core/links/change'
import { shippedProfiles } from '@/core/links/profiles'
import { surveyAds } from '@/core/links/survey'
import { agencyChanges, agencyEntities } from './agencyAds'

/** What a check of links notices; renames come with the reports. */
const everyFinding = [
  'second_question_mark',
  'parameters_after_fragment',
  'parameters_without_question_mark',
  'duplicate_key',
  'unknown_token',
  'foreign_dialect',
  'misspelled_token',
  'empty_on_test',
  'id_where_name_exists',
  'default_name',
  'duplicate_name',
  'reserved_character_in_name',
  'not_https',
  'host_not_listed',
  'too_long',
  'missing_source',
  'missing_campaign',
  'mixed_case',
  'personal_data',
  'edit_causes_review',
  'token_in_nested_address',
  'not_an_address',
]

it('the demo holds an example of every finding', () => {
  const plans = new Map(
    agencyChanges.flatMap(c => (c.what === 'plan' ? [[scopeKey(c), c.after] as const] : [])),
  )
  const leads = new Map(agencyChanges.flatMap(c => (c.what === 'ad' ? [[c.ad, c.after] as const] : [])))
  const found = surveyAds({
    ads: agencyEntities
      .filter(e => e.level === 'ad')
      .map(e => ({ ...e, landingPage: null, straight: true, placed: null, ...leads.get(e.id) })),
    nameFindings: findingsOfNames(
      agencyEntities.map(e => [e.network, e.level, e.id, e.campaignId, e.adSetId, e.name, null, true, null]),
      {},
      shippedProfiles,
    ),
    profiles: shippedProfiles,
    ownOf: (scope: PlanScope) => plans.get(scopeKey(scope)) ?? {},
    tracked: () => null,
    hosts: ['tarnbrook.example'],
    arrivals: () => undefined,
  })
  const codes = new Set<string>(found.flatMap(ad => ad.codes))
  expect(everyFinding.filter(code => !codes.has(code))).toEqual([])
})
