import { v7 } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { arrivalFilterSchema } from '@/core/intake/arrivalFilter'
import { countByMinute, findClicks, latestClicks, MINUTES } from './arrivals'
import type { Database } from './connect'
import { clicks, orders } from './schema'
import { insertRows } from './store'
import { openTestDatabase } from './testDatabase'

let database: Database
let stop: () => Promise<void>
const until = Date.UTC(2026, 10, 20, 0, 20, 30)
const MINUTE = 60_000
const click = (minutesAgo: number, more: object = {}) => {
  const at = until - minutesAgo * MINUTE
  const instant = new Date(at).toISOString()
  return {
    workspace: 'w',
    day: instant.slice(0, 10),
    click_id: v7({ msecs: at }),
    clicked_at: instant,
    network: 'norrfeed',
    campaign_id: 'c1',
    ad_id: 'a1',
    bot: false,
    repeated: false,
    ...more,
  }
}
// Some of the hour lie on the day before.
const recent = [click(0), click(0), click(30), click(59, { network: 'kelpie', campaign_id: 'k1' }), click(61)]
const marked = [click(5, { bot: true }), click(6, { repeated: true }), click(7, { ad_id: null })]
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  await insertRows(
    database,
    clicks,
    [...recent, ...marked, click(10, { click_id: 'an-imported-one' })],
    row => row,
  )
  const order = {
    workspace: 'w',
    order_id: 'T1',
    status: 'paid',
    result: 'order',
    currency: 'EUR',
    total: 100,
    tax: 0,
    shipping: 0,
    refunded: 0,
  }
  await insertRows(database, orders, [order], row => ({ ...row, ordered_at: new Date(until).toISOString() }))
})
afterAll(() => stop())

it('counts arrivals by the minute of an hour, over midnight, and nothing before it', async () => {
  const counts = await countByMinute(database, 'w', until)
  expect(counts.click).toHaveLength(MINUTES)
  expect([counts.click.at(-1), counts.click.at(-31), counts.click[0]]).toEqual([2, 1, 1])
  expect(counts.click.reduce((a, b) => a + b, 0)).toBe(8)
  expect(counts.order.at(-1)).toBe(1)
  expect((await countByMinute(database, 'another', until)).click.every(n => n === 0)).toBe(true)
})

it('finds clicks by ID, also one that tells no day, and each once', async () => {
  const wanted = [recent[0]!.click_id, recent[3]!.click_id, 'an-imported-one', 'nobody', recent[0]!.click_id]
  const found = await findClicks(database, 'w', wanted)
  expect(found.map(c => c.click_id).sort()).toEqual(
    [recent[0]!.click_id, recent[3]!.click_id, 'an-imported-one'].sort(),
  )
  expect(await findClicks(database, 'w', [])).toEqual([])
})

describe('the latest clicks', () => {
  const filtered = async (filter: object) =>
    (await latestClicks(database, 'w', arrivalFilterSchema.parse(filter), 50)).length
  it('are narrowed by network, campaign and problem', async () => {
    expect(await filtered({})).toBe(9)
    expect(await filtered({ network: 'kelpie' })).toBe(1)
    expect(await filtered({ network: 'norrfeed', campaign: 'c1' })).toBe(8)
    expect(await filtered({ problem: 'not_counted' })).toBe(2)
    expect(await filtered({ problem: 'no_ad' })).toBe(1)
    expect(await filtered({ problem: 'any' })).toBe(3)
    // What no click can have finds none, and what is no filter is none.
    expect(await filtered({ problem: 'unread' })).toBe(0)
    expect(await filtered({ problem: 'nonsense', kind: 7 })).toBe(9)
  })
})
