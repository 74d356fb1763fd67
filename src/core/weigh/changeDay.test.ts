import { describe, expect, it } from 'vitest'
import { randomStream } from '@/practice/market/random'
import { type ChangeLaw, changeDay, type DayCount } from './changeDay'

const random = (seed: number) => randomStream(seed)
/** Days of a share or rate that is another from a day on. */
function days(seed: number, law: ChangeLaw, rate: (day: number) => number, of = 20, length = 60): DayCount[] {
  const draw = random(seed)
  return Array.from({ length }, (_, day) => ({
    day,
    of,
    came:
      law === 'rate'
        ? draw.poisson(of * rate(day))
        : Array.from({ length: of }).filter(() => draw.chance(rate(day))).length,
  }))
}
const laws: ChangeLaw[] = ['share', 'rate']

describe('the day on which something changed', () => {
  it.each(laws)('is found where a %s fell, with the days that are nearly as likely', law => {
    let within = 0
    for (let seed = 1; seed <= 20; seed++) {
      const found = changeDay(
        days(seed, law, day => (day < 37 ? 0.75 : 0.45)),
        law,
      )!
      expect(found.probability).toBeLessThan(0.01)
      expect(Math.abs(found.day - 37)).toBeLessThanOrEqual(9)
      expect(found.to - found.from).toBeLessThan(20)
      if (found.from <= 37 && found.to >= 37) within += 1
    }
    expect(within).toBeGreaterThanOrEqual(17)
  })
  it.each(laws)('is exact, and sure, where there is no chance in a %s', law => {
    const plain = Array.from({ length: 20 }, (_, day) => ({ day, of: 100, came: day < 13 ? 80 : 20 }))
    expect(changeDay(plain, law)).toEqual({ day: 13, from: 13, to: 13, probability: 0.001 })
  })
  it.each(laws)('is seldom one by chance in a steady %s', law => {
    const named = Array.from(
      { length: 60 },
      (_, seed) =>
        changeDay(
          days(seed + 100, law, () => 0.6),
          law,
        )!,
    )
    expect(named.filter(found => found.probability < 0.01).length).toBeLessThanOrEqual(3)
    // Probabilities of chance are spread evenly.
    const low = named.filter(found => found.probability < 0.5).length
    expect(low).toBeGreaterThan(15)
    expect(low).toBeLessThan(45)
  })
  it('is none where days vary more than such counts do', () => {
    const draw = random(9)
    const named = Array.from({ length: 40 }, () =>
      changeDay(
        Array.from({ length: 60 }, (_, day) => ({ day, of: 50, came: draw.poisson(50 * draw.factor(0.5)) })),
        'rate',
      ),
    )
    expect(named.filter(found => found!.probability < 0.01).length).toBeLessThanOrEqual(2)
  })
  it('is told alike each time, and not at all of too few days', () => {
    const same = days(3, 'rate', day => (day < 30 ? 0.5 : 0.6))
    expect(changeDay(same, 'rate')).toEqual(changeDay(same, 'rate'))
    expect(changeDay(same.slice(0, 3), 'rate')).toBeNull()
    expect(changeDay([], 'share')).toBeNull()
  })
  it('is no day of one that nothing ever came of, or all', () => {
    for (const came of [0, 5]) {
      const flat = Array.from({ length: 10 }, (_, day) => ({ day, of: 5, came }))
      expect(changeDay(flat, 'share')!.probability).toBe(1)
    }
  })
})
