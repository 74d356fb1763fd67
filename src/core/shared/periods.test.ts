import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseDay } from './days'
import { usualPeriods } from './periods'

const of = (today: string, span: { from: string; to: string } | null = null, first = 1) =>
  Object.fromEntries(usualPeriods(parseDay(today)!, span, first).map(p => [p.name, [p.from, p.to]]))

describe('the periods that people ask for', () => {
  it('are of the calendar where they are named by it', () => {
    // A Sunday.
    expect(of('2026-03-01')).toMatchObject({
      today: ['2026-03-01', '2026-03-01'],
      yesterday: ['2026-02-28', '2026-02-28'],
      'this week': ['2026-02-23', '2026-03-01'],
      'last week': ['2026-02-16', '2026-02-22'],
      'this month': ['2026-03-01', '2026-03-01'],
      'last month': ['2026-02-01', '2026-02-28'],
    })
    expect(of('2026-03-01', null, 7)['this week']).toEqual(['2026-03-01', '2026-03-01'])
  })
  it('of so many days end with the last that is known', () => {
    const span = { from: '2025-12-01', to: '2026-02-20' }
    expect(of('2026-03-01', span)).toMatchObject({
      'the last 7 days': ['2026-02-14', '2026-02-20'],
      'all days': ['2025-12-01', '2026-02-20'],
    })
    expect(of('2026-03-01')).not.toHaveProperty('all days')
  })
  it('have as many days as they say, and weeks follow one another, on every day', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 10_000, max: 30_000 }),
        fc.integer({ min: 1, max: 7 }),
        (today, first) => {
          const day = (text: string) => parseDay(text)!
          const periods = usualPeriods(today, null, first)
          const [thisWeek, lastWeek] = ['this week', 'last week'].map(n => periods.find(p => p.name === n)!)
          expect(day(lastWeek!.to) - day(lastWeek!.from)).toBe(6)
          expect(day(thisWeek!.from) - day(lastWeek!.to)).toBe(1)
          expect(day(thisWeek!.to) - day(thisWeek!.from)).toBeLessThan(7)
          for (const { name, from, to } of periods) {
            const days = /last (\d+) days/.exec(name)?.[1]
            if (days) expect(day(to) - day(from) + 1).toBe(Number(days))
          }
        },
      ),
    )
  })
})
