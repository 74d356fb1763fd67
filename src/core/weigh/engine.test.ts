import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { claim, claimSum, click, delivery, instantAt, order } from '../evidence/sampleRecords'
import { type Change, inOrder, type KeptRecords, type RowKind, rowKinds, withChange } from '../intake/change'
import { orderStatuses } from '../intake/records'
import { creditRules, settingsSchema } from '../intake/settings'
import { advance, type Gathered, gather } from './engine'

const hour = fc.integer({ min: 0, max: 24 * 20 })
const some = (...values: string[]) => fc.constantFrom(...values)
const maybe = (...values: string[]) => fc.option(some(...values))
const day = some('2026-10-02', '2026-10-05', '2026-10-09')
const network = some('norrfeed', 'kelpie')

const rowOf: { [Kind in RowKind]: fc.Arbitrary<KeptRecords[Kind][number]> } = {
  clicks: fc
    .record({
      id: some('k1', 'k2', 'k3', 'k4', 'k5', 'k6'),
      at: hour,
      network,
      ad_id: some('a1', 'a2'),
      visitor_id: maybe('v1', 'v2', 'v3'),
      network_click_id: maybe('network-id-1', 'network-id-2'),
    })
    .map(({ id, at, ...rest }) => click(id, at, rest)),
  orders: fc
    .record({
      id: some('o1', 'o2', 'o3', 'o4', 'o5', 'o6', 'o7'),
      at: hour,
      total: some('100.00', '40.00', '18.90'),
      status: fc.constantFrom(...orderStatuses),
      result: some('order', 'order', 'order', 'lead'),
      click_id: maybe('k1', 'k2', 'k3'),
      visitor_id: maybe('v1', 'v2', 'v3'),
      customer_id: maybe('u1', 'u2'),
      landing_url: maybe(
        'https://tarnbrook.example/?nid=network-id-1',
        'https://tarnbrook.example/?c=k4-long',
      ),
      utm_source: maybe('norrfeed', 'kelpie'),
      utm_campaign: maybe('c1', 'Autumn', 'nobody'),
      utm_content: maybe('a1', 'a2'),
    })
    .map(({ id, at, ...rest }) => order(id, at, rest)),
  claimRows: fc
    .record({
      claim_key: some('r1', 'r2', 'r3', 'r4', 'r5'),
      at: hour,
      network,
      ad_id: some('a1', 'a2', 'a3'),
      kind: some('click', 'view'),
      conversion: some('purchase', 'lead'),
      transaction_id: maybe('o1', 'o2', 'o9'),
      click_id: maybe('k1', 'network-id-1'),
      value: maybe('100.00', '40.00'),
    })
    .map(({ claim_key, at, ...rest }) => ({ ...claim(at, rest), claim_key })),
  claims: fc
    .record({ day, ad_id: some('a1', 'a3') })
    .map(({ day: on, ...rest }) => claimSum(on, { network: 'mothwire', ...rest })),
  delivery: fc
    .record({
      day,
      network,
      ad_id: some('a1', 'a2', ''),
      campaign_name: maybe('Autumn', 'Winter'),
      spend: some('5.00', '7.50'),
    })
    .map(({ day: on, ...rest }) => delivery(on, rest)),
  told: fc.record({
    event_id: some('e1', 'e2', 'e3'),
    at: hour.map(instantAt),
    name: some('order', 'lead'),
    visitor_id: maybe('v1', 'v2'),
    click_id: maybe('k1', 'k2'),
    transaction_id: maybe('o1', 'o8'),
    value: maybe('12.00'),
    currency: fc.constant('EUR'),
  }),
  clickAds: fc.record({
    network,
    campaign: fc.constant('c1'),
    adSet: fc.constant(''),
    ad: some('a1', 'a2', 'a9'),
  }),
}
const anyRow = fc
  .constantFrom(...rowKinds)
  .chain(kind => rowOf[kind].map(row => ({ kind, row }) as { kind: RowKind; row: never }))
type Some = { kind: RowKind; row: never }[]

const noRows = (): KeptRecords => ({
  delivery: [],
  clicks: [],
  clickAds: [],
  orders: [],
  claims: [],
  claimRows: [],
  told: [],
  rates: [],
  names: [],
  links: { profiles: [], plans: [], formerNames: {} },
  slots: [{ network: 'norrfeed', slot: 'lead', result: 'lead' }],
  definitions: [],
  decisions: [],
})
const rowsOf = (rows: Some): Change['added'] => {
  const found: Record<string, unknown[]> = {}
  for (const { kind, row } of rows) (found[kind] ??= []).push(row)
  return found
}
const from = (rows: Some): KeptRecords => {
  const records = noRows()
  const own = rowsOf(rows)
  for (const kind of rowKinds) records[kind] = inOrder(kind, (own[kind] ?? []) as never[]) as never
  return records
}
const settings = settingsSchema.parse({ time_zone: 'Europe/Lisbon', click_window_days: 7 })
/** All that is worked out, the estimate included. */
const shown = ({ evidence: { data, placements, matches, estimate } }: Gathered) => {
  const { captureOn, ...rest } = estimate
  const captures = data.tree.networks.map((_, network) => captureOn(network, 20_000, 30_000))
  return { data, placements, matches, estimate: rest, captures }
}

describe('evidence that goes on', () => {
  const step = fc.record({
    came: fc.array(anyRow, { maxLength: 6 }),
    gone: fc.array(anyRow, { maxLength: 2 }),
  })

  it('is that of all rows at once, whatever came, changed or went, in whatever order', () => {
    fc.assert(
      fc.property(
        fc.array(anyRow, { maxLength: 30 }),
        fc.array(step, { minLength: 1, maxLength: 4 }),
        fc.constantFrom('order', 'lead'),
        (first, steps, result) => {
          let rows = first
          let records = from(first)
          let going = gather(records, settings, result)
          for (const { came, gone } of steps) {
            const change = { added: {}, updated: rowsOf(came), removed: rowsOf(gone) }
            going = advance(going, change)
            records = withChange(records, change)
            // By the rows themselves: those that went are not there, whether they came before or in between.
            const goneKeys = (kind: RowKind) =>
              new Set(
                inOrder(kind, (rowsOf(gone)[kind] ?? []) as never[]).map(row => keyOf(kind, row as never)),
              )
            rows = [...rows.filter(({ kind, row }) => !goneKeys(kind).has(keyOf(kind, row))), ...came]
            expect(shown(going)).toEqual(shown(gather(from(rows), settings, result)))
          }
        },
      ),
      { numRuns: Number(process.env.PROPERTY_RUNS ?? 150) },
    )
  })
  it('finds the orders behind the sums of many days as if anew, whichever day an order comes or goes on', () => {
    const hours = fc.integer({ min: 0, max: 24 * 45 })
    const date = fc.integer({ min: 0, max: 44 })
    const dated = date.map(d => new Date(Date.UTC(2026, 9, 1 + d)).toISOString().slice(0, 10))
    const clicks = fc.array(fc.record({ at: hours, network, ad_id: some('a1', 'a2') }), { maxLength: 12 })
    const orders = fc.array(
      fc.record({
        id: fc.nat(24),
        at: hours,
        total: some('100.00', '40.00', '18.90'),
        visitor_id: maybe('v0', 'v1', 'v2', 'v3', 'v4', 'v5'),
      }),
      { maxLength: 20 },
    )
    const ordersOf = (rows: { id: number; at: number }[]) =>
      rows.map(({ id, at, ...rest }) => order(`o${id}`, at, rest))
    const sums = fc.array(
      fc.record({
        day: dated,
        network,
        ad_id: some('a1', 'a2'),
        click_through: some('1', '2', '3'),
        view_through: some('0', '1'),
        value: some('40.00', '118.90', '200.00'),
      }),
      { minLength: 1, maxLength: 14 },
    )
    fc.assert(
      fc.property(
        clicks,
        orders,
        sums,
        fc.array(orders.map(ordersOf), { minLength: 1, maxLength: 3 }),
        fc.constantFrom('last_click' as const, 'even' as const),
        (clickRows, first, claims, changes, credit) => {
          const rules = settingsSchema.parse({
            time_zone: 'Europe/Lisbon',
            credit,
            networks: [
              { id: 'norrfeed', dated_by: 'click', time_zone: 'Pacific/Auckland' },
              { id: 'kelpie', dated_by: 'conversion', time_zone: 'America/Los_Angeles' },
            ],
          })
          const records = (rows: ReturnType<typeof ordersOf>): KeptRecords => ({
            ...noRows(),
            clicks: inOrder(
              'clicks',
              clickRows.map(({ at, ...rest }, i) => click(`k${i}`, at, { ...rest, visitor_id: `v${i % 6}` })),
            ),
            claims: inOrder(
              'claims',
              claims.map(({ day: on, ...rest }) => claimSum(on, rest)),
            ),
            orders: inOrder('orders', rows),
          })
          let rows = ordersOf(first)
          let going = gather(records(rows), rules)
          for (const [i, change] of changes.entries()) {
            // By turns they come, or change, and go.
            const gone = i % 2 === 1
            going = advance(going, {
              added: {},
              updated: { orders: gone ? [] : change },
              removed: { orders: gone ? change : [] },
            })
            const ids = new Set(change.map(row => row.order_id))
            rows = gone ? rows.filter(row => !ids.has(row.order_id)) : [...rows, ...change]
            expect(going.evidence.matches).toEqual(gather(records(rows), rules).evidence.matches)
          }
        },
      ),
      { numRuns: Number(process.env.PROPERTY_RUNS ?? 300) },
    )
  })
  it('is as anew under other rules', () => {
    fc.assert(
      fc.property(
        fc.array(anyRow, { maxLength: 30 }),
        fc.constantFrom(...creditRules),
        fc.integer({ min: 1, max: 20 }),
        (rows, credit, click_window_days) => {
          const before = gather(from(rows), settings)
          const others = { ...settings, credit, click_window_days }
          expect(shown(gather(before.records, others, 'order', before))).toEqual(
            shown(gather(from(rows), others)),
          )
        },
      ),
      { numRuns: 50 },
    )
  })
  it('takes over what rests on the same', () => {
    const rows = [click('k1', 1, { visitor_id: 'v1' }), click('k2', 2, { visitor_id: 'v2' })]
    const before = gather(
      {
        ...noRows(),
        clicks: rows,
        clickAds: [{ network: 'norrfeed', campaign: 'c1', adSet: '', ad: 'a1' }],
        orders: [order('o1', 5, { visitor_id: 'v1' }), order('o2', 6, { visitor_id: 'v2' })],
      },
      settings,
    )
    const after = advance(before, {
      added: { orders: [order('o3', 7, { visitor_id: 'v1' })] },
      updated: {},
      removed: {},
    })
    expect(after.evidence.data.tree).toBe(before.evidence.data.tree)
    expect(after.evidence.data.orders.slice(0, 2)).toEqual(before.evidence.data.orders)
    expect(after.evidence.placements[0]).toBe(before.evidence.placements[0])
    expect(after.evidence.placements[1]).toBe(before.evidence.placements[1])
    // A later click of one visitor touches that one's orders alone.
    const late = advance(after, {
      added: { clicks: [click('k3', 3, { visitor_id: 'v1' })] },
      updated: {},
      removed: {},
    })
    expect(late.evidence.placements[1]).toBe(before.evidence.placements[1])
    expect(late.evidence.placements[0]!.touches).toHaveLength(2)
  })
  it('leaves claims where they are that an order cannot concern, and looks for those again that it may', () => {
    const claims = [
      { ...claim(6, { transaction_id: 'o1' }), claim_key: 'r1' },
      { ...claim(9, { value: '40.00' }), claim_key: 'r2' },
      { ...claim(30, { value: '18.90' }), claim_key: 'r3' },
    ]
    const before = gather(
      {
        ...noRows(),
        claimRows: claims,
        orders: [order('o1', 5), order('o2', 20, { total: '40.00' }), order('o4', 31, { total: '18.90' })],
      },
      settings,
    )
    const ofOrders = ({ evidence: { data, matches } }: Gathered) =>
      matches.map(match => data.orders[match.order]?.order_id)
    const withOrder = (id: string, at: number, total: string) =>
      advance(before, { added: { orders: [order(id, at, { total })] }, updated: {}, removed: {} })
    expect(ofOrders(before)).toEqual(['o1', 'o2', 'o4'])

    const unlike = withOrder('o3', 40, '77.00')
    expect(unlike.evidence.matches.every((match, c) => match === before.evidence.matches[c])).toBe(true)
    const earlier = withOrder('o3', 1, '77.00')
    expect(ofOrders(earlier)).toEqual(['o1', 'o2', 'o4'])
    const nearer = withOrder('o3', 10, '40.00')
    expect(ofOrders(nearer)).toEqual(['o1', 'o3', 'o4'])
    expect(nearer.evidence.matches[0]).toBe(before.evidence.matches[0])
  })
})

describe('an order is looked at again', () => {
  const nid = 'network-id-1'
  const clicks = [
    click('k0', 1, { visitor_id: 'v0' }),
    click('k1', 10, { visitor_id: 'v1' }),
    click('k2', 20, { visitor_id: 'v2' }),
    click('k3', 30),
    click('k4', 40, { network_click_id: nid }),
    click('k45', 45, { visitor_id: 'v7' }),
    click('k5', 50, { visitor_id: 'v5' }),
  ]
  const landing = { landing_url: `https://tarnbrook.example/?nid=${nid}` }
  const orders = {
    byVisitor: order('byVisitor', 100, { visitor_id: 'v1' }),
    byClick: order('byClick', 100, { click_id: 'k3' }),
    byLanding: order('byLanding', 100, landing),
    first: order('first', 100, { visitor_id: 'v2', customer_id: 'u' }),
    second: order('second', 101, { customer_id: 'u' }),
    other: order('other', 102, { visitor_id: 'v5', customer_id: 'w' }),
    nobody: order('nobody', 102, { customer_id: 'w2' }),
    late: order('late', 45 + 24 * 9, { visitor_id: 'v7' }),
  }
  type Name = keyof typeof orders
  const records: KeptRecords = {
    ...noRows(),
    clicks,
    clickAds: ['a1', 'a2'].map(ad => ({ network: 'norrfeed', campaign: 'c1', adSet: '', ad })),
    orders: inOrder('orders', Object.values(orders)),
  }
  const came = (some: Change['added']): Change => ({ added: some, updated: {}, removed: {} })
  const other = (some: Change['added']): Change => ({ added: {}, updated: some, removed: {} })
  const went = (some: Change['added']): Change => ({ added: {}, updated: {}, removed: some })

  it.each<[string, Change, Name[]]>([
    ['a click of its visitor', came({ clicks: [click('k9', 60, { visitor_id: 'v1' })] }), ['byVisitor']],
    ['a click of nobody', came({ clicks: [click('k9', 60)] }), []],
    ['a click of another visitor', came({ clicks: [click('k9', 60, { visitor_id: 'v9' })] }), []],
    [
      'a click that its customer made for an earlier order',
      came({ clicks: [click('k9', 60, { visitor_id: 'v2' })] }),
      ['first', 'second'],
    ],
    [
      'a click of the ID on its landing page',
      came({ clicks: [click('k9', 60, { network_click_id: nid })] }),
      ['byLanding'],
    ],
    [
      'its click, now of another ad',
      other({ clicks: [click('k5', 50, { visitor_id: 'v5', ad_id: 'a2' })] }),
      ['other'],
    ],
    [
      'its click, now of another visitor',
      other({ clicks: [click('k5', 50, { visitor_id: 'v6' })] }),
      ['other'],
    ],
    ['its click, now earlier', other({ clicks: [click('k5', 49, { visitor_id: 'v5' })] }), ['other']],
    ['its click, gone', went({ clicks: [clicks[6]!] }), ['other']],
    ['a click too old to count, gone', went({ clicks: [clicks[5]!] }), ['late', 'other']],
    ['a click before its own, gone', went({ clicks: [clicks[4]!] }), ['byLanding', 'late', 'other']],
    [
      'itself, of another amount',
      other({ orders: [{ ...orders.byVisitor, total: 1 as never }] }),
      ['byVisitor'],
    ],
    ['an order of its customer, gone', went({ orders: [orders.first] }), ['second']],
    [
      'an earlier order of its customer',
      came({ orders: [order('more', 90, { visitor_id: 'v1', customer_id: 'u' })] }),
      ['first', 'second'],
    ],
    ['an order of nobody known', came({ orders: [order('more', 90)] }), []],
    [
      'an order of another customer',
      came({ orders: [order('more', 100, { visitor_id: 'v0', customer_id: 'x' })] }),
      [],
    ],
  ])('for %s, and no other is', (_, change, again) => {
    const before = gather(records, settings)
    const after = advance(before, change)
    const fresh = gather(withChange(records, change), settings)
    expect(shown(after)).toEqual(shown(fresh))
    const placed = ({ evidence: { data, placements } }: Gathered, name: string) =>
      placements[data.orders.findIndex(o => o.order_id === name)]
    const names = Object.keys(orders).filter(name => placed(after, name) !== undefined)
    const anew = names.filter(name => placed(after, name) !== placed(before, name))
    expect(anew.sort()).toEqual(again.filter(name => names.includes(name)).sort())
  })
})

const NID = 'network-id-2'
describe('claims look for their orders again', () => {
  const claims = [
    claim(6, { transaction_id: 'o1' }),
    claim(9, { transaction_id: 'later' }),
    claim(20, { click_id: 'k1', value: '1.00' }),
    claim(21, { click_id: NID, value: '2.00' }),
    claim(30, { value: '40.00' }),
    claim(31, { value: '30.00' }),
    claim(32, { value: null, currency: null }),
  ].map((row, i) => ({ ...row, claim_key: `r${i}` }))
  const records: KeptRecords = {
    ...noRows(),
    clicks: [
      click('k1', 1, { visitor_id: 'v1' }),
      click('k2', 2, { visitor_id: 'v2', network_click_id: NID }),
      click('k3', 3, { visitor_id: 'v3' }),
    ],
    clickAds: [{ network: 'norrfeed', campaign: 'c1', adSet: '', ad: 'a1' }],
    claimRows: claims,
    orders: inOrder('orders', [
      order('o1', 5),
      order('o2', 20, { visitor_id: 'v1', total: '7.00' }),
      order('o3', 29, { total: '40.00' }),
      order('o4', 33, { total: '50.00', refunded: '20.00', status: 'partially_refunded' }),
      order('o5', 34, { total: '8.00' }),
    ]),
  }
  it.each<[string, Change['added'], boolean]>([
    ['that another names', { orders: [order('later', 8, { total: '5.00' })] }, true],
    ['by a click that one names', { orders: [order('n', 19, { visitor_id: 'v1', total: '5.00' })] }, true],
    [
      'by a network’s click that one names',
      { orders: [order('n', 19, { visitor_id: 'v2', total: '5.00' })] },
      true,
    ],
    ['by a click that none names', { orders: [order('n', 19, { visitor_id: 'v3', total: '5.00' })] }, false],
    ['of a value that is looked for', { orders: [order('n', 31, { total: '40.00' })] }, false],
    [
      'of such a value without its refund',
      { orders: [order('n', 30.5, { total: '60.00', refunded: '20.00', status: 'partially_refunded' })] },
      false,
    ],
    [
      'of two such values',
      { orders: [order('n', 30.5, { total: '40.00', refunded: '10.00', status: 'partially_refunded' })] },
      false,
    ],
    ['of another value', { orders: [order('n', 31, { total: '5.00' })] }, false],
    ['that took the place of one by value', { orders: [order('o3', 29, { total: '41.00' })] }, false],
    ['that no longer has what one looks for', { orders: [order('o4', 33, { total: '51.00' })] }, false],
    ['that was named', { orders: [order('o1', 4, { total: '9.00' })] }, true],
  ])('for an order %s', (_, updated, all) => {
    const change = { added: {}, updated, removed: {} }
    const before = gather(records, settings)
    const after = advance(before, change)
    expect(shown(after)).toEqual(shown(gather(withChange(records, change), settings)))
    // The one without a value is looked at by nobody, unless all are.
    expect(after.evidence.matches[6] !== before.evidence.matches[6]).toBe(all)
  })
  it('that was taken from one by another, of either of its values', () => {
    const settled = {
      ...noRows(),
      claimRows: ['40.00', '30.00'].map((value, i) => ({
        ...claim(30 + 3 * i, { value }),
        claim_key: value,
      })),
    }
    const two = order('two', 31, { total: '40.00', refunded: '10.00', status: 'partially_refunded' })
    const before = gather({ ...settled, orders: [two] }, settings)
    const after = advance(before, {
      added: { orders: [order('near', 30, { total: '40.00' })] },
      updated: {},
      removed: {},
    })
    const ordersOf = ({ evidence: { data, matches } }: Gathered) =>
      matches.map(m => data.orders[m.order]?.order_id)
    expect(ordersOf(before)).toEqual(['two', undefined])
    expect(ordersOf(after)).toEqual(['near', 'two'])
  })
})

/** By what a row is told from others of its kind. */
function keyOf(kind: RowKind, row: Record<string, unknown>): string {
  const columns: Record<RowKind, string[]> = {
    delivery: ['date', 'network', 'campaign_id', 'ad_set_id', 'ad_id'],
    clicks: ['click_id'],
    clickAds: ['network', 'campaign', 'adSet', 'ad'],
    orders: ['order_id'],
    claims: ['date', 'network', 'ad_id', 'conversion'],
    claimRows: ['claim_key'],
    told: ['event_id'],
  }
  return JSON.stringify(columns[kind].map(column => row[column] ?? null))
}
