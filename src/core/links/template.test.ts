import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyProfile, text } from './anyProfile'
import { neutralTokens, spell } from './profile'
import { encodeLiteral, parseTemplate, writeTemplate } from './template'

const token = fc.constantFrom(...Object.keys(neutralTokens), 'sub.3')

describe('a template', () => {
  it('is the same text again after it was taken apart', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            text,
            token.map(t => `{${t}}`),
          ),
        ),
        parts => {
          const template = parts.join('')
          expect(writeTemplate(parseTemplate(template))).toBe(template)
        },
      ),
    )
  })
  it('has literals that never touch, none of them empty', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            text,
            token.map(t => `{${t}}`),
          ),
        ),
        parts => {
          const segments = parseTemplate(parts.join(''))
          segments.forEach((segment, i) => {
            if (segment.kind !== 'literal') return
            expect(segment.text).not.toBe('')
            expect(segments[i + 1]?.kind).not.toBe('literal')
          })
        },
      ),
    )
  })
  it('reads the network’s own spelling as the token that it is, wherever it stands', () => {
    fc.assert(
      fc.property(anyProfile, ({ dialect }) => {
        for (const [known] of Object.entries(dialect.tokens)) {
          const segments = parseTemplate(`a ${spell(dialect, known)} z`, dialect)
          expect(segments).toEqual([
            { kind: 'literal', text: 'a ' },
            { kind: 'token', token: known, known: true },
            { kind: 'literal', text: ' z' },
          ])
        }
      }),
    )
  })
  it('keeps braces that hold no name as text, and says of an unknown name that it is none', () => {
    for (const plain of ['{}', '{ad name}', '{ad.name', 'ad.name}', '{.ad}'])
      expect(parseTemplate(plain)).toEqual([{ kind: 'literal', text: plain }])
    expect(parseTemplate('{ad.colour}')).toEqual([{ kind: 'token', token: 'ad.colour', known: false }])
  })
})

describe('literal text in an address', () => {
  it('is read back as it was, and can neither end its value nor be taken for a token', () => {
    fc.assert(
      fc.property(text, anyProfile, (literal, { dialect }) => {
        const written = encodeLiteral(literal, dialect)
        expect(decodeURIComponent(written)).toBe(literal)
        expect(written).not.toMatch(/[&?#=\s"'<>]/)
        expect(parseTemplate(written, dialect).every(s => s.kind === 'literal')).toBe(true)
      }),
    )
  })
})
