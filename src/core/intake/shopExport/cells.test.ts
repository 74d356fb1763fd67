import { describe, expect, it } from 'vitest'
import { guessExport } from './guess'
import { readExport } from './read'

const own = { currency: 'EUR', time_zone: 'Europe/Lisbon' }
const guess = (header: string[], rows: string[][]) => guessExport({ header, rows }, own).mapping
const lines = (rows: string[][]) => rows.map((cells, i) => ({ cells, line: i + 2 }))

describe('columns whose headings say nothing', () => {
  const header = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H', 'I']
  // number, time, e-mail, where from, goods, discount, shipping, tax, total
  const rows = Array.from({ length: 24 }, (_, i) => {
    const goods = 2000 + 137 * i
    const [off, sent] = [i % 3 === 0 ? 200 : 0, i % 2 === 0 ? 490 : 0]
    const tax = Math.round((goods - off) * 0.23)
    const money = (cents: number) => (cents / 100).toFixed(2).replace('.', ',')
    return [
      `TL-${1000 + i}`,
      `2026-11-${String(1 + i).padStart(2, '0')} 09:30`,
      `kunde${i % 7}@mail.example`,
      i % 4 === 0 ? 'utm_source=kelpie&utm_campaign=autumn&utm_content=a1' : '',
      money(goods),
      money(off),
      money(sent),
      money(tax),
      money(goods - off + sent + tax),
    ]
  })
  it('are told by their cells, and amounts by which is what the others make', () => {
    expect(guess(header, rows).columns).toEqual({
      order_id: 'A',
      ordered_at: 'B',
      email: 'C',
      landing_url: 'D',
      net: 'E',
      discount: 'F',
      shipping: 'G',
      tax: 'H',
      total: 'I',
    })
  })
  it('do not take what headings say from them', () => {
    const named = ['Ref', 'Placed', 'Buyer', 'Came by', 'Goods', 'Off', 'Post', 'VAT', 'Grand total']
    expect(guess(named, rows).columns).toMatchObject({ order_id: 'Ref', tax: 'VAT', total: 'Grand total' })
  })
  it('are not what their heading says where their cells speak against it', () => {
    const people = rows.map((row, i) => [`Ana ${'Sousa Reis Lima'.split(' ')[i % 3]}`, ...row])
    const { columns } = guess(
      ['Name', 'Nr.', 'Date', 'Mail', 'Entry', 'Net', 'Off', 'Post', 'VAT', 'Total'],
      people,
    )
    expect(columns).toMatchObject({ order_id: 'Nr.', ordered_at: 'Date', email: 'Mail', total: 'Total' })
    const words = guess(['Order', 'Date', 'Total', 'Sum'], [['1', '2026-11-02', 'gift', '5.00']]).columns
    expect([words.order_id, words.total]).toEqual(['Order', 'Sum'])
  })
  it('are left open where nothing tells them', () => {
    expect(
      guess(
        ['A', 'B'],
        [
          ['x', 'red'],
          ['x', 'blue'],
          ['y', 'red'],
        ],
      ).columns,
    ).toEqual({})
  })
})

describe('lines that are no orders', () => {
  const header = ['Order', 'Date', 'Total', 'Note']
  const rows = [
    ['1', '2026-11-02', '20.00', ''],
    ['2', '2026-11-03', '30.00', 'TEST order by Ana'],
    ['3', '2026-11-03', '5.00', 'contest winner'],
  ]
  it('are the totals of the file, which are held beside its orders', () => {
    const mapping = guess(header, rows)
    const read = readExport(header, lines([...rows, ['Total', '', '55.00', '']]), mapping)
    expect([read.totalsLine, read.orders.length, read.rejected]).toEqual([{ line: 5, total: 5500 }, 3, []])
    const nameless = readExport(header, lines([...rows, ['', '', '56.00', '']]), mapping)
    expect(nameless.totalsLine).toEqual({ line: 5, total: 5600 })
  })
  it('are tests where any cell holds the word that is said', () => {
    const status = (tests: string) =>
      readExport(header, lines(rows), { ...guess(header, rows), tests }).orders.map(one => one.cells.status)
    expect(status('test')).toEqual(['paid', 'test', 'paid'])
    expect(status('by Ana')).toEqual(['paid', 'test', 'paid'])
    expect(status('')).toEqual(['paid', 'paid', 'paid'])
  })
})
