import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { LinkChange, Parameters } from './change'
import { scopeKey } from './change'
import { adTarget, type HeldNow, mergeParameters, rebase } from './rebase'

const parameters: fc.Arbitrary<Parameters> = fc.dictionary(
  fc.constantFrom('a', 'b', 'c', 'd'),
  fc.constantFrom('', '1', '2', '{ad.id}'),
)
const entries = (own: Parameters) => Object.entries(own).sort()
const at = { what: 'plan' as const, network: 'norrfeed', level: 'ad' as const, scope: 'a1' }
const lead = (before: [string | null, boolean], after: [string | null, boolean]): LinkChange => ({
  what: 'ad',
  network: 'norrfeed',
  ad: 'a1',
  before: { landingPage: before[0], straight: before[1] },
  after: { landingPage: after[0], straight: after[1] },
})
const nothing = (): HeldNow => ({ plans: new Map(), leads: new Map() })

describe('two who change the same parameters', () => {
  it('each find their own change in what comes of it', () => {
    fc.assert(
      fc.property(parameters, parameters, parameters, (before, theirs, ours) => {
        const merged = mergeParameters(theirs, before, ours)
        for (const key of ['a', 'b', 'c', 'd']) {
          if (ours[key] !== before[key]) expect(merged[key]).toBe(ours[key])
          else expect(merged[key]).toBe(theirs[key])
        }
      }),
    )
  })
  it('change nothing that neither of them changed, and all of it where one did nothing', () => {
    fc.assert(
      fc.property(parameters, parameters, (before, other) => {
        expect(entries(mergeParameters(before, before, other))).toEqual(entries(other))
        expect(entries(mergeParameters(other, before, before))).toEqual(entries(other))
      }),
    )
  })
  it('come to the same in either order, as long as they change different parameters', () => {
    fc.assert(
      fc.property(parameters, parameters, parameters, (before, one, two) => {
        const changed = (own: Parameters) => ['a', 'b', 'c', 'd'].filter(key => own[key] !== before[key])
        fc.pre(!changed(one).some(key => changed(two).includes(key)))
        expect(entries(mergeParameters(one, before, two))).toEqual(entries(mergeParameters(two, before, one)))
      }),
    )
  })
})

describe('changes put on what is held now', () => {
  it('are what they were where nobody else was, in the order of the address', () => {
    fc.assert(
      fc.property(parameters, parameters, (before, after) => {
        const held = nothing()
        held.plans.set(scopeKey({ network: 'norrfeed', level: 'ad', scope: 'a1' }), before)
        const { changes, met } = rebase([{ ...at, before, after }], held)
        expect([JSON.stringify(changes), met]).toEqual([JSON.stringify([{ ...at, before, after }]), []])
      }),
    )
  })
  it('follow one on another when they are of the same entity', () => {
    fc.assert(
      fc.property(fc.array(parameters, { minLength: 1, maxLength: 5 }), states => {
        const changes = states.map((after, i) => ({ ...at, before: states[i - 1] ?? {}, after }))
        const last = rebase(changes, nothing()).changes.at(-1)
        expect(last?.what === 'plan' && entries(last.after)).toEqual(entries(states.at(-1)!))
      }),
    )
  })
  it('replace nothing where somebody else made the very same of it', () => {
    const held = nothing()
    held.plans.set(scopeKey({ network: 'norrfeed', level: 'ad', scope: 'a1' }), { a: '2', b: '9' })
    const { met } = rebase([{ ...at, before: { a: '1', b: '1' }, after: { a: '2', b: '3' } }], held)
    expect(met.map(one => one.what === 'plan' && [one.key, one.replaced])).toEqual([
      ['a', false],
      ['b', true],
    ])
  })
  it('leave a landing page that somebody else set, when only the way to it is changed here', () => {
    const held = nothing()
    held.leads.set(adTarget('norrfeed', 'a1'), { landingPage: 'https://b.example/', straight: false })
    const { changes, met } = rebase([lead(['https://a.example/', false], ['https://a.example/', true])], held)
    expect(met).toMatchObject([{ what: 'ad', ad: 'a1', replaced: false }])
    expect(changes).toEqual([lead(['https://b.example/', false], ['https://b.example/', true])])
  })
})
