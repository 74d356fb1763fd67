import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DAY_MS, HOUR_MS } from '../shared/days'
import { minor } from '../shared/money'
import { newId } from '../shared/newId'
import type { AddressCondition } from './addressMatcher'
import { matchesAddress } from './matchAddress'
import { countAtLeast, poissonAtLeast, pulseOf } from './pulse'
import { countResults, type Occurrence, resultSchema, worthOf } from './result'
import { checkRule, ruleSchema } from './rule'

const any = (...conditions: [AddressCondition['by'], string][]) => ({
  any: conditions.map(([by, text]) => ({ by, text })),
  none: [],
})

describe('an address rule', () => {
  const thanks = 'https://Tarnbrook.example/Thanks/?order=T1&lang=pt#top'
  it.each([
    ['equals', 'http://tarnbrook.EXAMPLE:80/Thanks', true],
    ['equals', 'tarnbrook.example/Thanks/', true],
    ['equals', '/Thanks?lang=pt', true],
    ['equals', '/Thanks?lang=en', false],
    ['equals', '/thanks', false],
    ['equals', 'https://tarnbrook.example/Thanks/more', false],
    ['starts_with', 'https://tarnbrook.example/Tha', true],
    ['starts_with', '/Thanks', true],
    ['starts_with', '/order', false],
    ['contains', 'order=T', true],
    ['contains', 'refund', false],
    ['pattern', '/Th.nks\\?order=T\\d+', true],
    ['pattern', '(', false],
  ] as const)('%s %s: %s', (by, text, matches) => {
    expect(matchesAddress(any([by, text]), thanks)).toBe(matches)
  })
  it('means any of some and none of others, and every address where nothing is said', () => {
    const where = {
      ...any(['contains', '/kits'], ['contains', '/Thanks']),
      none: [{ by: 'contains' as const, text: 'T9' }],
    }
    expect([matchesAddress(where, thanks), matchesAddress(where, thanks.replace('T1', 'T9'))]).toEqual([
      true,
      false,
    ])
    expect(matchesAddress({ any: [], none: [] }, thanks)).toBe(true)
    expect(matchesAddress({ any: [], none: [] }, 'no address at all')).toBe(false)
  })
  it.each([
    ['equals', '/#/thanks', true],
    ['equals', 'tarnbrook.example/#/thanks?order=T1', true],
    ['equals', '/#/thanks?order=T9', false],
    ['equals', '/#/kits', false],
    ['equals', '/', false],
    ['starts_with', '/#/th', true],
    ['contains', '#/thanks', true],
    ['pattern', '#/thanks\\?order=T', true],
  ] as const)('knows a page that a single-page site names by its fragment: %s %s', (by, text, matches) => {
    const address = 'https://Tarnbrook.example/#/thanks?order=T1'
    expect(matchesAddress(any([by, text]), address)).toBe(matches)
  })
  it('passes over a fragment that is a place on the page', () => {
    expect(matchesAddress(any(['equals', '/kits']), 'https://tarnbrook.example/kits#care')).toBe(true)
  })
  it('neither scheme, port, slash, case of the host nor more parameters make an address another one', () => {
    fc.assert(
      fc.property(fc.webUrl({ withQueryParameters: true }), fc.boolean(), (address, secure) => {
        const url = new URL(address)
        fc.pre(url.port === '')
        const rule = any(['equals', address])
        url.protocol = secure ? 'https:' : 'http:'
        url.searchParams.append('added', '1')
        expect(matchesAddress(rule, url.href.replace(url.host, url.host.toUpperCase()))).toBe(true)
      }),
    )
  })
  it('never breaks, whatever stands in it', () => {
    fc.assert(
      fc.property(
        fc.string(),
        fc.string({ minLength: 1 }),
        fc.constantFrom('equals', 'starts_with', 'contains', 'pattern'),
        (address, text, by) => {
          expect(typeof matchesAddress(any([by as AddressCondition['by'], text]), address)).toBe('boolean')
        },
      ),
    )
  })
})

describe('checking a rule', () => {
  const rule = (where: object, when: object = { on: 'page' }) =>
    ruleSchema.parse({ id: 'r1', result: 'order', when, where })
  const codes = (where: object, seen: string[] = [], when?: object) =>
    checkRule(rule(where, when), 'https://tarnbrook.example', seen).map(f => f.code)
  it.each([
    ['starts_with', 'tel:', 'tel:+351%20210-000-000', true],
    ['equals', 'tel:+351 210 000 000', 'tel:+351-210.000.000', true],
    ['equals', 'tel:+351210000001', 'tel:+351210000000', false],
    ['starts_with', 'mailto:', 'mailto:looms@tarnbrook.example?subject=Hi', true],
    ['contains', 'tarnbrook.example', 'mailto:looms@tarnbrook.example', true],
    ['starts_with', 'sms:', 'sms:+351210000000', true],
    ['starts_with', 'loomapp://open', 'loomapp://open/kits?a=1', true],
    ['equals', 'loomapp://open/kits', 'loomapp://open/kits?a=1', true],
    ['starts_with', 'tel:', 'https://tarnbrook.example/tel:1', false],
    ['starts_with', '/', 'tel:+351210000000', false],
    ['equals', 'tarnbrook.example:8080/kits', 'https://tarnbrook.example:8080/kits/', true],
  ] as const)('of a link that leads to no page: %s %s means %s: %s', (by, text, address, meant) => {
    expect(matchesAddress({ any: [{ by, text }], none: [] }, address)).toBe(meant)
  })
  it.each([
    ['starts_with', 'https://tarnbrook.example'],
    ['starts_with', 'https://tarnbrook.example/'],
    ['starts_with', '/'],
    ['contains', 'tarnbrook'],
    ['pattern', '.*'],
  ] as const)('says when %s %s matches every page', (by, text) => {
    expect(codes(any([by, text]))).toEqual(['matches_every_page'])
  })
  it('says it of a page rule without conditions, but not of the home page alone, nor of a click', () => {
    expect(codes({})).toEqual(['matches_every_page'])
    expect(codes(any(['equals', 'https://tarnbrook.example/']))).toEqual([])
    expect(codes({}, [], { on: 'form_sent' })).toEqual([])
  })
  it('says when nothing that was seen fits, when it excludes itself, and when a pattern is none', () => {
    const seen = ['https://tarnbrook.example/kits']
    expect(codes(any(['equals', '/thanks']), seen)).toEqual(['matches_nothing_seen'])
    const same = { by: 'equals', text: '/thanks' }
    expect(codes({ any: [same], none: [same] }, seen)).toEqual(['excludes_itself'])
    expect(codes(any(['pattern', '(']), ['https://tarnbrook.example/('])).toContain('bad_pattern')
  })
})

const occurrence = fc.record({
  id: fc.integer({ min: 0, max: 30 }).map(n => `e${n}`),
  at: fc.nat(1000),
  click: fc.constantFrom(null, 'c1', 'c2'),
  visitor: fc.constantFrom(null, 'v1', 'v2', 'v3'),
  transaction: fc.constantFrom(null, 'T1', 'T2', 'T3', 'T4'),
  value: fc.option(fc.nat(100_000).map(minor)),
})
/** The same event told again has the same content. */
const told = fc.array(occurrence, { maxLength: 60 }).map(all => {
  const first = new Map(all.map(one => [one.id, one]))
  return all.map(one => first.get(one.id)!)
})
const counted = (outcome: Map<string, number | string>) =>
  [...outcome].filter(([, worth]) => typeof worth === 'number')

describe('counting a result', () => {
  it('never counts a transaction twice, nor once-results twice for a click, and asks no order', () => {
    fc.assert(
      fc.property(told, fc.constantFrom('once', 'every'), fc.nat(50_000), (occurrences, count, minimum) => {
        const rule = { value: { by: 'event' as const }, minimum, count: count as 'once' | 'every' }
        const outcome = countResults(rule, occurrences)
        const byId = new Map(occurrences.map(o => [o.id, o]))
        const good = counted(outcome).map(([id]) => byId.get(id) as Occurrence)
        const named = good.flatMap(o => o.transaction ?? [])
        expect(named.length).toBe(new Set(named).size)
        const comers = good.flatMap(o => o.click ?? o.visitor ?? [])
        if (count === 'once') expect(comers.length).toBe(new Set(comers).size)
        for (const [, worth] of counted(outcome)) expect(worth as number).toBeGreaterThanOrEqual(minimum)
        // Reloads, retries and another order of arrival change nothing.
        const again = countResults(rule, [...occurrences].reverse().concat(occurrences))
        expect(new Map([...again].sort())).toEqual(new Map([...outcome].sort()))
      }),
    )
  })
  it('values by the rule: fixed, from the event, less a fee, price times periods', () => {
    expect(worthOf({ by: 'fixed', amount: 500 }, null)).toBe(500)
    expect(worthOf({ by: 'event' }, minor(14900))).toBe(14900)
    expect(worthOf({ by: 'event' }, null)).toBeNull()
    expect(worthOf({ by: 'less_fee', amount: 4900, fee: 900 }, null)).toBe(4000)
    expect(worthOf({ by: 'lifetime', price: 2400, periods: 500 }, null)).toBe(12000)
  })
})

describe('the pulse of a signal', () => {
  const now = Date.UTC(2026, 10, 20, 15)
  const every = (hours: number, days: number, until = now) =>
    Array.from({ length: Math.floor((days * 24) / hours) }, (_, i) => ({
      at: until - i * hours * HOUR_MS - 1000,
      transaction: `T${i}`,
    }))
  const pulse = (heard: ReturnType<typeof every>) => pulseOf(heard, now, 'Europe/Lisbon').pulse
  it('is never heard, live, or quiet after a silence that is no chance', () => {
    expect(pulse([])).toBe('never_heard')
    expect(pulse(every(1, 20))).toBe('live')
    expect(pulse(every(1, 20, now - 3 * HOUR_MS))).toBe('live')
    expect(pulse(every(1, 20, now - 12 * HOUR_MS))).toBe('quiet')
    expect(pulse(every(48, 20, now - 3 * DAY_MS))).toBe('live')
  })
  it('knows the night: no silence where nothing is ever heard', () => {
    const daytime = every(1, 28, now - 13 * HOUR_MS).filter(
      h => new Date(h.at).getUTCHours() >= 9 && new Date(h.at).getUTCHours() < 21,
    )
    const night = Date.UTC(2026, 10, 20, 6)
    const until = daytime.filter(h => h.at < Date.UTC(2026, 10, 19, 21))
    expect(pulseOf(until, night, 'UTC').pulse).toBe('live')
    expect(pulseOf(until, Date.UTC(2026, 10, 20, 16), 'UTC').pulse).toBe('quiet')
  })
  it('is too many when a day holds what no chance brings, or transactions are told again', () => {
    const calm = every(6, 20)
    const flood = Array.from({ length: 40 }, (_, i) => ({ at: now - i * 60_000, transaction: `F${i}` }))
    expect(pulse([...calm, ...flood])).toBe('too_many')
    const again = every(1, 1)
      .slice(1, 7)
      .map(h => ({ ...h, at: h.at + 2000 }))
    expect(pulseOf([...every(1, 20), ...again], now, 'UTC')).toMatchObject({ pulse: 'too_many', repeats: 6 })
  })
  it('reckons by the Poisson law', () => {
    expect(poissonAtLeast(0, 3)).toBe(1)
    expect(poissonAtLeast(1, 2)).toBeCloseTo(1 - Math.exp(-2), 12)
    expect(poissonAtLeast(3, 1)).toBeCloseTo(1 - Math.exp(-1) * 2.5, 12)
  })
})

describe('the ID of a new result', () => {
  it.each([
    ['Fitting call', [], 'fitting-call'],
    ['Über-Anruf', [], 'uber-anruf'],
    ['Anruf!', ['anruf', 'anruf-2'], 'anruf-3'],
    ['注文', [], 'result'],
    ['Заказ', ['result'], 'result-2'],
    ['   ', [], 'result'],
    [`${'long '.repeat(20)}`, [], 'long-long-long-long-long-long-lo'],
  ])('of %s beside %j is %s', (name, taken, id) => {
    expect(newId(name, taken, 'result')).toBe(id)
    expect(resultSchema.shape.id.safeParse(id).success).toBe(true)
  })
})

describe('how likely so many are', () => {
  it('is Poisson where the rate is certain', () => {
    // 1 − e⁻², 1 − 3e⁻², 1 − 5e⁻².
    expect([1, 2, 3].map(n => poissonAtLeast(n, 2))).toEqual(
      [1, 3, 5].map(terms => expect.closeTo(1 - terms * Math.exp(-2), 9)),
    )
    expect(countAtLeast(3, { mean: 2, variance: 0 })).toBeCloseTo(poissonAtLeast(3, 2), 9)
    expect(countAtLeast(3, { mean: 2, variance: 1e-9 })).toBeCloseTo(poissonAtLeast(3, 2), 6)
    expect(poissonAtLeast(0, 2)).toBe(1)
  })
  it('is geometric where the doubt is as large as the rate, and never rarer than with certainty', () => {
    for (const n of [0, 1, 2, 5]) expect(countAtLeast(n, { mean: 3, variance: 9 })).toBeCloseTo(0.75 ** n, 9)
    for (const n of [9, 15, 30])
      expect(countAtLeast(n, { mean: 6, variance: 3 })).toBeGreaterThan(poissonAtLeast(n, 6))
  })
})
