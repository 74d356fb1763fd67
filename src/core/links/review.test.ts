import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { LinkChange } from './change'
import { levelsOf, type NetworkProfile, type PlanLevel, planLevels, profileSchema } from './profile'
import { shippedProfiles } from './profiles'
import { reviewAt, reviewOf } from './review'

const named = (...ids: string[]) => ids.map(id => shippedProfiles.find(p => p.id === id)!)
const planned = (network: string, level: PlanLevel): LinkChange => ({
  what: 'plan',
  network,
  level,
  scope: 'x',
  before: {},
  after: { a: '1' },
})
const led: LinkChange = {
  what: 'ad',
  network: 'norrfeed',
  ad: 'na1',
  before: { landingPage: null, straight: false },
  after: { landingPage: 'https://tarnbrook.example/', straight: false },
}
const entityLevels = ['campaign', 'ad_set', 'ad'] as const
const anyNetwork: fc.Arbitrary<NetworkProfile> = fc
  .record({
    levels: fc.subarray(['campaign', 'ad_set'] as const),
    review_levels: fc.subarray([...entityLevels]),
  })
  .map(({ levels, review_levels }) =>
    profileSchema.parse({
      id: 'any',
      name: 'Any',
      dialect: {},
      levels: [...levels, 'ad'],
      review_levels,
    }),
  )

describe('what is sent to review', () => {
  it('is said of the level that the network reviews, with the one above that avoids it', () => {
    expect(reviewAt('ad', named('norrfeed'))).toMatchObject({ level: 'ad', instead: 'ad_set' })
    expect(reviewAt('ad', named('mothwire'))).toMatchObject({ instead: 'campaign' })
    expect(reviewAt('ad_set', named('norrfeed'))).toBeNull()
    expect(reviewAt('ad', named('whyfold'))).toBeNull()
  })
  it('names only the networks that review, and a level that suits all of them', () => {
    const both = reviewAt('ad', named('norrfeed', 'whyfold', 'mothwire'))
    expect(both?.networks.map(p => p.id)).toEqual(['norrfeed', 'mothwire'])
    expect(both?.instead).toBe('campaign')
  })
  it('never offers a level that one of the networks lacks or reviews, and none below', () => {
    fc.assert(
      fc.property(
        fc.array(anyNetwork, { maxLength: 4 }),
        fc.constantFrom(...planLevels),
        (networks, level) => {
          const review = reviewAt(level, networks)
          if (!review) {
            expect(networks.some(p => p.review_levels.includes(level))).toBe(false)
            return
          }
          const { instead } = review
          // The account is always there, and nobody here reviews it.
          expect(instead).not.toBeNull()
          expect(planLevels.indexOf(instead!)).toBeLessThan(planLevels.indexOf(level))
          for (const p of review.networks) {
            expect(levelsOf(p)).toContain(instead)
            expect(p.review_levels).not.toContain(instead)
          }
        },
      ),
    )
  })
  it('is the lowest level of several changes; a landing page can stand nowhere else', () => {
    expect(reviewOf([planned('mothwire', 'ad_set')], shippedProfiles)).toMatchObject({ level: 'ad_set' })
    expect(
      reviewOf([planned('norrfeed', 'account'), planned('norrfeed', 'ad')], shippedProfiles),
    ).toMatchObject({
      level: 'ad',
      instead: 'ad_set',
    })
    expect(reviewOf([led], shippedProfiles)).toMatchObject({ level: 'ad', instead: null })
    expect(reviewOf([planned('norrfeed', 'campaign')], shippedProfiles)).toBeNull()
    expect(reviewOf([], shippedProfiles)).toBeNull()
  })
})
