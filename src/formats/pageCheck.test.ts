import { describe, expect, it } from 'vitest'
import { fillCode } from '@/core/signals/codePlaces'
import {
  checkRecording,
  checkWrittenPage,
  type PageFinding,
  type PageSpec,
  pageSpecSchema,
} from '@/core/signals/pageCheck'
import { readRecording } from './har'
import { readPage } from './html'

const base = `<script async src="https://tags.norrfeed.example/t.js"></script>
<script>window.nf=window.nf||function(){(nf.q=nf.q||[]).push(arguments)};nf('start','{account}')</script>`
const event = `nf('event','{event}',{value:{value},currency:'{currency}',id:'{transaction}'})`
const spec: PageSpec = pageSpecSchema.parse({
  page: 'https://shop.tarnbrook.example/thanks?order=T1',
  tags: [
    {
      network: 'norrfeed',
      account: 'nf-4711',
      code: {
        base,
        event,
        requests: {
          script: 'https://tags.norrfeed.example/t.js',
          hit: 'https://hear.norrfeed.example/h',
          parameters: { account: 'a', event: 'e', value: 'v', currency: 'c', transaction: 't' },
          page_view: 'seen',
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
const installed = fillCode(base, { account: 'nf-4711' })
const purchase = `<script>\n  ${fillCode(event, { event: 'purchase', value: '149.00', currency: 'EUR', transaction: 'T1' })}\n</script>`
const page = (head: string, body: string) =>
  `<!doctype html>\n<html><head>\n<title>Thanks</title>\n${head}\n</head><body>\n${body}\n</body></html>`
const check = (html: string, of: Partial<PageSpec> = {}) =>
  checkWrittenPage({ ...spec, ...of }, readPage(html))
const codes = (findings: PageFinding[]) => findings.map(f => f.code)

describe('a page’s tags', () => {
  it('are well when base and event stand where they should, however they are written', () => {
    expect(check(page(installed, purchase))).toEqual([])
    const elsewhere = `<script>\nvar o = order();\nnf( "event" , "purchase", { value : o.total,\n "currency": 'EUR', id: o.id } );\n</script>`
    expect(check(page(installed.replace(/'/g, '"'), elsewhere))).toEqual([])
    expect(check(page(installed, ''), { page: 'https://shop.tarnbrook.example/kits' })).toEqual([])
  })
  it.each([
    ['base_missing', page('', purchase), null],
    ['base_missing', page(`<!-- ${installed} -->`, purchase), null],
    ['base_twice', page(`${installed}\n${installed}`, purchase), 7],
    ['base_not_in_head', page('', `${installed}\n${purchase}`), 6],
    ['event_before_base', page(purchase, installed), 5],
    ['event_missing', page(installed, ''), null],
    ['event_twice', page(installed, `${purchase}\n${purchase}`), 11],
    ['extra_page_view', page(installed, purchase.replace('nf(', "nf('start','nf-4711');nf(")), 8],
    ['wrong_account', page(fillCode(base, { account: 'nf-9999' }), purchase), 5],
    ['insecure_tag', page(installed.replace('https:', 'http:'), purchase), 4],
    ['script_error', page(installed, purchase.replace(/\)\s*<\/script>$/, '</script>')), 8],
    ['value_missing', page(installed, purchase.replace('value:149.00', "value:''")), 8],
    ['currency_missing', page(installed, purchase.replace(/,currency:'EUR'/, '')), 8],
    ['transaction_missing', page(installed, purchase.replace(/,id:'T1'/, '')), 8],
  ] as const)('%s is found, with its line', (code, html, line) => {
    const found = check(html).filter(f => f.code === code)
    expect(found).toHaveLength(1)
    if (line !== null) expect(found[0]!.at).toEqual({ line })
  })
  it('tell an event on the wrong page, and only that', () => {
    const basket = { page: 'https://shop.tarnbrook.example/basket' }
    expect(check(page(installed, purchase), basket)).toMatchObject([
      { code: 'event_wrong_page', at: { line: 8 } },
    ])
  })
  it('may stand as an image, as for those who run no script', () => {
    const image = `<img src="https://hear.norrfeed.example/h?a=nf-4711&e={event}&v={value}&c={currency}&t={transaction}">`
    const byImage = structuredClone(spec)
    byImage.tags[0]!.code.event = image
    const filled = fillCode(image, { event: 'purchase', value: '149.00', currency: 'EUR', transaction: 'T1' })
    expect(check(page(installed, filled), byImage)).toEqual([])
    expect(codes(check(page(installed, filled.replace('&v=149.00', '&v=')), byImage))).toEqual([
      'value_missing',
    ])
  })
})

const T = Date.parse('2026-11-20T10:00:00Z')
interface Entry {
  after: number
  url: string
  page?: string
  status?: number
  html?: boolean
}
const document = (after: number, path: string, id: string): Entry => ({
  after,
  url: `https://shop.tarnbrook.example${path}`,
  page: id,
  html: true,
})
const script = (after: number, id: string): Entry => ({
  after,
  url: 'https://tags.norrfeed.example/t.js',
  page: id,
})
const hit = (after: number, id: string, query: string): Entry => ({
  after,
  url: `https://hear.norrfeed.example/h?a=nf-4711&${query}`,
  page: id,
})
const record = (entries: Entry[]) => {
  const pages = [...new Set(entries.flatMap(e => e.page ?? []))].map(id => ({
    id,
    title: '',
    startedDateTime: new Date(T + entries.find(e => e.page === id)!.after).toISOString(),
  }))
  const har = {
    log: {
      version: '1.2',
      pages,
      entries: entries.map(e => ({
        pageref: e.page,
        startedDateTime: new Date(T + e.after).toISOString(),
        request: { url: e.url, method: 'GET' },
        response: { status: e.status ?? 200, content: { mimeType: e.html ? 'text/html' : 'text/plain' } },
      })),
    },
  }
  return readRecording(JSON.stringify(har), 'visit.har')
}
const bought = 'e=purchase&v=149.00&c=EUR&t=T1'
const visit = [
  document(0, '/kits', 'p1'),
  script(50, 'p1'),
  hit(90, 'p1', 'e=seen'),
  document(1000, '/thanks?order=T1', 'p2'),
  script(1050, 'p2'),
  hit(1090, 'p2', 'e=seen'),
  hit(1100, 'p2', bought),
]
const without = (...left: number[]) => visit.filter((_, i) => !left.includes(i))

describe('a recorded visit', () => {
  const found = (entries: Entry[]) => checkRecording(spec, record(entries)).map(f => f.code)
  it('is well when each page has its base and the thank-you page its event', () => {
    expect(found(visit)).toEqual([])
  })
  it('is the same when its recorder wrote all pages of the tab as one', () => {
    const asOne = (entries: Entry[]) => entries.map(e => ({ ...e, page: 'p1' }))
    expect(found(asOne(visit))).toEqual([])
    expect(found(asOne(without(6)))).toEqual(['event_missing'])
  })
  it.each([
    [['base_missing'], [...without(4, 5)]],
    [['base_twice'], [...without(6), hit(1095, 'p2', 'e=seen'), visit[6]!]],
    [['extra_page_view'], [...visit, hit(1105, 'p2', 'e=seen')]],
    [['event_missing'], without(6)],
    [['event_before_base'], [...without(6), hit(1010, 'p2', bought)]],
    [['event_wrong_page'], [...visit, hit(95, 'p1', bought)]],
    [['event_twice'], [...visit, hit(1200, 'p2', bought)]],
    [['wrong_account'], [...without(6), { ...visit[6]!, url: visit[6]!.url.replace('4711', '9999') }]],
    [['blocked'], [...without(6), { ...visit[6]!, status: 0 }]],
    [['insecure_tag'], [...without(4), { ...visit[4]!, url: visit[4]!.url.replace('https', 'http') }]],
    [
      ['value_missing', 'currency_missing'],
      [...without(6), hit(1100, 'p2', 'e=purchase&t=T1')],
    ],
    [
      ['late'],
      [
        ...without(6),
        hit(3000, 'p2', bought),
        document(2500, '/kits', 'p3'),
        script(2550, 'p3'),
        hit(2560, 'p3', 'e=seen'),
      ],
    ],
  ] as const)('has %j', (expected, entries) => {
    expect(found([...entries])).toEqual(expected)
  })
})
