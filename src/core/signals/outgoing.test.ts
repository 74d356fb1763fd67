import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fillCode } from './codePlaces'
import { networkEventId } from './fillCode'
import { afterTry, fillOutgoing, hasPlace, outgoingPlaces, outgoingSchema } from './outgoing'

const values = fc.record(
  Object.fromEntries(outgoingPlaces.map(place => [place, fc.string({ unit: 'grapheme', maxLength: 30 })])),
)

describe('an outgoing request', () => {
  const request = (body: string, type: string) =>
    outgoingSchema.parse({
      method: 'POST',
      address: 'https://hear.norrfeed.example/e?a={account}&t={transaction}',
      headers: [
        { name: 'Content-Type', value: type },
        { name: 'Authorization', value: 'Bearer {secret}' },
      ],
      body,
    })

  it('says in its address, in a form and in JSON exactly what is to be said, whatever it is', () => {
    const form = request('o={transaction}&v={value}', 'application/x-www-form-urlencoded')
    const json = request(
      '{ "o": "{transaction}", "v": {value}, "deep": { "e": "{event}" } }',
      'application/json',
    )
    fc.assert(
      fc.property(values, given => {
        // Line ends of a query are no line ends any more once a browser reads them.
        const told = Object.fromEntries(
          Object.entries(given).map(([place, text]) => [place, text.replace(/[\r\n]/g, '')]),
        )
        const { address, body } = fillOutgoing(form, told)
        expect([...new URL(address).searchParams]).toEqual([
          ['a', told.account],
          ['t', told.transaction],
        ])
        expect(new URLSearchParams(body).get('o')).toBe(told.transaction)
        const read = JSON.parse(fillOutgoing(json, told).body)
        expect(read.o).toBe(told.transaction)
        expect(read.deep.e).toBe(told.event)
      }),
    )
  })
  it('writes numbers as numbers, and what is not known as null', () => {
    const json = request('{ "v": {value}, "at": {at_seconds} }', 'application/json')
    expect(fillOutgoing(json, { value: '149.00', at_seconds: '1795468847' }).body).toBe(
      '{ "v": 149.00, "at": 1795468847 }',
    )
    expect(fillOutgoing(json, {}).body).toBe('{ "v": null, "at": null }')
  })
  it('lets nothing add a header or change the host', () => {
    const { headers, address } = fillOutgoing(request('', 'text/plain'), {
      secret: 'a\r\nX-Other: 1',
      account: '@evil.example/',
    })
    expect(headers.authorization).toBe('Bearer aX-Other: 1')
    expect(new URL(address).host).toBe('hear.norrfeed.example')
    expect(outgoingSchema.safeParse({ method: 'GET', address: 'https://{account}.example/' }).success).toBe(
      false,
    )
  })
})

describe('what an outgoing request may be', () => {
  const given = { method: 'POST', address: 'https://hear.norrfeed.example/e' }
  const takes = (more: object) => outgoingSchema.safeParse({ ...given, ...more }).success
  it.each([
    ['no headers and no body', {}, true],
    ['a GET', { method: 'GET' }, true],
    ['a GET with a body', { method: 'GET', body: 'x' }, false],
    ['a PUT with a body', { method: 'PUT', body: 'x' }, true],
    ['a DELETE', { method: 'DELETE' }, false],
    ['an address without encryption', { address: 'http://hear.norrfeed.example/' }, true],
    ['an address of another scheme', { address: 'ftp://hear.norrfeed.example/' }, false],
    ['a place in the host', { address: 'https://{account}/' }, false],
    ['a name of a header', { headers: [{ name: 'X-Key', value: '{secret}' }] }, true],
    ['a name with a space', { headers: [{ name: 'X Key', value: '' }] }, false],
    ['a name with a colon', { headers: [{ name: 'X:', value: '' }] }, false],
    ['no name', { headers: [{ name: '', value: '' }] }, false],
  ] as const)('%s', (_, more, yes) => {
    expect(takes(more)).toBe(yes)
  })
  it('has a place where one stands: in address, header or body', () => {
    const all = outgoingSchema.parse({
      ...given,
      address: 'https://n.example/{event}',
      headers: [{ name: 'A', value: '{secret}' }],
      body: '{value}',
    })
    expect((['event', 'secret', 'value', 'page'] as const).map(place => hasPlace(all, place))).toEqual([
      true,
      true,
      true,
      false,
    ])
  })
  it('writes a body that is neither JSON nor a form as it is', () => {
    const { headers, body, method } = fillOutgoing(
      outgoingSchema.parse({
        ...given,
        method: 'PUT',
        headers: [{ name: 'Content-Type', value: 'text/plain' }],
        body: 'a&b "{transaction}" {nothing}',
      }),
      { transaction: 'T"1&' },
    )
    expect({ headers, body, method }).toEqual({
      headers: { 'content-type': 'text/plain' },
      body: 'a&b "T"1&" {nothing}',
      method: 'PUT',
    })
  })
  it.each([
    ['12', '12'],
    ['-0.5', '-0.5'],
    ['012', '"012"'],
    ['1e3', '"1e3"'],
    ['1234567890123456', '"1234567890123456"'],
    ['1.2345678', '"1.2345678"'],
    ['', 'null'],
    ['x', '"x"'],
  ])('writes the bare value %s into JSON as %s', (value, written) => {
    const json = outgoingSchema.parse({
      ...given,
      headers: [{ name: 'content-type', value: 'application/json' }],
      body: '{value}',
    })
    expect(fillOutgoing(json, { value }).body).toBe(written)
  })
})

describe('after a try', () => {
  const at = 1_000_000
  it.each([200, 204])('%i is taken', status => {
    expect(afterTry({ at, status }, 1, null, 0)).toEqual({ state: 'taken' })
  })
  it.each([301, 400, 401, 404, 422])('%i is refused: another try would change nothing', status => {
    expect(afterTry({ at, status }, 1, null, 0)).toEqual({ state: 'refused' })
  })
  const MINUTE = 60_000
  it.each([
    // status, tries, asked, chance: seconds until the next
    [null, 1, null, 0, 7.5],
    [null, 1, null, 1, 12.5],
    [408, 1, null, 0.5, 10],
    [425, 2, null, 0.5, 20],
    [429, 3, null, 0.5, 40],
    [500, 4, null, 0.5, 80],
    [503, 11, null, 0.5, 10_240],
    [503, 1, 60, 0.5, 60],
    [503, 1, 5, 0.5, 10],
    [503, 1, 1e9, 0.5, 6 * 3600],
  ] as const)('%s at try %i, asked for %s s, is tried again (chance %s) after %d s', (...row) => {
    const [status, tries, asked, chance, seconds] = row
    expect(afterTry({ at, status }, tries, asked, chance)).toEqual({
      state: 'waiting',
      next: at + seconds * 1000,
    })
  })
  it.each([199, 300, 399, 409, 426, 499])('%i is for good', status => {
    expect(afterTry({ at, status }, 1, null, 0.5)).toEqual({ state: 'refused' })
  })
  it.each([299, 201])('%i is taken, at the last try too', status => {
    expect(afterTry({ at, status }, 12, null, 0.5)).toEqual({ state: 'taken' })
  })
  it('gives up at the twelfth try and not before', () => {
    expect(afterTry({ at, status: 500 }, 11, null, 0)).toMatchObject({ state: 'waiting' })
    expect(afterTry({ at, status: 500 }, 12, null, 0)).toEqual({ state: 'refused' })
    expect(afterTry({ at, status: 500 }, 12, 60 * MINUTE, 0)).toEqual({ state: 'refused' })
  })
  it('waits longer each time, at least as long as it is asked to, and gives up in the end', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(null, 408, 429, 500, 503),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.option(fc.nat(3600)),
        (status, chance, asked) => {
          let tries = 1
          let before = 0
          for (; ; tries++) {
            const after = afterTry({ at, status }, tries, asked, chance)
            if (after.state !== 'waiting') break
            const wait = after.next - at
            expect(wait).toBeGreaterThanOrEqual(Math.max(before, (asked ?? 0) * 1000))
            expect(wait).toBeLessThanOrEqual(8 * 3_600_000)
            before = wait
          }
          expect(afterTry({ at, status }, tries, asked, chance)).toEqual({ state: 'refused' })
          expect(tries).toBeLessThan(20)
        },
      ),
    )
  })
})

describe('a network’s code', () => {
  it('holds what it is filled with and nothing that it could be taken for', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), text => {
        const told: string[] = []
        const code = fillCode("tell('{transaction}', '{value}')", {
          transaction: text,
          value: '1.00',
        })
        expect(code).not.toContain('</')
        new Function('tell', code)((...given: string[]) => told.push(...given))
        expect(told).toEqual([text.toWellFormed(), '1.00'])
      }),
    )
  })
  it('tells a transaction under one ID, wherever it is told from', () => {
    expect(networkEventId('order', 'T1', 'a')).toBe(networkEventId('order', 'T1', 'b'))
    expect(networkEventId('order', 'T1', 'a')).not.toBe(networkEventId('order', 'T2', 'a'))
    expect(networkEventId('lead', null, 'a')).toBe('a')
  })
})
