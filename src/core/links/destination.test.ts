import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseDestination } from './destination'
import { spell } from './profile'
import { shippedProfiles } from './profiles'

const dialectOf = (id: string) => shippedProfiles.find(p => p.id === id)!.dialect
const plain = dialectOf('guildpost')
/** The address put together again, its tokens as the network spells them. */
function again(text: string, dialect = plain): string | null {
  const parsed = parseDestination(text, dialect)
  if (!parsed) return null
  const { base, query, fragment } = parsed.destination
  const whole = base + (query.length > 0 ? `?${query.map(q => q.raw).join('&')}` : '') + fragment
  return parsed.restore(whole, token => spell(dialect, token) ?? '')
}
const repairs = (text: string) => parseDestination(text, plain)?.destination.repairs

describe('a destination', () => {
  it('is what the URL standard makes of it, whatever web address it is', () => {
    fc.assert(
      fc.property(fc.webUrl({ withQueryParameters: true, withFragments: true }), text => {
        if (repairs(text)?.length) return
        const [meant, got] = [new URL(text), new URL(again(text)!)]
        expect(got.origin + got.pathname + got.hash).toBe(meant.origin + meant.pathname + meant.hash)
        expect([...got.searchParams].filter(([key]) => key)).toEqual(
          [...meant.searchParams].filter(([key]) => key),
        )
      }),
    )
  })
  it('keeps port, user, letters of any script and an address by number', () => {
    for (const [text, meant] of [
      ['HTTPS://Tarnbrook.example:443/Kits', 'https://tarnbrook.example/Kits'],
      ['https://tarnbrook.example:8443/kits', 'https://tarnbrook.example:8443/kits'],
      ['https://ines@tarnbrook.example/', 'https://ines@tarnbrook.example/'],
      [
        'https://tarnbrook.example/tecelões?nó=1#pé',
        'https://tarnbrook.example/tecel%C3%B5es?n%C3%B3=1#p%C3%A9',
      ],
      ['http://[::1]:4600/kits', 'http://[::1]:4600/kits'],
      ['https://tarnbrook.example', 'https://tarnbrook.example/'],
      [' https://tarnbrook.example/a b ', 'https://tarnbrook.example/a%20b'],
    ])
      expect(again(text!)).toBe(meant)
  })
  it('is none where it is no address of the web', () => {
    for (const text of [
      '',
      'tarnbrook.example/kits',
      '//tarnbrook.example',
      'javascript:alert(1)',
      'https://',
      'data:,x',
    ])
      expect(parseDestination(text, plain)).toBeNull()
  })
  it('keeps a token wherever it stands, also where the URL standard would encode it', () => {
    for (const { id, dialect } of shippedProfiles) {
      const [token] = Object.keys(dialect.tokens)
      if (!token) continue
      const written = spell(dialect, token)!
      for (const text of [
        `https://tarnbrook.example/${written}/kits`,
        `https://tarnbrook.example/?a=${written}&b=2`,
        `https://tarnbrook.example/?${written}=1`,
      ])
        expect([id, again(text, dialect)]).toEqual([id, text])
    }
  })
  it('has its slips mended and named, and nothing else', () => {
    const cases: [text: string, mended: string, repaired: string[]][] = [
      ['https://a.example/?x=1?y=2', 'https://a.example/?x=1&y=2', ['second_question_mark']],
      ['https://a.example/??x=1', 'https://a.example/?x=1', ['second_question_mark']],
      ['https://a.example/#top?x=1', 'https://a.example/?x=1#top', ['parameters_after_fragment']],
      ['https://a.example/#utm_source=x', 'https://a.example/?utm_source=x', ['parameters_after_fragment']],
      [
        'https://a.example/?x=1#top?y=2?z=3',
        'https://a.example/?x=1&y=2&z=3#top',
        ['parameters_after_fragment', 'second_question_mark'],
      ],
      ['https://a.example/#?x=1#top', 'https://a.example/?x=1#top', ['parameters_after_fragment']],
      ['https://a.example/#top?x=1#more', 'https://a.example/?x=1#top#more', ['parameters_after_fragment']],
      ['https://a.example/?q=what?', 'https://a.example/?q=what?', []],
      ['https://a.example/?q=a%3Fb=1', 'https://a.example/?q=a%3Fb=1', []],
      ['https://a.example/?to=https://b.example/?x=1', 'https://a.example/?to=https://b.example/?x=1', []],
      ['https://a.example/#/route?x=1', 'https://a.example/#/route?x=1', []],
      ['https://a.example/#top', 'https://a.example/#top', []],
      ['https://a.example/#x=1', 'https://a.example/#x=1', []],
    ]
    for (const [text, mended, repaired] of cases)
      expect([again(text), repairs(text)]).toEqual([mended, repaired])
  })
  it('needs no second mending', () => {
    const part = fc.stringMatching(/^[a-z?#&=/.]{0,12}$/)
    fc.assert(
      fc.property(part, part, part, (a, b, c) => {
        const once = again(`https://a.example/${a}?${b}#${c}`)
        if (once !== null) expect([again(once), repairs(once)]).toEqual([once, []])
      }),
    )
  })
})
