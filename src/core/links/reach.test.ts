import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { LinkChange, Parameters, PlanScope } from './change'
import { scopeKey, scopeOf } from './change'
import { planLevels } from './profile'
import { markedChanges, reachOf } from './reach'

const ad = (id: string, campaignId: string, adSetId: string, network = 'norrfeed') => ({
  network,
  id,
  campaignId,
  adSetId,
  landingPage: 'https://tarnbrook.example/',
  straight: false,
})
const all = [
  ad('a1', 'c1', 's1'),
  ad('a2', 'c1', 's1'),
  ad('a3', 'c1', 's2'),
  ad('a4', 'c2', 's3'),
  ad('k1', 'c1', 's1', 'kelpie'),
]
const nothing = (): Parameters => ({})
const set = { do: 'set' as const, key: 'utm_term', template: 'x' }

/** The ads that carry a change. */
const carriers = (change: LinkChange) =>
  all.filter(a =>
    change.what === 'ad'
      ? a.network === change.network && a.id === change.ad
      : scopeKey(scopeOf(a, change.level)) === scopeKey(change),
  )

describe('a change of many ads', () => {
  it('is made at the level where all that stands there is marked, and singly where not', () => {
    const { changes, singly } = markedChanges(set, [all[0]!, all[1]!, all[2]!], all, 'ad_set', nothing)
    expect(changes.map(c => c.what === 'plan' && [c.level, c.scope])).toEqual([
      ['ad_set', 's1'],
      ['ad_set', 's2'],
    ])
    expect(singly).toBe(0)
    const part = markedChanges(set, [all[0]!, all[2]!], all, 'ad_set', nothing)
    expect(part.changes.map(c => c.what === 'plan' && [c.level, c.scope])).toEqual([
      ['ad_set', 's2'],
      ['ad', 'a1'],
    ])
    expect(part.singly).toBe(1)
  })
  it('touches every marked ad once and no other, at any level', () => {
    fc.assert(
      fc.property(fc.subarray(all), fc.constantFrom(...planLevels), (marked, level) => {
        const { changes } = markedChanges(set, marked, all, level, nothing)
        const touched = changes.flatMap(carriers)
        expect(touched).toHaveLength(marked.length)
        expect(new Set(touched)).toEqual(new Set(marked))
        expect(reachOf(changes, all).ads).toBe(marked.length)
      }),
    )
  })
  it('says at which levels it is made and how many ads carry it', () => {
    const at = (scope: PlanScope): LinkChange => ({ what: 'plan', ...scope, before: {}, after: { a: '1' } })
    expect(reachOf([at(scopeOf(all[0]!, 'campaign'))], all)).toEqual({ levels: ['campaign'], ads: 3 })
    expect(reachOf([at(scopeOf(all[0]!, 'account'))], all)).toEqual({ levels: ['account'], ads: 4 })
    const lead: LinkChange = {
      what: 'ad',
      network: 'kelpie',
      ad: 'k1',
      before: { landingPage: null, straight: false },
      after: { landingPage: 'https://tarnbrook.example/x', straight: false },
    }
    expect(reachOf([lead, at(scopeOf(all[3]!, 'ad_set'))], all)).toEqual({ levels: ['ad_set', 'ad'], ads: 2 })
    expect(reachOf([], all)).toEqual({ levels: [], ads: 0 })
  })
})
