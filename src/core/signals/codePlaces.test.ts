import fc from 'fast-check'
import { parseFragment } from 'parse5'
import { describe, expect, it } from 'vitest'
import { fillCode, fillKnown, partCode, unsafePlaces } from './codePlaces'
import { templateProblems } from './templateProblems'

/** What a stranger might write into the address of a thank-you page. */
const hostile = fc.oneof(
  fc.string({ unit: 'binary', maxLength: 40 }),
  fc
    .array(
      fc.constantFrom(
        "'",
        '"',
        '`',
        '\\',
        '\n',
        '\u2028',
        '</script>',
        '<!--',
        '${',
        '}',
        ')',
        ';',
        'alert(1)',
        '//',
        '*/',
        '&quot;',
        ' onerror=x ',
        'javascript:',
        '>',
      ),
      { maxLength: 6 },
    )
    .map(parts => parts.join('')),
)
const run = (code: string): unknown[] => {
  const told: unknown[] = []
  new Function('tell', code)((...given: unknown[]) => told.push(...given))
  return told
}

describe('a value in a network’s code', () => {
  it.each([
    ["tell('{transaction}')", 'single marks'],
    ['tell("{transaction}")', 'double marks'],
    ['tell(`{transaction}`)', 'a template text'],
    ['tell({transaction})', 'bare'],
    ["tell(1 / 2 === 0.5 && /['\"]/.test('\"') ? '{transaction}' : 0)", 'behind a division and a pattern'],
  ])('is what it was and runs nothing, whoever wrote it: %s', template => {
    fc.assert(
      fc.property(hostile, value => {
        const code = fillCode(template, { transaction: value })
        expect(code).not.toContain('</')
        const [said] = run(code)
        const number = /^-?\d+(\.\d+)?$/.test(value)
        expect(String(said)).toBe(
          number && template.includes('({') ? String(Number(value)) : value.toWellFormed(),
        )
      }),
    )
  })
  it('stays inside its tag, in an address as in another attribute, quoted or not', () => {
    const template =
      '<img src="https://n.example/p?o={transaction}" alt={transaction}><b title=\'{transaction}\'>{transaction}</b>'
    fc.assert(
      fc.property(
        hostile.map(t =>
          t.replace(/[\0-\x1f\x7f-\x9f\ufdd0-\ufdef\ufffe\uffff]|[\ud83f\udbff]\udffe?/g, '').toWellFormed(),
        ),
        value => {
          const { childNodes } = parseFragment(fillCode(template, { transaction: value }))
          expect(childNodes.map(n => n.nodeName)).toEqual(['img', 'b'])
          const [img, b] = childNodes as unknown as { attrs: { name: string; value: string }[] }[]
          expect(img!.attrs.map(a => a.name)).toEqual(value === '' ? ['src', 'alt'] : ['src', 'alt'])
          expect(new URL(img!.attrs[0]!.value).searchParams.get('o')).toBe(value)
          expect(b!.attrs).toMatchObject([{ name: 'title', value }])
        },
      ),
    )
  })
  it('is a decimal where it is what something is worth, and three letters where it is a currency', () => {
    const template = "tell({value}, '{value}', '{currency}')"
    expect(run(fillCode(template, { value: '149.00', currency: 'EUR' }))).toEqual([149, '149.00', 'EUR'])
    expect(run(fillCode(template, { value: 'alert(1)', currency: 'EUR;x' }))).toEqual([null, '', ''])
    expect(fillCode('count.{event}()', { event: 'bought' })).toBe('count.bought()')
    expect(fillCode('count.{transaction}()', { transaction: 'cookie' })).toBe('count."cookie"()')
  })
  it.each([
    ['// order {transaction}\ntell()', 'transaction'],
    ['/* {value} */ tell()', 'value'],
    ['tell(/{transaction}/)', 'transaction'],
    ['tell(`\x24{ {transaction} }`)', 'transaction'],
    ['<img src="x" onload="tell(\'{transaction}\')">', 'transaction'],
    ['<b style="width:{value}px">', 'value'],
    ['<{transaction}>', undefined],
    ['<img {transaction}=1>', 'transaction'],
    ['<!-- {transaction} -->', 'transaction'],
    ['<style>b::after { content: "{transaction}" }</style>', 'transaction'],
    ['<script>// {event_id}\n</script>', 'event_id'],
  ])('is refused where nothing is safe: %s', (event, place) => {
    expect(unsafePlaces(event)).toEqual(place ? [place] : [])
    expect(templateProblems({ tag: { base: '', event } }).map(p => p.path)).toEqual(
      place ? ['tag.event'] : [],
    )
    if (place) expect(fillCode(event, { [place]: 'tell()' })).not.toContain('tell()tell()')
  })
  it('is left for later where it is not known yet, and code comes out as it went in', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), text => {
        const code = `${text}'{event}' {value}`
        expect(
          partCode(code)
            .map(p => (typeof p === 'string' ? p : `{${p.place}}`))
            .join(''),
        ).toBe(code)
        expect(fillKnown(code, {})).toBe(code)
      }),
    )
    expect(fillKnown("tell('{event}', '{transaction}')", { event: 'it’s' })).toBe(
      "tell('it\\u2019s', '{transaction}')",
    )
  })
  it('never breaks a header in two', () => {
    const outgoing = {
      method: 'GET' as const,
      address: 'https://n.example',
      body: '',
      headers: [{ name: 'x-a', value: 'a\r\nx-b: c' }],
    }
    expect(templateProblems({ outgoing })).toMatchObject([{ path: 'outgoing.headers.0.value' }])
  })
})
