import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type EntityRow, entityKey, findingsOfNames, readAccount } from './account'
import { type Parameters, type PlanScope, scopeKey } from './change'
import { shippedProfiles } from './profiles'
import { type AdArrivals, type PlannedAd, surveyAds } from './survey'

const networks = shippedProfiles.map(p => p.id)
const parameters: fc.Arbitrary<Parameters> = fc.dictionary(
  fc.constantFrom('utm_source', 'utm_campaign', 'utm_content', 'spot'),
  fc.constantFrom('', 'Looms', '{ad.id}', '{campaign.name}', '{placement}', 'me@post.example'),
)
const ad: fc.Arbitrary<PlannedAd> = fc.record({
  network: fc.constantFrom(...networks.slice(0, 3), 'unknown'),
  id: fc.constantFrom('a1', 'a2', 'a3', 'a4'),
  name: fc.constantFrom('Oak', 'Oak', 'New ad', 'Tall & small'),
  campaignId: fc.constantFrom('c1', 'c2'),
  adSetId: fc.constantFrom('s1', 's2', 's3'),
  landingPage: fc.constantFrom(
    null,
    'https://tarnbrook.example/kits',
    'http://tarnbrook.example/?a?b',
    'not one',
  ),
  straight: fc.boolean(),
  placed: fc.constantFrom(null, 'https://tarnbrook.example/kits?utm_source=Looms', ''),
})
const scope: fc.Arbitrary<PlanScope> = fc.oneof(
  fc.record({
    network: fc.constantFrom(...networks),
    level: fc.constant('account' as const),
    scope: fc.constant(''),
  }),
  fc.record({
    network: fc.constantFrom(...networks),
    level: fc.constantFrom('campaign' as const, 'ad_set' as const, 'ad' as const),
    scope: fc.constantFrom('c1', 'c2', 's1', 's2', 'a1', 'a2'),
  }),
)
const arrived: fc.Arbitrary<AdArrivals | undefined> = fc.option(
  fc.record({
    lastDay: fc.nat(9),
    unresolved: fc.constant([]),
    empty: fc.constant([]),
    unknown: fc.constant([]),
    missing: fc.subarray(['utm_source']),
  }),
  { nil: undefined },
)

describe('the survey of many ads', () => {
  it('tells of each ad what it tells of that ad alone, in whatever company and order', () => {
    fc.assert(
      fc.property(
        fc.array(ad, { minLength: 1, maxLength: 12 }),
        fc.array(fc.tuple(scope, parameters), { maxLength: 8 }),
        fc.dictionary(fc.constantFrom('a1', 'a2', 'a3'), arrived),
        (ads, plans, arrivals) => {
          const own = new Map(plans.map(([at, set]) => [scopeKey(at), set]))
          const rows = ads.map(
            (a): EntityRow => [a.network, 'ad', a.id, a.campaignId, a.adSetId, a.name, null, true, null],
          )
          const input = {
            nameFindings: findingsOfNames(
              rows,
              { [entityKey('kelpie', 'ad', 'a1')]: ['Before'] },
              shippedProfiles,
            ),
            profiles: shippedProfiles,
            ownOf: (at: PlanScope) => own.get(scopeKey(at)) ?? {},
            tracked: (a: PlannedAd) => (a.landingPage ? 'https://go.tarnbrook.example/c/x' : null),
            hosts: ['tarnbrook.example'],
            arrivals: (_: string, id: string) => arrivals[id],
          }
          const together = surveyAds({ ...input, ads })
          const alone = ads.flatMap(a => surveyAds({ ...input, ads: [a] }))
          expect(together).toEqual(alone)
          for (const [i, { codes, worst, state }] of together.entries()) {
            expect(new Set(codes).size).toBe(codes.length)
            expect(worst === null).toBe(codes.length === 0)
            if (!networks.includes(ads[i]!.network)) expect(state).toBe('untagged')
          }
        },
      ),
      { numRuns: 150 },
    )
  })

  it('has every ad of the rows once, those of an ad set together', () => {
    fc.assert(
      fc.property(fc.uniqueArray(ad, { selector: a => `${a.network}/${a.id}`, maxLength: 20 }), ads => {
        const rows = ads.map(
          (a): EntityRow => [
            a.network,
            'ad',
            a.id,
            a.campaignId,
            a.adSetId,
            a.name,
            a.landingPage,
            a.straight,
            a.placed,
          ],
        )
        const read = readAccount(rows).ads
        const byKey = (list: readonly PlannedAd[]) =>
          list.toSorted((a, b) => (`${a.network}/${a.id}` < `${b.network}/${b.id}` ? -1 : 1))
        expect(byKey(read)).toEqual(byKey(ads))
        const sets = read.map(a => `${a.network}/${a.campaignId}/${a.adSetId}`)
        expect(sets.filter((set, i) => set !== sets[i - 1]).length).toBe(new Set(sets).size)
      }),
    )
  })
})
