import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { countReached, type Happening, stepBefore, stepRates, walkJourney, weakestStep } from './journey'

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
  it('counts an instant for both of two steps, and goes on from the earliest', () => {
    expect(walk([firm, firm], did([5, 0], [5, 1]))).toEqual([true, true])
    expect(walk([firm, firm, firm], did([1, 0], [3, 1], [9, 1], [4, 2]))).toEqual([true, true, true])
    expect(walk([firm, free, firm], did([1, 0], [9, 1], [4, 2]))).toEqual([true, true, true])
    expect(walk([firm], [])).toBeUndefined()
  })
  it('counts who reached each step, and rates it by the step before that nobody may skip', () => {
    const reached = [
      [true, true, true],
      [true, false, true],
      [true, false, false],
    ]
    expect(countReached(3, reached)).toEqual([3, 1, 2])
    expect(stepRates([firm, free, firm], [3, 1, 2])).toEqual([null, 1 / 3, 2 / 3])
    expect(stepRates([firm, firm], [0, 0])).toEqual([null, null])
    expect(stepRates([free, firm, firm], [5, 4, 2])).toEqual([null, null, 0.5])
    expect([0, 1, 2, 3].map(i => stepBefore([firm, free, free, firm], i))).toEqual([-1, 0, 0, 0])
  })
  it.each([
    // steps, counts, usual: weakest
    ['no more than nineteen tell nothing', [19, 1], null, null],
    ['twenty do', [20, 1], null, [1, 'most_lost']],
    ['the lowest rate is where most are lost', [100, 50, 40, 10], null, [3, 'most_lost']],
    ['of two alike the first', [100, 50, 25], null, [1, 'most_lost']],
    ['usual is not weak', [1000, 500, 100], [1000, 500, 100], [2, 'most_lost']],
    [
      'far below usual is, though more are lost elsewhere',
      [1000, 300, 60],
      [1000, 500, 100],
      [1, 'below_usual'],
    ],
    ['the furthest of two', [1000, 400, 40], [1000, 500, 250], [2, 'below_usual']],
    ['the furthest of two, if it is the first', [1000, 200, 80], [1000, 500, 250], [1, 'below_usual']],
    ['better than usual is not', [1000, 700, 100], [1000, 500, 60], [2, 'most_lost']],
    ['a little below usual may be chance', [100, 45, 20], [100, 50, 22], [2, 'most_lost']],
    ['too few before tell nothing usual', [1000, 300, 200], [19, 18, 17], [1, 'most_lost']],
    ['twenty before do', [1000, 300, 200], [20, 18, 17], [1, 'below_usual']],
    ['where all reach it there is no doubt and no weakness', [50, 50], [50, 50], [1, 'most_lost']],
  ] as const)('names the weakest: %s', (_, counts, usual, expected) => {
    expect(
      weakestStep(
        counts.map(() => firm),
        counts,
        usual,
      ),
    ).toEqual(expected && { step: expected[0], because: expected[1] })
  })
  it('calls no step weak that may be skipped', () => {
    expect(weakestStep([firm, free, firm], [100, 1, 50], null)).toEqual({ step: 2, because: 'most_lost' })
    expect(weakestStep([free, firm], [100, 1], null)).toBeNull()
  })
})
