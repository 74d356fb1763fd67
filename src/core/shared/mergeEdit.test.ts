import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isSame, mergeEdit } from './mergeEdit'

const before = { name: 'Order', margin: 0.5, value: { by: 'fixed', amount: 300 }, networks: ['norrfeed'] }

describe('two edits of one thing', () => {
  it('both stay where they touched different fields', () => {
    const theirs = { ...before, margin: 0.4 }
    const mine = { ...before, value: { by: 'fixed', amount: 500 } }
    expect(mergeEdit(theirs, before, mine)).toEqual({
      merged: { ...before, margin: 0.4, value: { by: 'fixed', amount: 500 } },
      clashes: [],
    })
  })
  it('clash where both changed one field, and only there', () => {
    const theirs = { ...before, margin: 0.4, name: 'Purchase' }
    const mine = { ...before, margin: 0.6 }
    expect(mergeEdit(theirs, before, mine)).toEqual({
      merged: { ...before, name: 'Purchase', margin: 0.6 },
      clashes: [{ at: 'margin', now: 0.4, mine: 0.6 }],
    })
    expect(mergeEdit({ ...before, margin: 0.6 }, before, mine).clashes).toEqual([])
    expect(
      mergeEdit({ ...before, value: { by: 'fixed', amount: 1 } }, before, {
        ...before,
        value: { by: 'fixed', amount: 2 },
      }).clashes.map(clash => clash.at),
    ).toEqual(['value.amount'])
  })
  it('merge lists thing by thing, where each has a name of its own', () => {
    const rule = (campaign: string, margin: number) => ({ network: 'norrfeed', campaign, margin })
    const begun = { rules: [rule('c1', 0.5), rule('c2', 0.5)] }
    const theirs = { rules: [rule('c1', 0.5), rule('c2', 0.4), rule('c3', 0.2)] }
    const mine = { rules: [rule('c1', 0.6), rule('c2', 0.5)] }
    expect(mergeEdit(theirs, begun, mine)).toEqual({
      merged: { rules: [rule('c1', 0.6), rule('c2', 0.4), rule('c3', 0.2)] },
      clashes: [],
    })
    // Of what has no name the whole is one value.
    const plain = (...rules: object[]) => ({ rules })
    expect(mergeEdit(plain({ after: 2 }), plain({ after: 1 }), plain({ after: 3 })).clashes).toHaveLength(1)
  })
  it('take back their own change alone', () => {
    const mine = { ...before, margin: 0.6 }
    const since = { ...mine, name: 'Purchase' }
    expect(mergeEdit(since, mine, before)).toEqual({ merged: { ...before, name: 'Purchase' }, clashes: [] })
  })
  const value = fc.oneof(
    fc.integer({ min: 0, max: 3 }),
    fc.constant(null),
    fc.array(fc.boolean(), { maxLength: 2 }),
  )
  const thing = fc.dictionary(fc.constantFrom('a', 'b', 'c'), value)
  it('keep what nobody touched, and what one of them touched', () => {
    fc.assert(
      fc.property(thing, thing, thing, (now, begun, mine) => {
        const { merged, clashes } = mergeEdit(now, begun, mine)
        const clashing = new Set(clashes.map(clash => clash.at))
        for (const key of ['a', 'b', 'c']) {
          if (clashing.has(key)) continue
          expect(isSame(merged[key], isSame(begun[key], mine[key]) ? now[key] : mine[key])).toBe(true)
        }
        expect(mergeEdit(now, begun, begun)).toEqual({ merged: mergeEdit(now, now, now).merged, clashes: [] })
      }),
    )
  })
})
