import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { cleanRecord, cleanText, isCleanText, readParameters } from './text'

const anyText = fc.string({ unit: 'binary' })
/** Halves of surrogate pairs and NULs among other things. */
const rough = fc
  .array(fc.oneof(anyText, fc.constantFrom('\0', '\ud800', '\udc00', '\ud83e\uddf6')))
  .map(parts => parts.join(''))

describe('text from outside', () => {
  it('is such that a database takes it, and clean text is left as it is', () => {
    fc.assert(
      fc.property(rough, fc.nat(40), (text, most) => {
        const clean = cleanText(text, most)
        expect(isCleanText(clean)).toBe(true)
        expect(clean.length).toBeLessThanOrEqual(most)
        expect(cleanText(clean, most)).toBe(clean)
        if (isCleanText(text) && text.length <= most) expect(clean).toBe(text)
      }),
    )
  })
  it('never loses what was said before and behind a character that cannot be kept', () => {
    expect(cleanText('a\0b\ud800c')).toBe('a\ufffdb\ufffdc')
    expect(cleanText('ab\ud83e\uddf6', 3)).toBe('ab')
  })
  it('says which fields of a record were changed, and changes nothing that it was given', () => {
    const given = { page: 'x\0', seen: { code: [{ html: 'ok' }, { html: '\udc00' }] }, at: 5 }
    const kept = structuredClone(given)
    const { record, changed } = cleanRecord(given, 100)
    expect(changed).toEqual(['page', 'seen.code[1].html'])
    expect(record).toEqual({
      page: 'x\ufffd',
      seen: { code: [{ html: 'ok' }, { html: '\ufffd' }] },
      at: 5,
    })
    expect(given).toEqual(kept)
    const clean = { a: ['b'] }
    expect(cleanRecord(clean, 100).record).toBe(clean)
  })
  it('is clean when it was decoded from a query', () => {
    expect(readParameters('a=%00&b=x%FFy&c=1').get('a')).toBe('\ufffd')
    fc.assert(
      fc.property(
        fc.oneof(
          rough.map(t => `a=${t}`),
          fc.webQueryParameters(),
        ),
        query => {
          for (const [key, value] of readParameters(query))
            expect([isCleanText(key), isCleanText(value)]).toEqual([true, true])
        },
      ),
    )
  })
})
