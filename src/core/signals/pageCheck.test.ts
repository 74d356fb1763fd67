import { describe, expect, it } from 'vitest'
import type { PageCode, RecordedRequest, Recording } from './page'
import { checkRecording, checkWrittenPage, type PageSpec, pageSpecSchema } from './pageCheck'
import { findCalls, needsOf, saysPlace, scriptsOf, slipIn } from './tagCode'

const base = `<script src="https://tags.norrfeed.example/t.js"></script>
<script>nf('start','{account}')</script>`
const event = `nf('event','{event}',{value:{value},currency:'{currency}',id:'{transaction}'})`
const spec: PageSpec = pageSpecSchema.parse({
  page: 'https://tarnbrook.example/thanks?order=T1',
  tags: [
    {
      network: 'norrfeed',
      account: 'nf-1',
      code: {
        base,
        event,
        requests: {
          script: 'https://tags.norrfeed.example/t.js',
          hit: 'https://hear.norrfeed.example/h',
          parameters: { account: 'a', event: 'e', value: 'v', currency: 'c', transaction: 't' },
        },
      },
      events: [
        {
          name: 'purchase',
          on: { any: [{ by: 'equals', text: '/thanks' }] },
          needs: ['value', 'currency', 'transaction'],
        },
      ],
    },
  ],
})

/** Code of a page, one part a line from line 10 on, each by a letter. */
const parts: Record<string, Partial<PageCode>> = {
  S: { src: 'https://tags.norrfeed.example/t.js?v=2#x' },
  H: { src: 'http://tags.norrfeed.example/t.js' },
  L: { src: 'http://tags.localhost:4620/t.js' },
  B: { text: "nf('start','nf-1')" },
  W: { text: 'nf( \'start\' , "nf-2" )' },
  E: { text: "nf('event','purchase',{value:149.00,currency:'EUR',id:'T1'})" },
  V: { text: "nf('event','purchase',{value:null,currency:'EUR',id:'T1'})" },
  C: { text: "nf('event','purchase',{value:1,id:'T1'})" },
  T: { text: "nf('event','purchase',{value:1,currency:'EUR',id:''})" },
  O: { text: "nf('event','basket',{value:1})" },
  D: { text: "nf('start','nf-1');nf('event','purchase',{value:1,currency:'EUR',id:'T1'})" },
  X: { text: "nf('event','purchase',{value:1,currency:'EUR',id:'T1'}" },
  A: { src: 'https://other.example/t.js', text: '' },
}
/** `SB|E`: what stands in the head, and in the body. */
function pageOf(drawn: string): PageCode[] {
  const [head = '', body = ''] = drawn.split('|')
  return [...head, ...body].map((letter, i) => ({
    line: 10 + i,
    offset: 1000 * (i + 1),
    in: i < head.length ? 'head' : 'body',
    src: null,
    text: '',
    deferred: false,
    ...parts[letter],
  }))
}
const saidOf = (code: PageCode[], page = spec.page) =>
  checkWrittenPage({ ...spec, page }, { code }).map(({ code: what, at }) =>
    'line' in at ? `${what} ${at.line}` : what,
  )

describe('a page as it is written', () => {
  it.each([
    // drawn, what is said, with its line
    ['SB|E', []],
    ['SBE|', []],
    ['ASB|E', []],
    ['SB|EO', []],
    ['|', ['base_missing', 'event_missing']],
    ['A|', ['base_missing', 'event_missing']],
    ['S|E', []],
    ['B|E', []],
    ['SB|', ['event_missing']],
    ['SB|O', ['event_missing']],
    ['SBB|E', ['base_twice 12']],
    ['SSB|E', ['base_twice 11']],
    ['SS|E', ['base_twice 11']],
    ['SBSB|E', ['base_twice 13']],
    ['|SBE', ['base_not_in_head 10']],
    ['S|BE', []],
    ['E|SB', ['base_not_in_head 11', 'event_before_base 10']],
    ['ESB|', ['event_before_base 10']],
    ['SW|E', ['wrong_account 11']],
    ['HB|E', ['insecure_tag 10']],
    ['SB|EE', ['event_twice 13']],
    ['SB|D', ['extra_page_view 12']],
    ['SD|', []],
    ['SB|V', ['value_missing 12']],
    ['SB|C', ['currency_missing 12']],
    ['SB|T', ['transaction_missing 12']],
    ['SB|X', ['script_error 12']],
  ])('%s', (drawn, said) => {
    expect(saidOf(pageOf(drawn))).toEqual(said)
  })
  it.each([
    ['SB|', []],
    ['SB|E', ['event_wrong_page 12']],
    ['SB|EE', ['event_wrong_page 12', 'event_wrong_page 13']],
    ['SB|V', ['event_wrong_page 12']],
    ['|', ['base_missing']],
  ])('%s, where no event belongs', (drawn, said) => {
    expect(saidOf(pageOf(drawn), 'https://tarnbrook.example/basket')).toEqual(said)
  })
  it('runs what is deferred after all else', () => {
    const code = pageOf('B|E')
    expect(saidOf([{ ...code[0]!, deferred: true }, code[1]!])).toEqual(['event_before_base 11'])
  })
  it('names the line within a long script, what was seen, and how bad it is', () => {
    const code = pageOf('SB|E')
    code[1]!.text = "// begin\n\nnf('start','nf-9')"
    code[2]!.text = `\n${code[2]!.text.replace('149.00', 'undefined')}`
    expect(checkWrittenPage(spec, { code })).toEqual([
      { code: 'wrong_account', severity: 'error', at: { line: 13 }, network: 'norrfeed', seen: 'nf-9' },
      {
        code: 'value_missing',
        severity: 'warning',
        at: { line: 13 },
        network: 'norrfeed',
        event: 'purchase',
      },
    ])
    const [insecure] = checkWrittenPage(spec, { code: pageOf('HB|E') })
    expect(insecure!.seen).toBe('http://tags.norrfeed.example/t.js')
  })
  it('lets a script of our own machine be fetched without encryption', () => {
    const local = structuredClone(spec)
    local.tags[0]!.code.base = base.replace('https://tags.norrfeed.example', 'http://tags.localhost:4620')
    const said = checkWrittenPage(local, { code: pageOf('LB|E') })
    expect(said).toEqual([])
  })
})

const T = 1_000_000
/** `S1 P1 E2`: requests a tenth of a second apart; script, page view or event on a page of the visit. */
function visit(pages: string[], drawn: string, more: Partial<RecordedRequest> = {}): Recording {
  const hit = (query: string) => `https://hear.norrfeed.example/h?${query}`
  const addresses: Record<string, string> = {
    S: 'https://tags.norrfeed.example/t.js',
    P: hit('a=nf-1&e=page_view'),
    E: hit('a=nf-1&e=purchase&v=149.00&c=EUR&t=T1'),
    F: hit('a=nf-1&e=purchase&v=149.00&c=EUR&t=T2'),
    N: hit('a=nf-1&e=purchase&v=&c=EUR&t=T1'),
    M: hit('a=nf-1&e=purchase&v=1&t=T1'),
    K: hit('a=nf-1&e=purchase&v=1&c=EUR'),
    W: hit('a=nf-9&e=page_view'),
    H: 'http://tags.norrfeed.example/t.js',
    O: 'https://other.example/h?e=purchase',
  }
  return {
    pages: pages.map((path, i) => ({
      id: String(i + 1),
      address: `https://tarnbrook.example${path}`,
      at: T + i * 1000,
    })),
    requests: drawn
      .split(' ')
      .filter(Boolean)
      .map((sign, index) => {
        const [letter = '', page = '', late] = sign
        const address = addresses[letter]!
        return {
          index,
          page,
          address,
          at: T + (Number(page) - 1) * 1000 + index * 10 + (late ? 5000 : 0),
          parameters: new Map(new URL(address).searchParams),
          failed: false,
          document: false,
          ...more,
        }
      }),
  }
}
const heardOf = (recording: Recording) =>
  checkRecording(spec, recording).map(({ code, at }) =>
    'request' in at ? `${code} ${at.request}` : 'page' in at ? `${code} ${new URL(at.page).pathname}` : code,
  )

describe('a visit as it was recorded', () => {
  it.each([
    [['/thanks'], 'S1 P1 E1', []],
    [['/thanks'], 'O1 S1 P1 E1', []],
    [['/thanks'], 'P1 E1', []],
    [['/thanks'], 'S1 E1', []],
    [['/thanks'], '', ['base_missing /thanks', 'event_missing /thanks']],
    [['/thanks'], 'O1', ['base_missing /thanks', 'event_missing /thanks']],
    [['/thanks'], 'S1 P1', ['event_missing /thanks']],
    [['/thanks'], 'E1 S1 P1', ['event_before_base 0']],
    [['/thanks'], 'S1 P1 P1 E1', ['base_twice 2']],
    [['/thanks'], 'S1 P1 E1 P1', ['extra_page_view 3']],
    [['/thanks'], 'S1 S1 P1 E1', ['base_twice 1']],
    [['/thanks'], 'S1 S1 P1 P1 E1', ['base_twice 3']],
    [['/thanks'], 'S1 P1 E1 E1', ['event_twice 3']],
    [['/thanks'], 'S1 P1 E1 F1', []],
    [['/thanks'], 'S1 P1 N1', ['value_missing 2']],
    [['/thanks'], 'S1 P1 M1', ['currency_missing 2']],
    [['/thanks'], 'S1 P1 K1', ['transaction_missing 2']],
    [['/thanks'], 'S1 W1 E1', ['wrong_account 1']],
    [['/thanks'], 'H1 P1 E1', ['insecure_tag 0']],
    [['/kits', '/thanks'], 'S1 P1 S2 P2 E2', []],
    [['/kits', '/thanks'], 'S1 P1 E1 S2 P2', ['event_wrong_page 2', 'event_missing /thanks']],
    [['/kits', '/thanks'], 'S1 P1', ['base_missing /thanks', 'event_missing /thanks']],
    // A page that nobody asked about need not carry the code.
    [['/kits', '/thanks'], 'S2 P2 E2', []],
    [['/thanks', '/kits'], 'S1 P1 E1+', ['late 2']],
  ])('%j: %s', (pages, drawn, said) => {
    expect(heardOf(visit(pages, drawn))).toEqual(said)
  })
  it('says which requests never came through', () => {
    expect(heardOf(visit(['/thanks'], 'S1 P1 E1', { failed: true }))).toEqual([
      'blocked 0',
      'blocked 1',
      'blocked 2',
    ])
  })
  it('takes a recording without pages for one visit of the page that was asked about', () => {
    const { requests } = visit(['/thanks'], 'S1 P1 E1')
    expect(heardOf({ pages: [], requests })).toEqual([])
    expect(heardOf({ pages: [], requests: requests.map(r => ({ ...r, page: null })) })).toEqual([])
    expect(heardOf({ pages: [], requests: [] })).toEqual(['base_missing /thanks', 'event_missing /thanks'])
  })
  it('says nothing of a network whose requests nobody described', () => {
    const unknown = structuredClone(spec)
    unknown.tags[0]!.code.requests = undefined
    expect(checkRecording(unknown, visit(['/thanks'], ''))).toEqual([])
  })
  it('says what was seen, and where', () => {
    const [wrong] = checkRecording(spec, visit(['/thanks'], 'S1 W1 E1'))
    expect(wrong).toMatchObject({ severity: 'error', seen: 'nf-9', network: 'norrfeed' })
    const [twice] = checkRecording(spec, visit(['/thanks'], 'S1 P1 E1 E1'))
    expect(twice).toMatchObject({ event: 'purchase', seen: 'T1', at: { request: 3 } })
    const [stray] = checkRecording(spec, visit(['/kits'], 'S1 P1 E1'))
    expect(stray).toMatchObject({ event: 'purchase', seen: 'https://tarnbrook.example/kits' })
    const [insecure] = checkRecording(spec, visit(['/thanks'], 'H1 P1 E1'))
    expect(insecure!.seen).toBe('http://tags.norrfeed.example/t.js')
  })
})

describe('a call of a network', () => {
  it.each([
    ["nf('start','nf-1')", "nf('start','{account}')", ['nf-1']],
    ['nf ( "start" , "nf-1" )', "nf('start','{account}')", ['nf-1']],
    ['nf(`start`,`nf-1`);\nnf("start","nf-2")', "nf('start','{account}')", ['nf-1', 'nf-2']],
    ["nf('begin','nf-1')", "nf('start','{account}')", []],
    ["q.push({account:'nf-1'})", "<script>q.push({account:'{account}'})</script>", ['nf-1']],
    ["nf('start','7','nf-1')", "nf('start','{value}','{account}')", ['nf-1']],
    [
      '<img src="https://n.example/i?a=nf-1&amp;e=x">',
      '<img src="https://n.example/i?a={account}&e=x">',
      ['nf-1'],
    ],
    ["nf('start')", "nf('start')", []],
    ['nf-1', '{account}', []],
  ])('in %s by %s', (code, template, named) => {
    expect(findCalls(code, template, 'account').map(call => call.named)).toEqual(named)
  })
  it('begins where it stands, and ends with its bracket, its statement or its tag', () => {
    const rest = (code: string, template: string) => findCalls(code, template, 'event')[0]?.rest
    expect(findCalls("let a; nf('event','x')", "nf('event','{event}')", 'event')[0]!.at).toBe(7)
    expect(rest("nf('event','x',{a:f(1)}) && more", "nf('event','{event}')")).toBe("',{a:f(1)}")
    expect(rest("tell = 'x'; other = 1", "tell = '{event}'")).toBe("'")
    expect(rest("nf('event','x',()=>{a;b}) c", "nf('event','{event}')")).toBe("',()=>{a;b}")
    expect(rest('<img src="/i?e=x&v=1"> more', '<img src="/i?e={event}">')).toBe('&v=1"')
  })
  it.each([
    ["value:149.00,currency:'EUR'", 'value', true],
    ["'value' : 149", 'value', true],
    ['value=149', 'value', true],
    ['value:0', 'value', false],
    ["value:''", 'value', false],
    ['value:undefined', 'value', false],
    ['value:null', 'value', false],
    ['value:NaN', 'value', false],
    ['value: order.total', 'value', true],
    ["currency:'EUR'", 'value', false],
    ['other_value:1', 'value', false],
    ['value:1', 'test', null],
  ] as const)('%s says %s: %s', (rest, place, said) => {
    expect(saysPlace(rest, event, place)).toBe(said)
  })
  it('has no name for a place that stands bare', () => {
    expect(saysPlace('149', 'nf({value})', 'value')).toBeNull()
  })
  it('fetches the scripts of its base code', () => {
    const code = {
      base: `<script async src='a.js'></script><script src=b.js></script><script>x</script>`,
      event,
    }
    expect(scriptsOf(code)).toEqual(['a.js', 'b.js'])
    expect(needsOf({ base, event })).toEqual(['value', 'currency', 'transaction'])
    expect(needsOf({ base, event: "nf('{event}','{transaction}')" })).toEqual(['transaction'])
  })
  it('is read by the language, as a script or as a module', () => {
    expect(slipIn('a(1)')).toBeNull()
    expect(slipIn('import a from "a"; await a()')).toBeNull()
    expect(slipIn('a(1')).toEqual({ at: 3, said: 'Unexpected token' })
    expect(slipIn('let a = 1; a(1))')).toEqual({ at: 15, said: 'Unexpected token' })
  })
})
