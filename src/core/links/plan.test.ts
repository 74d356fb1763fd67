import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { resolvePlan } from './plan'
import { planLevels } from './profile'

const keys = ['utm_source', 'utm_campaign', 'utm_content', 'season']
const own = fc.dictionary(fc.constantFrom(...keys), fc.constantFrom('', 'a', 'b', '{ad.name}'))
const plans = fc.record({ account: own, campaign: own, ad_set: own, ad: own }, { requiredKeys: [] })

describe('a tag plan', () => {
  it('gives each key the value of the lowest level that sets it, or nothing where that is empty', () => {
    fc.assert(
      fc.property(plans, plan => {
        const { parameters, removed } = resolvePlan(plan)
        for (const key of keys) {
          const level = planLevels.findLast(l => plan[l]?.[key] !== undefined)
          const found = parameters.find(p => p.key === key)
          const template = level && plan[level]?.[key]
          expect(found).toEqual(template ? { key, template, origin: level } : undefined)
          expect(removed[key]).toBe(template === '' ? level : undefined)
        }
        expect(new Set(parameters.map(p => p.key)).size).toBe(parameters.length)
      }),
    )
  })
  it('keeps a key in its place when a level below sets it otherwise', () => {
    const { parameters } = resolvePlan({
      account: { utm_source: 'kelpie', utm_campaign: 'x', utm_term: '{keyword}' },
      ad_set: { season: 'winter', utm_source: 'k' },
      ad: { utm_campaign: 'y' },
    })
    expect(parameters.map(p => `${p.key}=${p.template}`)).toEqual([
      'utm_source=k',
      'utm_campaign=y',
      'utm_term={keyword}',
      'season=winter',
    ])
  })
})
