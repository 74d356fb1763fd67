import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { claimSum } from '../evidence/sampleRecords'
import { minor } from '../shared/money'
import { claimUnits, countOf, partsOf } from './claimUnits'

const sum = (leaf: number, clicks: number, views: number, value: number, date = '2026-10-02') => ({
  row: claimSum(date, { ad_id: `a${leaf}`, click_through: String(clicks), view_through: String(views) }),
  value: minor(value),
  network: 0,
  leaf,
})

describe('days’ sums as single claims', () => {
  it('are conversions one by one, the value among them to the cent', () => {
    const units = claimUnits([sum(0, 2, 1, 1000)])
    expect(units.map(({ kind, value }) => [kind, value])).toEqual([
      ['click', 334],
      ['click', 333],
      ['view', 333],
    ])
  })
  it('are whole conversions again where ads were credited in parts, and one of what is left', () => {
    const units = claimUnits([sum(0, 0.5, 0, 500), sum(1, 0.5, 0, 500), sum(2, 1.25, 0, 1250)])
    expect(units.map(countOf)).toEqual([1, 1, 0.25])
    expect(units.map(({ leaf }) => leaf)).toEqual([2, 0, 1])
    expect(units.map(unit => partsOf(unit).map(({ leaf, thousandths }) => [leaf, thousandths]))).toEqual([
      [[2, 1000]],
      [
        [2, 250],
        [0, 500],
        [1, 250],
      ],
      [[1, 250]],
    ])
  })
  it('give each ad, day and kind just what its network credits to it, and just its value', () => {
    const parts = fc.integer({ min: 0, max: 4000 }).map(count => count / 1000)
    const some = fc.array(
      fc.tuple(
        fc.integer({ min: 0, max: 4 }),
        parts,
        parts,
        fc.nat(100_000),
        fc.constantFrom('2026-10-02', '2026-10-03'),
      ),
      { maxLength: 9 },
    )
    fc.assert(
      fc.property(some, drawn => {
        const sums = drawn.map(([leaf, clicks, views, value, date]) =>
          sum(leaf, clicks, views, clicks + views > 0 ? value : 0, date),
        )
        const units = claimUnits(sums)
        const told = new Map<string, number>()
        const add = (key: string, by: number) => told.set(key, (told.get(key) ?? 0) + by)
        for (const { row, value, leaf } of sums) {
          add(`${leaf} ${row.date} click`, -Math.round(row.click_through * 1000))
          add(`${leaf} ${row.date} view`, -Math.round(row.view_through * 1000))
          add(`${leaf} ${row.date} value`, -value)
        }
        const fractions = new Map<string, number>()
        for (const unit of units) {
          if (countOf(unit) < 1)
            fractions.set(`${unit.day} ${unit.kind}`, (fractions.get(`${unit.day} ${unit.kind}`) ?? 0) + 1)
          for (const { leaf, thousandths, value } of partsOf(unit)) {
            add(`${leaf} ${unit.day} ${unit.kind}`, thousandths)
            add(`${leaf} ${unit.day} value`, value)
          }
        }
        expect([...told.values()].every(rest => rest === 0)).toBe(true)
        // A day has no more than one claim of less than a conversion.
        expect(Math.max(0, ...fractions.values())).toBeLessThanOrEqual(1)
      }),
    )
  })
})
