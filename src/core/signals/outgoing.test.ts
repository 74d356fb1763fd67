import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fillCode } from './codePlaces'
import { networkEventId } from './fillCode'
import { afterTry, fillOutgoing, outgoingPlaces, outgoingSchema } from './outgoing'

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

describe('after a try', () => {
  const at = 1_000_000
  it.each([200, 204])('%i is taken', status => {
    expect(afterTry({ at, status }, 1, null, 0)).toEqual({ state: 'taken' })
  })
  it.each([301, 400, 401, 404, 422])('%i is refused: another try would change nothing', status => {
    expect(afterTry({ at, status }, 1, null, 0)).toEqual({ state: 'refused' })
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
