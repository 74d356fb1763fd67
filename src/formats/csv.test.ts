import fc from 'fast-check'
import Papa from 'papaparse'
import { describe, expect, it } from 'vitest'
import { FileRefused, readExchangeFile, writeCsv } from './csv'

const header = 'order_id,ordered_at,status,currency,total,note'
const good = 'T1,2026-10-05T10:00:00Z,paid,EUR,149.00,hi'
const orders = (...rows: string[]) => readExchangeFile('orders', [header, ...rows].join('\n'))

describe('reading an exchange file', () => {
  it('takes columns in any order, keeps unknown ones, and says what each was taken for', () => {
    const read = readExchangeFile(
      'orders',
      'Total,currency,STATUS,ordered at,order_id,gift\n149.00,EUR,Paid,2026-10-05T10:00:00+01:00,T1,yes\n',
    )
    expect(read.records[0]).toMatchObject({
      order_id: 'T1',
      total: 14900,
      status: 'paid',
      gift: 'yes',
      ordered_at: Date.UTC(2026, 9, 5, 9),
    })
    expect(read.columns.find(c => c.header === 'gift')?.takenFor).toBe('attribute')
  })
  it('rejects a bad row with its line, column and reason, and takes the good ones', () => {
    const read = orders(
      good,
      'T2,2026-13-05T10:00:00Z,paid,EUR,1.00,',
      'T3,2026-10-05T10:00:00Z,paid,EUR,-1.00,',
      'T4,2026-10-05T10:00:00Z,lost,EUR,1.00,',
      'T5,2026-10-05T10:00:00Z,paid,EURO,1.00,',
      'T6,2026-10-05T10:00:00Z,paid,EUR,1.005,',
      ',2026-10-05T10:00:00Z,paid,EUR,1.00,',
      'T8,2026-10-05T10:00:00Z,paid,EUR,1.00,"two\nlines"',
      'T9,2026-10-05T10:00:00Z,paid,EUR,1.00,a,b',
    )
    expect(read.records.map(r => r.order_id)).toEqual(['T1', 'T8'])
    expect(read.rejected.map(({ line, column, reason }) => [line, column, reason])).toEqual([
      [3, 'ordered_at', 'not_an_instant'],
      [4, 'total', 'negative_amount'],
      [5, 'status', 'unknown_status'],
      [6, 'currency', 'not_a_currency'],
      [7, 'total', 'not_an_amount'],
      [8, 'order_id', 'required'],
      [11, 'note', 'extra_cells'],
    ])
  })
  it('refuses a file whole that lacks a column, is empty, or is no text', () => {
    expect(() => readExchangeFile('orders', 'order_id,total\nT1,1')).toThrow(/ordered_at, status, currency/)
    expect(() => readExchangeFile('orders', '  ')).toThrow(/empty/)
    expect(() => readExchangeFile('orders', `${header}\nT1,\u0000`)).toThrow(FileRefused)
  })
  it('loses to a stray quotation mark only its own line', () => {
    const rows = Array.from({ length: 5000 }, (_, i) => `T${i},2026-10-05T10:00:00Z,paid,EUR,1.00,n${i}`)
    rows[5] = 'T5,2026-10-05T10:00:00Z,paid,EUR,1.00,"never closed'
    rows[2000] = '"T2000,2026-10-05T10:00:00Z,paid,EUR,1.00,x'
    rows[4999] = 'T4999,2026-10-05T10:00:00Z,paid,EUR,1.00,"at the end'
    const read = orders(...rows)
    expect(read.rejected.map(({ line, reason }) => [line, reason])).toEqual([
      [7, 'bad_quotes'],
      [2002, 'bad_quotes'],
      [5001, 'bad_quotes'],
    ])
    expect(read.records).toHaveLength(4997)
    expect(read.lines.at(-1)).toBe(5000)
  })
  it('names each line of two that swallow each other, and keeps those between', () => {
    const row = (id: string, note: string) => `${id},2026-10-05T10:00:00Z,paid,EUR,1.00,${note}`
    const read = orders(row('A', '"5 in'), row('B', 'fine'), row('C', '"6 in'), row('D', 'fine'))
    expect(read.rejected.map(({ line, reason }) => [line, reason])).toEqual([
      [2, 'bad_quotes'],
      [4, 'bad_quotes'],
    ])
    expect(read.records.map(r => r.order_id)).toEqual(['B', 'D'])
  })
  it('takes a mark of inches as it stands, and a note of many lines', () => {
    const note = Array.from({ length: 40 }, (_, i) => `line ${i}`).join('\n')
    const read = orders(
      good.replace('hi', 'a 5" desk'),
      good.replace('T1', 'T2').replace('hi', `"${note}"`),
      good.replace('T1', 'T3'),
    )
    expect(read.records).toMatchObject([{ note: 'a 5" desk' }, { order_id: 'T2', note }, { order_id: 'T3' }])
    expect(read.lines).toEqual([2, 3, 43])
  })
  it.each([
    ['a header in CRLF over rows in LF', `${header}\r\n${good}\n${good.replace('T1', 'T2')}\n`],
    [
      'a header in LF over rows in CRLF',
      `${header}\n${good.replace('hi', '"hi"')}\r\n${good.replace('T1', 'T2').replace('hi', '"hi"')}\r\n`,
    ],
    ['CRLF throughout', `${header}\r\n${good}\r\n${good.replace('T1', 'T2')}\r\n`],
    ['LF with one CRLF among it', `${header}\n${good}\r\n${good.replace('T1', 'T2')}\n`],
    ['a byte-order mark', `\uFEFF${header}\n${good}\n${good.replace('T1', 'T2')}`],
  ])('reads %s', (_, text) => {
    const read = readExchangeFile('orders', text)
    expect(read.records).toMatchObject([
      { order_id: 'T1', note: 'hi' },
      { order_id: 'T2', note: 'hi' },
    ])
    expect(read.rejected).toEqual([])
  })
  it('keeps spaces within quotation marks, and takes away those around cells', () => {
    const read = orders('  T1 ,2026-10-05T10:00:00Z, paid ,EUR,1.00,"  two  "')
    expect(read.records).toMatchObject([{ order_id: 'T1', status: 'paid', note: '  two  ' }])
  })
  it('reads a long file as a short one, whatever stands in its cells, and knows each row’s line', () => {
    const cells = ['plain', 'a "word", said', 'two\nlines', '"\n"\n,', '']
    const notes = Array.from({ length: 4000 }, (_, i) => cells[(i * 7 + (i >> 5)) % cells.length]!)
    const written = writeCsv(
      header.split(','),
      notes.map((note, i) => ({
        ...{ order_id: `T${i}`, ordered_at: '2026-10-05T10:00:00Z', status: 'paid', currency: 'EUR' },
        ...{ total: i % 1000 === 999 ? 'much' : '1.00', note },
      })),
    )
    const { records, lines, rejected } = readExchangeFile('orders', written)
    expect(rejected.map(reject => reject.cells?.order_id)).toEqual(['T999', 'T1999', 'T2999', 'T3999'])
    const good = notes.flatMap((note, i) => (i % 1000 === 999 ? [] : [[`T${i}`, note || null]]))
    expect(records.map(r => [r.order_id, r.note])).toEqual(good)
    const text = written.split('\n')
    for (const [i, line] of lines.entries()) expect(text[line - 1]).toContain(`${records[i]!.order_id},`)
  })
  it('lives through megabytes of junk', () => {
    const junk = Array.from({ length: 60_000 }, (_, i) => `${i};"broken, ${'ж'.repeat(i % 60)}`).join('\n')
    expect(() => readExchangeFile('orders', junk)).toThrow(FileRefused)
    expect(readExchangeFile('orders', `${header}\n${good}\n${junk}`).records.map(r => r.order_id)).toEqual([
      'T1',
    ])
  })
})

describe('writing', () => {
  it('leaves no cell that a spreadsheet would run, and reads back what it wrote', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('=', '+', '-', '@', "'", "'=", "''", ''),
        fc.constantFrom('', '\n', '\u2028', '\u2029', '\u0085'),
        fc.string({ unit: 'grapheme', maxLength: 30 }),
        (start, lineBreak, rest) => {
          const note = `${start}${lineBreak}${rest}x`
          const text = writeCsv(
            [...header.split(',')],
            [
              {
                order_id: 'T1',
                ordered_at: '2026-10-05T10:00:00Z',
                status: 'paid',
                currency: 'EUR',
                total: '1.00',
                note,
              },
            ],
          )
          expect(Papa.parse<string[]>(text).data[1]!.at(-1)).not.toMatch(/^[=+\-@]/)
          const read = readExchangeFile('orders', text)
          expect(read.records[0]).toMatchObject({ note })
        },
      ),
    )
  })
})
