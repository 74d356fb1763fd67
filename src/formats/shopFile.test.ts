import fc from 'fast-check'
import Papa from 'papaparse'
import { expect, it } from 'vitest'
import { hand, order, orderCells, readBack, write } from '@/core/intake/shopExport/anyExport'
import { readSheet } from './sheet'
import { tableText } from './workbook'

const encoders: Record<string, (text: string) => Buffer> = {
  'utf-8': text => Buffer.from(text),
  'utf-8 with its mark': text => Buffer.from(`\uFEFF${text}`),
  'utf-16le': text => Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')]),
  'utf-16be': text => Buffer.concat([Buffer.from([0xfe, 0xff]), Buffer.from(text, 'utf16le').swap16()]),
}
/** Ways in which a table is written: between which marks, or as an object a line. */
const writers: Record<string, (table: { header: string[]; rows: string[][] }, newline: string) => string> = {
  ...Object.fromEntries(
    [',', ';', '\t', '|'].map(delimiter => [
      delimiter,
      ({ header, rows }: { header: string[]; rows: string[][] }, newline: string) =>
        Papa.unparse([header, ...rows], { delimiter, newline }),
    ]),
  ),
  'json lines': ({ header, rows }) =>
    rows.map(row => JSON.stringify(Object.fromEntries(header.map((name, i) => [name, row[i]])))).join('\n'),
}

it('orders come back the same from any file that a shop writes, or what they could mean is asked', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.uniqueArray(order, { minLength: 2, maxLength: 12, selector: o => o.id }),
      hand,
      fc.constantFrom(...Object.keys(encoders)),
      fc.constantFrom(...Object.keys(writers)),
      fc.constantFrom('\n', '\r\n'),
      async (orders, by, encoding, writer, newline) => {
        const text = writers[writer]!(write(orders, by, 'order'), newline)
        const { header, lines } = readSheet(
          (await tableText(encoders[encoding]!(text), 'orders')).text,
          'orders',
        )
        const sheet = { header, rows: lines.map(line => [...line.cells]) }
        expect(readBack(sheet, by, 'order')).toEqual(orders.map(o => orderCells(o, by)))
      },
    ),
  )
})
