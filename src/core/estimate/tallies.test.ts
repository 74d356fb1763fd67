import { describe, expect, it } from 'vitest'
import { matchClaims } from '../evidence/match'
import { placeOrders } from '../evidence/place'
import { claim, claimSum, click, dataset, delivery, order, type Rows } from '../evidence/sampleRecords'
import { sharesInTime } from './sharesInTime'
import { ofAllTime, tallyOrders } from './tallies'
import { BLANK, KNOWN, OFFSITE, TAGGED, witnessesOf } from './witnesses'

const DAY = 24
const kelpie = { network: 'kelpie', ad_id: 'ka', campaign_id: 'kc' }
const desktop = { device: 'Desktop' }
const read = (rows: Rows, settings: object = {}) => {
  const data = dataset(rows, settings)
  const placements = placeOrders(data)
  const w = witnessesOf(data, placements, matchClaims(data, placements))
  const of = (network: string) => data.tree.networks.indexOf(network)
  const at = (id: string) => data.orders.findIndex(o => o.order_id === id)
  const leaf = (ad: string) => data.tree.leaves.findIndex(l => l.ad === ad)
  return { data, w, tallies: tallyOrders(data, w), of, at, leaf }
}

const rows: Rows = {
  delivery: [
    delivery('2026-10-01', { clicks: '7' }),
    delivery('2026-10-03', { clicks: '5' }),
    delivery('2026-10-03', { clicks: '2', keyword: 'loom' }),
  ],
  clicks: [
    click('n1', 0, { visitor_id: 'v1' }),
    click('k1', 1, { ...kelpie, ...desktop, visitor_id: 'v1' }),
    click('n2', 2, { visitor_id: 'v2', ...desktop }),
    click('n3', 3, { visitor_id: 'v3', ad_id: 'a2' }),
    click('n4', 4, { visitor_id: 'v4' }),
  ],
  orders: [
    order('both', 1.5, { visitor_id: 'v1' }),
    order('late', 2 * DAY + 3, { visitor_id: 'v2' }),
    order('gone', 5, { visitor_id: 'v3', status: 'cancelled' }),
    order('tagged', 6, { utm_source: 'norrfeed', utm_campaign: 'c1', utm_content: 'a1' }),
    order('known', 7, { visitor_id: 'nobody' }),
    order('blank', 8),
    order('shop', 9, { channel: 'store' }),
    order('web', 10, { channel: 'web' }),
    order('past', 40 * DAY, { visitor_id: 'v4' }),
  ],
}

describe('what is known of each order', () => {
  const known = () => {
    const found = read(rows, { networks: [{ id: 'kelpie', click_window_days: 30 }] })
    const place = (id: string, network: string) => found.at(id) * found.w.networks + found.of(network)
    return { ...found, place }
  }
  it('is by its clicks, by parameters alone, not at all, or that it never passed the site', () => {
    const { w, data } = known()
    const kinds = Object.fromEntries(data.orders.map((o, i) => [o.order_id, w.kind[i]]))
    expect(kinds).toEqual({
      both: KNOWN,
      late: KNOWN,
      gone: KNOWN,
      tagged: TAGGED,
      known: KNOWN,
      blank: BLANK,
      shop: OFFSITE,
      web: BLANK,
      past: KNOWN,
    })
  })
  it('is whose ad has the credit, and with what device', () => {
    const { w, at, leaf } = known()
    expect([w.origin[at('both')], w.origin[at('late')], w.origin[at('tagged')]]).toEqual([
      leaf('ka'),
      leaf('a1'),
      leaf('a1'),
    ])
    expect([w.origin[at('known')], w.origin[at('past')]]).toEqual([-1, -1])
    expect([w.desktop[at('both')], w.desktop[at('late')], w.desktop[at('gone')]]).toEqual([1, 1, 0])
  })
  it('is which clicks of each network it has within that network’s window', () => {
    const { w, at, leaf, data, place } = known()
    expect([w.touch[place('both', 'norrfeed')], w.touch[place('both', 'kelpie')]]).toEqual([
      leaf('a1'),
      leaf('ka'),
    ])
    expect([w.touch[place('late', 'kelpie')], w.touch[place('past', 'norrfeed')]]).toEqual([-1, -1])
    expect([w.touchDesktop[place('both', 'norrfeed')], w.touchDesktop[place('both', 'kelpie')]]).toEqual([
      0, 1,
    ])
    expect(w.touchDay[place('late', 'norrfeed')]).toBe(data.orders[at('late')]!.day - 2)
    // A network that looks back for an hour has no click of two days ago.
    const short = read(rows, { networks: [{ id: 'norrfeed', click_window_days: 1 }] })
    expect(short.w.touch[short.at('late') * short.w.networks + short.of('norrfeed')]).toBe(-1)
  })
  it('is how many that count each ad has, and which clicks its network bills by day', () => {
    const { w, leaf, data } = known()
    expect(w.certain[leaf('a1')]).toBe(2)
    expect(w.certain[leaf('ka')]).toBe(1)
    expect(w.certain[leaf('a2')]).toBe(0)
    expect([...w.clicks[leaf('a1')]!]).toEqual([
      [0, 7],
      [2, 7],
    ])
    expect([w.firstDay, w.days]).toEqual([data.orders[0]!.day, 41])
  })
})

describe('what networks claim', () => {
  it('is one by one, or summed by ad and day', () => {
    const { w, of, at, leaf } = read({
      ...rows,
      claimRows: [
        claim(2, { ...kelpie, transaction_id: 'both' }),
        claim(3, { ...kelpie, ad_id: 'kb', transaction_id: 'both' }),
        claim(3, { ...kelpie, transaction_id: 'late', kind: 'view' }),
      ],
      claims: [
        claimSum('2026-10-02', { click_through: '2', view_through: '1', value: '90.00' }),
        claimSum('2026-09-20', { ad_id: 'a2', click_through: '1', value: '20.00' }),
      ],
    })
    expect(w.listed[of('kelpie')]).toBe(true)
    expect(w.listed[of('norrfeed')]).toBe(false)
    // Of two claims on an order the first is its network's; what is by view is none.
    expect(w.claimed[at('both') * w.networks + of('kelpie')]).toBe(leaf('ka'))
    expect(w.claimed[at('late') * w.networks + of('kelpie')]).toBe(-1)
    const cells = w.cells.map(({ leaf: own, clicks, views, value }) => [own, clicks, views, value])
    expect(cells).toEqual([
      [leaf('a1'), 2, 1, 9000],
      [leaf('a2'), 1, 0, 2000],
    ])
    // The days begin with the first of all that is told.
    expect(w.cells[1]!.day).toBe(w.firstDay)
  })
  it('is nothing where nothing is there', () => {
    const { w, tallies } = read({})
    expect([w.firstDay, w.days, w.cells.length, tallies.stretches]).toEqual([0, 1, 0, 1])
  })
})

describe('the tallies of a network', () => {
  const tallied = () => {
    const { tallies, of, leaf } = read(rows)
    return {
      tallies,
      of,
      leaf,
      norrfeed: tallies.networks[of('norrfeed')]!,
      kelp: tallies.networks[of('kelpie')]!,
    }
  }
  it('count the orders with a click of it, tagged ones too, by device', () => {
    const { tallies, leaf, norrfeed, kelp } = tallied()
    expect([norrfeed.touches, norrfeed.tagged, kelp.touches, kelp.tagged]).toEqual([4, 1, 1, 0])
    expect(ofAllTime(norrfeed.touched)).toEqual([2, 1])
    expect(ofAllTime(kelp.touched)).toEqual([0, 1])
    expect([tallies.touched[leaf('a1')], tallies.touched[leaf('a2')], tallies.touched[leaf('ka')]]).toEqual([
      3, 1, 1,
    ])
    expect(norrfeed.desktopShare).toBeCloseTo(1.5 / 4, 12)
  })
  it('count the known ones that are credited to it, and count', () => {
    const { norrfeed, kelp } = tallied()
    expect([ofAllTime(norrfeed.led), ofAllTime(kelp.led)]).toEqual([
      [0, 1],
      [0, 1],
    ])
    expect([norrfeed.credited, norrfeed.identified]).toEqual([3, 2])
    expect([kelp.credited, kelp.identified]).toEqual([1, 1])
  })
  it('say how late orders are, how often another network has a click too, and whose they are', () => {
    const { of, norrfeed, kelp } = tallied()
    // Two on the day of the click and one two days after, drawn toward soon.
    expect(norrfeed.lag[0]).toBeCloseTo(2.25 / 3.5, 12)
    expect(norrfeed.lag[1]).toBeCloseTo(0.125 / 3.5, 12)
    expect(norrfeed.lag[2]).toBeCloseTo(1.0625 / 3.5, 12)
    expect(norrfeed.lag).toHaveLength(31)
    expect(kelp.crossed[of('norrfeed')]).toBeCloseTo(1 / 2, 12)
    expect(norrfeed.crossed[of('kelpie')]).toBe(0)
    expect(norrfeed.crossed[of('norrfeed')]).toBeCloseTo(2 / 3, 12)
    expect(norrfeed.ledOfTouched).toBeCloseTo(2.45 / 3.5, 12)
    expect(norrfeed.touchedOfLed).toBe(1)
  })
  it('say how many keep their identity, of those by the site', () => {
    const { tallies } = tallied()
    expect(tallies.orders).toBe(8)
    expect(tallies.identity).toBeCloseTo(5.5 / 9, 12)
    expect(tallies.knownElsewhere).toBe(2)
    expect(tallies.channels).toBe(true)
    expect(read({ orders: [order('o', 0)] }).tallies.channels).toBe(false)
  })
  it('say when more or fewer left no trace', () => {
    const day = (d: number, kept: number, lost: number) =>
      Array.from({ length: kept + lost }, (_, i) =>
        order(`o${d}-${i}`, d * DAY + 1, i < kept ? { visitor_id: `v${d}-${i}` } : {}),
      )
    const { tallies: own } = read({
      orders: [0, 1, 2, 3].flatMap(d => day(d, d < 2 ? 90 : 30, d < 2 ? 10 : 70)),
    })
    const of4 = (list: number[]) => Float64Array.of(...list)
    const identity = 240.5 / 401
    const shares = sharesInTime(of4([90, 90, 30, 30]), of4([100, 100, 100, 100]), identity).share
    shares.forEach((share, t) => expect(own.lossOdds[t]).toBeCloseTo((1 / share - 1) / (1 / identity - 1), 9))
    expect(own.lossOdds[0]).toBeLessThan(0.3)
    expect(own.lossOdds[3]).toBeGreaterThan(3)
    expect([own.stretches, own.stretchOf(-1e6), own.stretchOf(1e6)]).toEqual([4, 0, 3])
  })
  it('part long times into no more than can be told apart', () => {
    const { tallies: long, data } = read({ orders: [order('a', 0), order('b', 299 * DAY)] })
    const first = data.orders[0]!.day
    expect(long.stretches).toBe(100)
    expect([0, 2, 3, 299].map(day => long.stretchOf(first + day))).toEqual([0, 0, 1, 99])
  })
})
