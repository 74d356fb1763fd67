import { describe, expect, it } from 'vitest'
import { readRecording } from './har'
import { InvalidJson } from './json'

const at = (seconds: number) => new Date(Date.UTC(2026, 9, 5, 10, 0, seconds)).toISOString()
const html = { status: 200, content: { mimeType: 'text/html; charset=utf-8' } }
const entry = (
  seconds: number,
  url: string,
  request: object = {},
  response: object | null = { status: 204 },
  more: object = {},
) => ({
  startedDateTime: at(seconds),
  request: { method: 'GET', url, ...request },
  response,
  ...more,
})
const read = (log: object, begin = '') => readRecording(`${begin}${JSON.stringify({ log })}`, 'visit.har')
const shop = 'https://tarnbrook.example'

describe('a recording of a visit', () => {
  it('may tell no pages: each document that was opened is one', () => {
    const { pages, requests } = read({
      entries: [
        entry(0, `${shop}/kits`, {}, html),
        entry(1, 'https://norrfeed.example/hit?e=page'),
        entry(5, `${shop}/thanks`, {}, html),
        entry(6, 'https://norrfeed.example/hit?e=order'),
      ],
    })
    expect(pages.map(page => page.address)).toEqual([`${shop}/kits`, `${shop}/thanks`])
    expect(requests.map(request => request.page)).toEqual([
      pages[0]!.id,
      pages[0]!.id,
      pages[1]!.id,
      pages[1]!.id,
    ])
  })
  it('may hold the fields of a form, JSON or text in its bodies', () => {
    const post = (postData: object | null) =>
      entry(1, 'https://norrfeed.example/hit?a=1', { method: 'POST', postData })
    const { requests } = read({
      pages: null,
      entries: [
        entry(0, `${shop}/`, {}, html),
        post({
          mimeType: 'application/x-www-form-urlencoded',
          params: [{ name: 'e', value: 'order' }, { name: 'v' }],
        }),
        post({ text: '{"e":"order","v":149,"deep":{}}' }),
        post({ text: 'e=order&v=149' }),
        post(null),
      ],
    })
    expect(requests.slice(1).map(r => Object.fromEntries(r.parameters))).toEqual([
      { a: '1', e: 'order', v: '' },
      { a: '1', e: 'order', v: '149' },
      { a: '1', e: 'order', v: '149' },
      { a: '1' },
    ])
  })
  it('may begin with a byte-order mark, and hold null for what is not known', () => {
    const { pages, requests } = read(
      {
        pages: [{ id: 'p1', title: null, startedDateTime: at(0) }],
        entries: [
          entry(0, `${shop}/kits`, { headers: null }, html, { pageref: 'p1' }),
          entry(1, 'https://norrfeed.example/a', {}, null, { pageref: 'p1' }),
          entry(
            2,
            'https://norrfeed.example/b',
            {},
            { status: null, content: null, _error: null },
            { pageref: null },
          ),
          entry(3, 'https://norrfeed.example/c', {}, { status: 200, _error: '' }, { pageref: 'p1' }),
        ],
      },
      '\uFEFF',
    )
    expect(pages).toEqual([{ id: 'p1', at: Date.parse(at(0)), address: `${shop}/kits` }])
    expect(requests.map(r => [r.page, r.failed])).toEqual([
      ['p1', false],
      ['p1', true],
      [null, true],
      ['p1', false],
    ])
  })
  it('that is none says what is wrong', () => {
    expect(() => readRecording('{"log":{}}', 'visit.har')).toThrow(InvalidJson)
    expect(() => readRecording('<html>', 'visit.har')).toThrow(/visit.har is not JSON/)
  })
})
