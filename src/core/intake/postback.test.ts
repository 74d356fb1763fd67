import fc from 'fast-check'
import { expect, it } from 'vitest'
import { partnerSchema, postbackAddress, readPostback } from './postback'

const partner = partnerSchema.parse({
  id: 'corvane',
  name: 'Corvane',
  currency: 'EUR',
  click_parameter: 'p1',
  parameters: { click: 'p1', deal: 'deal', amount: 'amount', currency: 'cur', status: 'state' },
  macros: { click: '#p1#', deal: '#deal#', amount: '#amount#', currency: '#cur#', status: '#state#' },
  sub_ids: { p2: '#p2#' },
  statuses: { approved: ['ok'], reversed: ['void'] },
})
const address = postbackAddress('https://t.example/p/abc', partner, ['key', 'se cret&'])

it('gives an address that, filled in by the partner, is read back as it was meant', () => {
  const text = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 }).filter(s => s.trim() === s)
  fc.assert(
    fc.property(text, text, text, fc.integer({ min: 0, max: 10 ** 9 }), (click, deal, sub, cents) => {
      const values = {
        '#p1#': click,
        '#deal#': deal,
        '#amount#': (cents / 100).toFixed(2),
        '#cur#': 'EUR',
        '#state#': 'ok',
        '#p2#': sub,
      }
      const filled = address.replace(/#\w+#/g, macro =>
        encodeURIComponent(values[macro as keyof typeof values]),
      )
      const query = new URL(filled).search.slice(1)
      expect(new URLSearchParams(query).get('key')).toBe('se cret&')
      expect(readPostback(query, partner)).toEqual({
        sale: {
          deal,
          click,
          amount: cents,
          currency: 'EUR',
          status: 'approved',
          subIds: { p2: sub },
          others: { key: 'se cret&' },
        },
      })
    }),
  )
})

it('reads a decimal comma, takes a sale without status as approved, and refuses to guess', () => {
  expect(readPostback('deal=1&amount=49,90', partner)).toMatchObject({
    sale: { amount: 4990, status: 'approved', currency: 'EUR', click: null },
  })
  expect(readPostback('deal=1&state=VOID', partner)).toMatchObject({ sale: { status: 'reversed' } })
  expect(readPostback('deal=1&amount=-5', partner)).toMatchObject({ problem: 'not_an_amount' })
  expect(readPostback('deal=1&amount=5&cur=DOLLARS', partner)).toMatchObject({ problem: 'not_a_currency' })
  expect(readPostback('deal=%20', partner)).toMatchObject({ problem: 'no_deal' })
})
