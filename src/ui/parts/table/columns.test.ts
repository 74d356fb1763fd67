import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type Column, cellsOf, holds, layoutFrom, moved, pasted, textOfLayout, usualLayout } from './columns'

interface Row {
  name: string
  spend: number | null
}
const columns: Column<Row>[] = [
  { id: 'name', heading: 'name', words: true, value: r => r.name },
  { id: 'spend', heading: 'spend, EUR', value: r => r.spend, as: 'amount' },
  { id: 'clicks', heading: 'clicks', value: () => 3, asked: true },
]

describe('which columns a table shows', () => {
  it('goes into an address and comes back from it', () => {
    fc.assert(
      fc.property(
        fc.shuffledSubarray(['name', 'spend', 'clicks'], { minLength: 3 }),
        fc.subarray(['name', 'spend', 'clicks']),
        fc.dictionary(fc.constantFrom('name', 'spend'), fc.integer({ min: 20, max: 900 })),
        (order, hidden, widths) => {
          const back = layoutFrom(textOfLayout({ order, hidden, widths }), columns as never)
          expect(back.order).toEqual(order)
          expect(new Set(back.hidden)).toEqual(new Set(hidden))
          expect(back.widths).toEqual({ ...widths })
        },
      ),
    )
  })
  it('shows what an old or foreign address does not name where it usually stands, and leaves out what there is not', () => {
    expect(layoutFrom('gone.spend!80', columns as never)).toEqual({
      order: ['spend', 'name', 'clicks'],
      hidden: ['clicks'],
      widths: { spend: 80 },
    })
  })
  it('moves a column past those that are hidden, and not past the end', () => {
    const layout = { order: ['name', 'clicks', 'spend'], hidden: ['clicks'], widths: {} }
    expect(moved(layout, 'name', 1).order).toEqual(['spend', 'clicks', 'name'])
    expect(moved(layout, 'name', -1).order).toEqual(layout.order)
    expect(usualLayout(columns as never).hidden).toEqual(['clicks'])
  })
})

describe('rows that leave a table', () => {
  const rows = [
    { name: 'Oak\tand\nwool', spend: 123450 },
    { name: 'Kits', spend: null },
  ]
  it('paste into a spreadsheet as many cells as there are, amounts as written', () => {
    const lines = pasted(columns, rows, 'EUR').split('\n')
    expect(lines.map(line => line.split('\t'))).toEqual([
      ['name', 'spend, EUR', 'clicks'],
      ['Oak and wool', '1234.50', '3'],
      ['Kits', '', '3'],
    ])
    expect(cellsOf(columns, rows, 'EUR').data[0]).toEqual(['Oak\tand\nwool', '1234.50', '3'])
  })
  it('are found by words in any cell, in any order', () => {
    const found = (text: string) =>
      rows.filter(row => holds(columns, row, text.toLowerCase().split(' '), 'EUR'))
    expect(found('WOOL oak').length).toBe(1)
    expect(found('1234 oak').length).toBe(1)
    expect(found('oak kits').length).toBe(0)
  })
})
