import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  type BulkEdit,
  bulkChanges,
  type LinkChange,
  type Parameters,
  type PlanScope,
  scopeKey,
  undoing,
} from './change'
import { planLevels } from './profile'

const ads = Array.from({ length: 6 }, (_, i) => ({
  network: i < 4 ? 'norrfeed' : 'kelpie',
  id: `a${i}`,
  campaignId: `c${i >> 2}`,
  adSetId: `s${i >> 1}`,
  landingPage: i % 2 ? null : 'https://tarnbrook.example/kits',
  straight: false,
}))
const key = fc.constantFrom('utm_source', 'utm_content', 'spot')
const value = fc.constantFrom('', 'a', 'ab', '{ad.id}')
const edit: fc.Arbitrary<BulkEdit> = fc.oneof(
  fc.record({ do: fc.constant('set' as const), key, template: value }),
  fc.record({
    do: fc.constant('replace' as const),
    key: fc.oneof(key, fc.constant('')),
    find: value,
    by: value,
  }),
  fc.record({ do: fc.constantFrom('clear' as const, 'remove' as const), key }),
)

describe('a change of many ads', () => {
  it('is undone by its reverse, whatever it was', () => {
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 4 }), fc.constantFrom(...planLevels), (edits, level) => {
        const stored = new Map<string, Parameters>()
        const apply = (changes: readonly LinkChange[]) => {
          for (const c of changes) if (c.what === 'plan') stored.set(scopeKey(c), c.after)
        }
        const ownOf = (scope: PlanScope) => stored.get(scopeKey(scope)) ?? {}
        const done: LinkChange[][] = []
        for (const one of edits) {
          const changes = bulkChanges(one, ads, level, ownOf)
          apply(changes)
          done.push(changes)
        }
        for (const changes of done.reverse()) apply(undoing(changes))
        expect([...stored.values()].every(own => Object.keys(own).length === 0)).toBe(true)
      }),
    )
  })
  it('happens once at each campaign, ad set or ad, and only where something changes', () => {
    const known = (s: PlanScope): Parameters => (s.scope === 'a0' ? { x: '1' } : {})
    const set = (level: (typeof planLevels)[number]) =>
      bulkChanges({ do: 'set', key: 'x', template: '1' }, ads, level, known)
    expect(planLevels.map(level => set(level).length)).toEqual([2, 2, 3, 5])
  })
  it('removes what is inherited, which is not the same as forgetting what is set here', () => {
    const own = (s: PlanScope): Parameters => (s.scope === 'c0' ? { a: '1', b: '2' } : {})
    const made = (edit: 'clear' | 'remove') =>
      bulkChanges({ do: edit, key: 'a' }, ads, 'campaign', own).map(c => c.what === 'plan' && c.after)
    expect(made('remove')).toEqual([{ a: '', b: '2' }, { a: '' }])
    expect(made('clear')).toEqual([{ b: '2' }])
  })
  it('changes where ads lead', () => {
    const to = { landingPage: 'https://tarnbrook.example/yarn', straight: true }
    const changes = bulkChanges(
      { do: 'lead', to },
      [...ads, { ...ads[0]!, id: 'same', ...to }],
      'ad',
      () => ({}),
    )
    expect(changes.map(c => c.what === 'ad' && c.ad)).toEqual(ads.map(a => a.id))
  })
})
