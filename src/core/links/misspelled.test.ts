import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyProfile } from './anyProfile'
import { misspelledToken, standIn } from './misspelled'
import { shippedProfiles } from './profiles'
import { parseTemplate } from './template'

const profile = (id: string) => shippedProfiles.find(p => p.id === id)!

describe('a misspelled token', () => {
  it.each([
    ['norrfeed', 'x-[[ad_titel]]', '[[ad_titel]]', 'ad.name'],
    ['norrfeed', '[[AD_TITLE]]', '[[AD_TITLE]]', 'ad.name'],
    ['norrfeed', '[[nobody_knows]]', '[[nobody_knows]]', null],
    ['kelpie', '%kwd%_x', '%kwd%', 'keyword'],
    ['whyfold', '~topik~', '~topik~', 'topic'],
    ['norrfeed', `{${standIn('ad.name')}}`, '{{ad.name}}', 'ad.name'],
    ['norrfeed', '{ad.name:3}', '{ad.name:3}', 'ad.name'],
    ['guildpost', '{+ad.name}', '{+ad.name}', null],
  ])('at %s in “%s” is %s, meant as %s', (network, text, found, token) => {
    expect(misspelledToken(text, profile(network))).toEqual({ text: found, token })
  })
  it.each([
    ['kelpie', '100% wool and 50% off'],
    ['kelpie', '100%wool%linen'],
    ['whyfold', 'about ~twenty~ looms'],
    ['corvane', '#1 of #2 looms'],
    ['norrfeed', '[[]] and {} and { } and {"a":1}'],
    ['guildpost', 'plain'],
  ])('at %s is not seen in “%s”', (network, text) => {
    expect(misspelledToken(text, profile(network))).toBeNull()
  })
  it('is never seen in what a template already reads as tokens', () => {
    fc.assert(
      fc.property(anyProfile, ({ dialect, ...rest }) => {
        const written = Object.values(dialect.tokens).map(t => dialect.open + t + dialect.close)
        const text = parseTemplate(written.join(' '), dialect)
          .map(s => (s.kind === 'literal' ? s.text : standIn(s.token)))
          .join('')
        expect(misspelledToken(text, { ...rest, dialect })).toBeNull()
      }),
    )
  })
})
