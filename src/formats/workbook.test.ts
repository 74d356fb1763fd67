import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import writeXlsxFile from 'write-excel-file/node'
import { readSheet } from './sheet'
import { tableText } from './workbook'

type Cell = string | number | Date | null
const at = (day: number, hour = 0) => new Date(Date.UTC(2026, 10, day, hour))

/** A workbook as spreadsheets write it: numbers as numbers, days as days. */
const book = (sheets: Record<string, Cell[][]>): Promise<Buffer> =>
  writeXlsxFile(
    Object.entries(sheets).map(([sheet, rows]) => ({
      sheet,
      data: rows.map(row =>
        row.map(value =>
          value instanceof Date
            ? { value, type: Date, format: 'yyyy-mm-dd hh:mm' }
            : { value: value ?? undefined },
        ),
      ),
    })) as never,
  ).toBuffer()

const read = async (bytes: Uint8Array, sheet: string | null = null) => {
  const { text, how } = await tableText(bytes, 'orders.xlsx', { sheet })
  const { header, lines } = readSheet(text, 'orders.xlsx')
  return { header, rows: lines.map(line => [...line.cells]), how }
}

const orders: Cell[][] = [
  ['Zamówienie', 'Data', 'Kwota'],
  ['Z-1', new Date(Date.UTC(2026, 10, 2, 9, 30)), 129.9],
  ['Z-2', at(3), 49],
]
const notes: Cell[][] = [
  ['Shop', 'Tarnbrook Looms'],
  ['Made by', 'the office'],
]

describe('a workbook', () => {
  it('is read at the sheet with the most rows of a table, and all its sheets are named', async () => {
    const bytes = await book({
      Notes: notes,
      Orders: orders,
      Customers: [
        ['E-mail', 'Name'],
        ['a@post.example', 'Ada'],
      ],
    })
    const { header, rows, how } = await read(bytes)
    expect(header).toEqual(['Zamówienie', 'Data', 'Kwota'])
    expect(rows).toEqual([
      ['Z-1', '2026-11-02 09:30:00', '129.9'],
      ['Z-2', '2026-11-03', '49'],
    ])
    expect(how.read).toEqual(['Orders'])
    expect(how.sheets).toEqual([
      { name: 'Notes', rows: 1 },
      { name: 'Orders', rows: 2 },
      { name: 'Customers', rows: 1 },
    ])
  })
  it('is read at the sheet that is asked for', async () => {
    const bytes = await book({
      Orders: orders,
      Customers: [
        ['E-mail', 'Name'],
        ['a@post.example', 'Ada'],
      ],
    })
    const { header, how } = await read(bytes, 'Customers')
    expect(header).toEqual(['E-mail', 'Name'])
    expect(how.read).toEqual(['Customers'])
    await expect(read(bytes, 'Refunds')).rejects.toThrow('no table')
  })
  it('goes on in sheets of the same headings, in its own order', async () => {
    const [heading, ...own] = orders
    const { rows, how } = await read(
      await book({ October: [heading!, own[0]!], November: [heading!, own[1]!, own[1]!] }),
    )
    expect(rows.map(row => row[0])).toEqual(['Z-1', 'Z-2', 'Z-2'])
    expect(how.read).toEqual(['October', 'November'])
  })
  it('begins at its headings, below a title and the period', async () => {
    const { header, rows } = await read(
      await book({
        Report: [
          ['Orders of Tarnbrook Looms', null, null],
          [null, null, null],
          ['November', at(1), null],
          ...orders,
        ],
      }),
    )
    expect(header).toEqual(['Zamówienie', 'Data', 'Kwota'])
    expect(rows).toHaveLength(2)
  })
  it('writes numbers with the mark of the text cells beside them', async () => {
    const { rows } = await read(
      await book({
        Pedidos: [
          ['Pedido', 'Total'],
          ['P-1', 'R$ 1.234,56'],
          ['P-2', 1234.5],
          ['P-3', 0.1 + 0.2],
          ['P-4', 'R$ 9,90'],
        ],
      }),
    )
    expect(rows.map(row => row[1])).toEqual(['R$ 1.234,56', '1234,5', '0,3', 'R$ 9,90'])
  })
  it('that is none, or of another kind, is refused with what to do', async () => {
    const others = [
      zipSync({ 'content.xml': strToU8('<office:document-content/>') }),
      new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]),
      (await book({ Orders: orders })).subarray(0, 900),
    ]
    for (const bytes of others) await expect(read(bytes)).rejects.toThrow('Save it as XLSX or CSV')
    await expect(read(await book({ Notes: [['nothing here']] }))).rejects.toThrow('no table')
  })
})

describe('a workbook that would fill the machine', () => {
  const sheetWith = async (cells: string, change: (parts: Record<string, Uint8Array>) => void = () => {}) => {
    const parts = unzipSync(new Uint8Array(await book({ Orders: orders })))
    const sheet = strFromU8(parts['xl/worksheets/sheet1.xml']!)
    parts['xl/worksheets/sheet1.xml'] = strToU8(sheet.replace('</sheetData>', `${cells}</sheetData>`))
    change(parts)
    return zipSync(parts)
  }
  it('is refused by the cells that it spans, before they are made', async () => {
    const far = await sheetWith('<row r="1048576"><c r="XFD1048576"><v>1</v></c></row>')
    expect(far.length).toBeLessThan(8000)
    await expect(read(far)).rejects.toMatchObject({ code: 'too_wide' })
    // One far row, or one far column, is what spreadsheets write.
    const low = await sheetWith('<row r="200000"><c r="A200000"><v>1</v></c></row>')
    expect((await read(low)).rows).toHaveLength(3)
  })
  it('is refused by what it unpacks to', async () => {
    const large = await sheetWith('', parts => {
      parts['xl/worksheets/sheet2.xml'] = new Uint8Array(401_000_000)
    })
    expect(large.length).toBeLessThan(2_000_000)
    await expect(read(large)).rejects.toMatchObject({ code: 'too_large' })
  })
})

describe('JSON that would', () => {
  const ofText = (text: string) => tableText(strToU8(text), 'orders.json')
  it('is refused by its columns and by its depth, in words', async () => {
    const keys = Array.from({ length: 30_000 }, (_, i) => `{"key${i}":${i},"no":${i}}`).join('\n')
    await expect(ofText(keys)).rejects.toMatchObject({ code: 'too_many_columns' })
    const deep = `[{"no":1,"a":${'['.repeat(50_000)}${']'.repeat(50_000)}}]`
    await expect(ofText(deep)).rejects.toMatchObject({ code: 'too_deep' })
    await expect(ofText(`[{"no":"${'['.repeat(5000)}","b":1}]`)).resolves.toBeDefined()
  })
})
