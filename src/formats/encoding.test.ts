import fc from 'fast-check'
import iconv from 'iconv-lite'
import { describe, expect, it } from 'vitest'
import type { Encoding } from '@/core/shared/encodings'
import { decodeText, encodingOf } from './encoding'

const bytesIn = (encoding: Encoding, text: string): Uint8Array => iconv.encode(text, encoding)

const file = (heading: string, cells: readonly string[], rows = 30) =>
  [
    heading,
    ...Array.from({ length: rows }, (_, i) => `${1000 + i};2026-11-24;12,50;${cells[i % cells.length]}`),
  ].join('\n')
const written: [string, Encoding, string][] = [
  ['French', 'windows-1252', file('Commande;Date;Montant remboursé;Prénom', ['Zoé', 'François', 'Hélène'])],
  ['Portuguese', 'windows-1252', file('Pedido;Data;Total pago;Situação', ['Concluído', 'João', 'Conceição'])],
  ['German', 'windows-1252', file('Bestellung;Datum;Größe;Name', ['Jürgen Groß', 'Anja'])],
  ['Polish', 'windows-1250', file('Zamówienie;Data;Kwota;Imię', ['Łukasz Żak', 'Święta Ćwik', 'Małgorzata'])],
  ['Polish', 'iso-8859-2', file('Zamówienie;Data;Kwota;Imię', ['Łukasz Żak', 'Święta Ćwik', 'Małgorzata'])],
  ['Russian', 'windows-1251', file('Заказ;Дата;Сумма;Статус', ['оплачен', 'отменён'])],
  ['Japanese', 'shift_jis', file('注文番号;日付;合計;状態', ['支払い済み', 'キャンセル', 'ポスト'])],
  ['Chinese', 'gb18030', file('订单号;日期;总计;状态', ['已付款', '已取消'])],
]

describe('the encoding of a file', () => {
  it.each(written)('%s in %s is found out, and read as it was written', (_, encoding, text) => {
    const bytes = bytesIn(encoding, text)
    expect(decodeText(bytes)).toBe(text)
    expect(encodingOf(bytes)).toBe(encoding)
  })
  it('is UTF-8 wherever the bytes are that, also where the file was cut off within a letter', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 60 }), fc.nat(3), (text, cut) => {
        const bytes = new TextEncoder().encode(text)
        fc.pre(bytes[0] !== 0xff && bytes[0] !== 0xfe)
        expect(encodingOf(bytes)).toBe('utf-8')
        const letter = new TextEncoder().encode('é界😀'.slice(0, 4))
        expect(encodingOf(Uint8Array.from([...bytes, ...letter].slice(0, -cut || undefined)))).toBe('utf-8')
      }),
    )
  })
  it('is what somebody says, where that is said', () => {
    const bytes = bytesIn('windows-1250', 'Łódź')
    expect(decodeText(bytes, 'windows-1250')).toBe('Łódź')
    expect(decodeText(bytes, 'windows-1252')).toBe('£ódŸ')
  })
  it('is told by one letter as well, and never loses a byte', () => {
    expect(decodeText(bytesIn('windows-1252', 'name\nTúnis, 12 €\n'))).toBe('name\nTúnis, 12 €\n')
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 1, maxLength: 80 }), bytes => {
        fc.pre(!(bytes[0] === 0xff && bytes[1] === 0xfe) && !(bytes[0] === 0xfe && bytes[1] === 0xff))
        const encoding = encodingOf(bytes)
        // Where none can read all of it, the Western one has a letter for every byte.
        expect(() => decodeText(bytes, encoding)).not.toThrow()
        expect(decodeText(bytes, encoding).length).toBeGreaterThan(0)
      }),
    )
  })
})
