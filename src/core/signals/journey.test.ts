import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { countReached, type Happening, stepRates, walkJourney, weakestStep } from './journey'

const firm = { optional: false }
const free = { optional: true }
const happenings = (length: number) =>
  fc.array(
    fc.record({
      who: fc.nat(8),
      at: fc.nat(50),
      steps: fc.uniqueArray(fc.nat(length - 1), { minLength: 1, maxLength: 2 }),
    }),
    { maxLength: 60 },
  )

describe('a journey', () => {
  const did = (...steps: [at: number, step: number][]): Happening[] =>
    steps.map(([at, step]) => ({ who: 1, at, steps: [step] }))
  const walk = (steps: { optional: boolean }[], all: Happening[]) => walkJourney(steps, all).get(1)

  it('is walked in order: what came before the step before does not count', () => {
    expect(walk([firm, firm, firm], did([1, 0], [2, 1], [3, 2]))).toEqual([true, true, true])
    expect(walk([firm, firm, firm], did([1, 2], [2, 0], [3, 1]))).toEqual([true, true, false])
    expect(walk([firm, firm, firm], did([1, 0], [2, 2]))).toEqual([true, false, false])
  })
  it('lets pass who skips what may be skipped, and who does it later', () => {
    expect(walk([firm, free, firm], did([1, 0], [2, 2]))).toEqual([true, false, true])
    expect(walk([firm, free, firm], did([1, 0], [2, 2], [3, 1]))).toEqual([true, true, true])
  })
  it('is the same whatever order it arrives in; no step that must be taken is reached by more than the one before', () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 2, maxLength: 6 }), fc.integer(), (optional, seed) => {
        const steps = optional.map(o => ({ optional: o }))
        const [all] = fc.sample(happenings(steps.length), { numRuns: 1, seed })
        const reached = walkJourney(steps, all!)
        const again = walkJourney(steps, [...all!].reverse().concat(all!))
        expect(new Map([...again].sort((a, b) => a[0] - b[0]))).toEqual(
          new Map([...reached].sort((a, b) => a[0] - b[0])),
        )
        const counts = countReached(steps.length, reached.values())
        for (const rate of stepRates(steps, counts)) {
          expect(rate ?? 0).toBeGreaterThanOrEqual(0)
          expect(rate ?? 0).toBeLessThanOrEqual(1)
        }
      }),
    )
  })
  it('names the step that is far below what is usual, else the one where most are lost', () => {
    const steps = [firm, firm, free, firm]
    expect(weakestStep(steps, [1000, 500, 20, 100], null)).toEqual({ step: 3, because: 'most_lost' })
    expect(weakestStep(steps, [1000, 300, 20, 100], [10_000, 5000, 200, 1700])).toEqual({
      step: 1,
      because: 'below_usual',
    })
    expect(weakestStep(steps, [10, 1, 0, 0], [10_000, 5000, 200, 1700])).toBeNull()
  })
})
