import fc from 'fast-check'
import { expect, it } from 'vitest'
import { readTypedDay } from './typedDay'

it.each([
  ['2026-11-15', 'en-US', '2026-11-15'],
  ['2026/11/5', 'de-DE', '2026-11-05'],
  ['29.11.2026', 'en-US', '2026-11-29'],
  ['5.3.26', 'en-GB', '2026-03-05'],
  ['11/02/2026', 'en-GB', '2026-02-11'],
  ['11/02/2026', 'en-US', '2026-11-02'],
  ['11/29/2026', 'en-GB', '2026-11-29'],
  ['29/11/2026', 'en-US', '2026-11-29'],
  ['Nov 15, 2026', 'pt-PT', '2026-11-15'],
  ['15 Nov 2026', 'de-DE', '2026-11-15'],
  ['5. März 2026', 'de-DE', '2026-03-05'],
  ['24 nov. 2026', 'fr-FR', '2026-11-24'],
  ['3 de fevereiro de 2026', 'pt-PT', '2026-02-03'],
  ['31/02/2026', 'en-GB', null],
  ['29.2.2027', 'de-DE', null],
  ['15 Nov', 'en-GB', null],
  ['tomorrow', 'en-GB', null],
  ['', 'en-GB', null],
])('%j is read in %s as %s', (text, locale, day) => {
  expect(readTypedDay(text, locale)).toBe(day)
})

it('reads back what any of these languages write', () => {
  const locale = fc.constantFrom(
    'en-GB',
    'en-US',
    'de-DE',
    'fr-FR',
    'pt-PT',
    'es-ES',
    'it-IT',
    'pl-PL',
    'sv-SE',
    'nl-NL',
  )
  const style = fc.constantFrom<'medium' | 'long'>('medium', 'long')
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 36_000 }), locale, style, (days, language, dateStyle) => {
      const at = Date.UTC(2000, 0, 1) + days * 86_400_000
      const text = new Intl.DateTimeFormat(language, { dateStyle, timeZone: 'UTC' }).format(at)
      expect(readTypedDay(text, language)).toBe(new Date(at).toISOString().slice(0, 10))
    }),
  )
})
