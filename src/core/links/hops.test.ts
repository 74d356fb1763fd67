import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { text } from './anyProfile'
import { compareHops } from './hops'

const page = 'https://tarnbrook.example/kits'
const query = fc.dictionary(fc.stringMatching(/^[a-z]{1,6}$/), text, { minKeys: 1, maxKeys: 5 })
const at = (parameters: Record<string, string>, encode: (text: string) => string = encodeURIComponent) =>
  `${page}?${Object.entries(parameters)
    .map(([key, value]) => `${key}=${encode(value)}`)
    .join('&')}`
const fates = (from: string, to: string) =>
  Object.fromEntries(compareHops(from, to).map(p => [p.key, p.fate]))

describe('what becomes of parameters from hop to hop', () => {
  it('is nothing when the address stays, however it is written', () => {
    fc.assert(
      fc.property(query, parameters => {
        const encoded = (text: string) =>
          [...new TextEncoder().encode(text)].map(byte => `%${byte.toString(16).padStart(2, '0')}`).join('')
        for (const [from, to] of [
          [at(parameters), at(parameters)],
          [at(parameters), at(parameters, encoded)],
        ] as const)
          expect(new Set(Object.values(fates(from, to)))).toEqual(new Set(['kept']))
      }),
    )
  })
  it('tells a second encoding, and its opposite, of every value that encoding changes', () => {
    fc.assert(
      fc.property(query, parameters => {
        const twice = at(parameters, value => encodeURIComponent(encodeURIComponent(value)))
        const again = fates(at(parameters), twice)
        const back = fates(twice, at(parameters))
        for (const [key, value] of Object.entries(parameters)) {
          const changes = encodeURIComponent(value) !== value
          // Of a value that reads as encoded itself nobody can tell which of both was meant.
          if (value.includes('%')) continue
          expect([key, again[key], back[key]]).toEqual(
            changes ? [key, 'encoded_again', 'decoded'] : [key, 'kept', 'kept'],
          )
        }
      }),
    )
  })
  it('tells exactly what was lost and what was added, in order', () => {
    fc.assert(
      fc.property(query, fc.nat(), (parameters, pick) => {
        const keys = Object.keys(parameters)
        const gone = keys[pick % keys.length]!
        const { [gone]: _, ...rest } = parameters
        expect(fates(at(parameters), at({ ...rest, new_one: '1' }))).toEqual({
          ...Object.fromEntries(keys.map(key => [key, key === gone ? 'lost' : 'kept'])),
          new_one: 'added',
        })
      }),
    )
  })
  it('tells a parameter that stands twice, and one with another value', () => {
    expect(fates(`${page}?a=1&b=2`, `${page}?a=1&a=9&b=3`)).toEqual({ a: 'doubled', b: 'changed' })
    expect(fates(`${page}?a=1&a=2`, `${page}?a=1&a=2`)).toEqual({ a: 'kept' })
  })
  it('is said with the values before and after, as they are meant', () => {
    expect(compareHops(`${page}?a=%C3%A9&b=2&b=3`, `${page}?b=4&c=5+6`)).toEqual([
      { key: 'a', fate: 'lost', before: 'é', after: null },
      { key: 'b', fate: 'changed', before: '2', after: '4' },
      { key: 'c', fate: 'added', before: null, after: '5 6' },
    ])
  })
})
