import { describe, expect, it } from 'vitest'
import { leadingLeaf, placeOrders, unknownSources, WHOLE } from './place'
import { click, dataset, order, type Rows } from './sampleRecords'

const DAY = 24
/** The placement of the last order, its touches and clicks by their IDs, its leaves by network, campaign and ad. */
function placeLast(records: Rows, settings: object = {}) {
  const data = dataset(records, settings)
  const placement = placeOrders(data).at(-1)!
  const idOf = (c: number) => data.clicks.ids[c] ?? null
  return {
    grade: placement.grade,
    by: placement.by,
    touches: placement.touches.map(idOf),
    older: idOf(placement.older),
    credits: placement.credits.map(({ click, leaf, share }) => {
      const { network, campaign, ad } = data.tree.leaves[leaf]!
      return [idOf(click), `${network}/${campaign}/${ad}`, share]
    }),
  }
}

describe('where an order is placed', () => {
  const v = { visitor_id: 'v' }
  const a2 = { ad_id: 'a2' }
  const kelpie = { network: 'kelpie', campaign_id: 'kc', ad_id: 'ka' }
  it.each<[why: string, records: Rows, expected: object]>([
    [
      'by its own click, before the visitor’s later one',
      {
        clicks: [click('k1', 0, v), click('k2', 5, { ...v, ...a2 })],
        orders: [order('o', 9, { click_id: 'k1', ...v })],
      },
      { grade: 'proven', by: 'click_id', touches: ['k1', 'k2'], credits: [['k1', 'norrfeed/c1/a1', WHOLE]] },
    ],
    [
      'by its own click, whose visitor clicked before',
      {
        clicks: [click('k1', 0, v), click('k2', 5, { ...v, ...a2 })],
        orders: [order('o', 9, { click_id: 'k2' })],
      },
      { by: 'click_id', touches: ['k1', 'k2'], credits: [['k2', 'norrfeed/c1/a2', WHOLE]] },
    ],
    [
      'by its own click, which is another visitor’s than the order’s',
      {
        clicks: [click('k1', 0, { visitor_id: 'w' }), click('k2', 5, v)],
        orders: [order('o', 9, { click_id: 'k1', ...v })],
      },
      { by: 'click_id', touches: ['k1', 'k2'], credits: [['k1', 'norrfeed/c1/a1', WHOLE]] },
    ],
    [
      'by its own click, which has no visitor',
      { clicks: [click('k1', 0)], orders: [order('o', 9, { click_id: 'k1' })] },
      { by: 'click_id', touches: ['k1'] },
    ],
    [
      'by its visitor, where its own click is too old',
      {
        clicks: [click('k1', 0), click('k2', 40 * DAY, v)],
        orders: [order('o', 41 * DAY, { click_id: 'k1', ...v })],
      },
      { grade: 'proven', by: 'visitor_id', touches: ['k2'] },
    ],
    [
      'by its visitor, where nobody knows its click',
      { clicks: [click('k1', 0, v)], orders: [order('o', 9, { click_id: 'lost', ...v })] },
      { by: 'visitor_id', touches: ['k1'] },
    ],
    [
      'by the visitor’s last click before it, not one after',
      {
        clicks: [click('k1', 0, v), click('k2', 5, v), click('k3', 12, v)],
        orders: [order('o', 9, v)],
      },
      { by: 'visitor_id', touches: ['k1', 'k2'], credits: [['k2', 'norrfeed/c1/a1', WHOLE]], older: null },
    ],
    [
      'by the customer’s earlier visitor',
      {
        clicks: [click('k1', 0, v), click('k2', 1, { visitor_id: 'w', ...a2 })],
        orders: [order('o1', 2, { ...v, customer_id: 'u' }), order('o2', 9, { customer_id: 'u' })],
      },
      { grade: 'proven', by: 'customer', touches: ['k1'], credits: [['k1', 'norrfeed/c1/a1', WHOLE]] },
    ],
    [
      'by each click of the customer’s earlier visitor once, however often that one ordered',
      {
        clicks: [click('k1', 0, v)],
        orders: [
          order('o1', 2, { ...v, customer_id: 'u' }),
          order('o2', 3, { ...v, customer_id: 'u' }),
          order('o3', 9, { customer_id: 'u' }),
        ],
      },
      { grade: 'proven', by: 'customer', touches: ['k1'] },
    ],
    [
      'not by a visitor that the customer is known by only later',
      {
        clicks: [click('k1', 0, v)],
        orders: [order('o2', 9, { ...v, customer_id: 'u' }), order('o1', 2, { customer_id: 'u' })],
      },
      { by: 'visitor_id' },
    ],
    [
      'by the network’s click ID on its landing address',
      {
        clicks: [click('k1', 0, { network_click_id: 'nf-1234' })],
        orders: [order('o', 9, { landing_url: 'https://tarnbrook.example/?x=1&nfref=nf-1234' })],
      },
      {
        grade: 'tagged',
        by: 'network_click_id',
        touches: ['k1'],
        credits: [['k1', 'norrfeed/c1/a1', WHOLE]],
      },
    ],
    [
      'by our click ID on its landing address',
      {
        clicks: [click('our-click-1', 0)],
        orders: [order('o', 9, { landing_url: 'https://tarnbrook.example/?c=our-click-1' })],
      },
      { grade: 'tagged', by: 'network_click_id', touches: ['our-click-1'] },
    ],
    [
      'not by a value so short that it may be anything',
      {
        clicks: [click('k1', 0, { network_click_id: '12345' })],
        orders: [order('o', 9, { landing_url: 'https://tarnbrook.example/?page=12345' })],
      },
      { grade: 'unplaced', by: null, touches: [], credits: [] },
    ],
    [
      'not by a network’s click ID whose click is too old, which is remembered',
      {
        clicks: [click('k1', 0, { network_click_id: 'nf-1234' })],
        orders: [order('o', 31 * DAY, { landing_url: 'https://tarnbrook.example/?r=nf-1234' })],
      },
      { grade: 'unplaced', older: 'k1' },
    ],
    [
      'not by a network’s click ID whose click came after',
      {
        clicks: [click('k1', 10, { network_click_id: 'nf-1234' })],
        orders: [order('o', 9, { landing_url: 'https://tarnbrook.example/?r=nf-1234' })],
      },
      { grade: 'unplaced', older: null },
    ],
    [
      'by the parameters that it carries',
      {
        clicks: [click('k1', 0), click('k2', 0, kelpie)],
        orders: [order('o', 9, { utm_source: 'KELPIE', utm_campaign: 'kc', utm_content: 'ka' })],
      },
      { grade: 'tagged', by: 'parameters', touches: [], credits: [[null, 'kelpie/kc/ka', WHOLE]] },
    ],
    [
      'by the parameters of its landing address',
      {
        clicks: [click('k1', 0)],
        orders: [
          order('o', 9, { landing_url: 'https://tarnbrook.example/?utm_source=norrfeed&utm_campaign=c1' }),
        ],
      },
      { grade: 'tagged', by: 'parameters', credits: [[null, 'norrfeed/c1/a1', WHOLE]] },
    ],
    [
      'by its source alone, as far as that says',
      { clicks: [click('k1', 0)], orders: [order('o', 9, { utm_source: 'norrfeed' })] },
      { grade: 'tagged', credits: [[null, 'norrfeed//', WHOLE]] },
    ],
    [
      'nowhere, where its parameters are those of a click that is too old',
      {
        clicks: [click('k1', 0)],
        orders: [order('o', 31 * DAY, { click_id: 'k1', utm_source: 'norrfeed', utm_campaign: 'c1' })],
      },
      { grade: 'unplaced', older: 'k1', credits: [] },
    ],
    [
      'by its parameters, where no click of its own says otherwise',
      {
        clicks: [click('k1', 0, v)],
        orders: [order('o', 31 * DAY, { ...v, utm_source: 'norrfeed', utm_campaign: 'c1' })],
      },
      { grade: 'tagged', by: 'parameters', older: 'k1' },
    ],
    [
      'nowhere, where its address is none',
      {
        clicks: [click('k1', 0)],
        orders: [order('o', 9, { landing_url: 'not an address?utm_source=norrfeed' })],
      },
      { grade: 'unplaced' },
    ],
  ])('%s', (_, records, expected) => {
    expect(placeLast(records)).toMatchObject(expected)
  })

  it('by a source that somebody said the network of', () => {
    const records = { clicks: [click('k1', 0)], orders: [order('o', 9, { utm_source: 'NF-Autumn' })] }
    expect(placeLast(records).grade).toBe('unplaced')
    expect(placeLast(records, { source_names: { 'nf-autumn': 'norrfeed' } }).credits).toEqual([
      [null, 'norrfeed//', WHOLE],
    ])
  })

  it('by the parameters that the settings name', () => {
    const clicks = [click('k1', 0, { ad_set_id: 's1' }), click('k2', 0, { ad_set_id: 's2', ad_id: 'a2' })]
    const orders = [order('o', 9, { utm_source: 'norrfeed', utm_medium: 's2' })]
    expect(placeLast({ clicks, orders }).credits).toEqual([[null, 'norrfeed//', WHOLE]])
    expect(placeLast({ clicks, orders }, { ad_set_key: 'utm_medium' }).credits).toEqual([
      [null, 'norrfeed/c1/a2', WHOLE],
    ])
  })
})

describe('the credit of an order with three touches', () => {
  const at = [0, 7 * DAY, 14 * DAY]
  const clicks = at.map((hours, i) => click(`k${i + 1}`, hours, { visitor_id: 'v', ad_id: `a${i + 1}` }))
  const shares = (credit: string, own: object = {}) =>
    placeLast(
      { clicks, orders: [order('o', 14 * DAY, { visitor_id: 'v', ...own })] },
      { credit },
    ).credits.map(([id, , share]) => [id, share])
  it.each([
    ['last_click', [['k3', WHOLE]]],
    ['first_click', [['k1', WHOLE]]],
    [
      'even',
      [
        ['k1', 333_334],
        ['k2', 333_333],
        ['k3', 333_333],
      ],
    ],
    // Half as much for each week before the order: 1/4, 1/2 and 1 of 7/4.
    [
      'time_decay',
      [
        ['k1', 142_857],
        ['k2', 285_714],
        ['k3', 571_429],
      ],
    ],
  ])('by %s', (rule, expected) => {
    expect(shares(rule)).toEqual(expected)
  })
  it('goes to its own click under last click, though others came later', () => {
    expect(shares('last_click', { click_id: 'k2' })).toEqual([['k2', WHOLE]])
    expect(shares('first_click', { click_id: 'k2' })).toEqual([['k1', WHOLE]])
  })
})

it('the leading ad has the largest share, the first of several alike', () => {
  const placement = { grade: 'proven' as const, by: null, touches: [], older: -1 }
  const credits = (...shares: number[]) => shares.map((share, leaf) => ({ click: leaf, leaf, share }))
  expect(leadingLeaf({ ...placement, credits: credits(2, 5, 3) })).toBe(1)
  expect(leadingLeaf({ ...placement, credits: credits(5, 5) })).toBe(0)
  expect(leadingLeaf({ ...placement, credits: [] })).toBe(-1)
})

it('sources that nobody knows are counted by orders that stand nowhere, most first, then by name', () => {
  const sources = ['x', 'b', 'x', 'a', 'norrfeed', 'Mail', '']
  const orders = sources.map((utm_source, i) => order(`o${i}`, i, { utm_source }))
  const data = dataset({ clicks: [click('k', 0)], orders }, { source_names: { mail: '' } })
  expect(unknownSources(data, placeOrders(data))).toEqual([
    { source: 'x', orders: 2 },
    { source: 'a', orders: 1 },
    { source: 'b', orders: 1 },
  ])
})
