import { describe, expect, it } from 'vitest'
import { isJson, jsonTable } from './jsonTable'
import { readSheet } from './sheet'

const table = (text: string) => {
  const { header, lines } = readSheet(jsonTable(text)!, 'file')
  return [header, ...lines.map(line => line.cells)]
}

describe('orders as JSON', () => {
  const lines = '{"no":"A","total":"5.00"}\n{"no":"B","total":"6.00","note":"x"}\n'
  it('are read a line each, as a list, or as the list in an object', () => {
    const wanted = [
      ['no', 'total', 'note'],
      ['A', '5.00', ''],
      ['B', '6.00', 'x'],
    ]
    expect(table(lines)).toEqual(wanted)
    expect(table(`[${lines.trim().split('\n').join(',')}]`)).toEqual(wanted)
    expect(table(`{"page":1,"orders":[${lines.trim().split('\n').join(',')}]}`)).toEqual(wanted)
    expect(isJson(`\uFEFF ${lines}`)).toBe(true)
    expect(isJson('no,total\nA,5')).toBe(false)
  })
  it('have a row for each item, and what is within by a dot', () => {
    const order =
      '{"no":"A","customer":{"mail":"a@post.example"},"items":[{"sku":"x","price":5},{"sku":"y","price":7}],"tags":["b","c"]}'
    expect(table(order)).toEqual([
      ['no', 'customer.mail', 'tags', 'items.sku', 'items.price'],
      ['A', 'a@post.example', 'b c', 'x', '5'],
      ['A', 'a@post.example', 'b c', 'y', '7'],
    ])
  })
  it('are none where they are no records', () => {
    for (const text of ['[1,2]', '{"no":"A"}\nsoon\n', '{', '[]', '"text"'])
      expect(jsonTable(text)).toBeNull()
  })
})
