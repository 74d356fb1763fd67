import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { clickColumns } from '@/core/intake/clicks'
import { buildDataset } from '@/core/intake/dataset'
import { exchangeFiles } from '@/core/intake/records'
import { settingsSchema } from '@/core/intake/settings'
import { sourceKinds } from '@/core/links/sources'
import { parseDay, spanOf } from '@/core/shared/days'
import { provenCredits } from '@/core/weigh/credits'
import { type Evidence, gatherEvidence } from '@/core/weigh/evidence'
import type { Database } from '@/data/connect'
import { countAdClicks } from '@/data/sources'
import { storeRecords } from '@/data/storeRecords'
import { openTestDatabase } from '@/data/testDatabase'
import { gatherSources, openSource } from './sources'

const period = { from: parseDay('2026-11-01')!, to: parseDay('2026-11-02')! }
let database: Database
let stop: () => Promise<void>
const click = (click_id: string, clicked_at: string, more: object = {}) =>
  exchangeFiles.clicks.schema.parse({
    click_id,
    clicked_at,
    network: 'kelpie',
    campaign_id: 'c1',
    ad_id: 'a1',
    visitor_id: click_id,
    ...more,
  })
const order = (order_id: string, click_id: string, more: object = {}) =>
  exchangeFiles.orders.schema.parse({
    order_id,
    ordered_at: '2026-11-02T09:00:00Z',
    status: 'paid',
    currency: 'EUR',
    total: '20.00',
    click_id,
    ...more,
  })
const loom = { keyword: 'loom', match_type: 'phrase' }
const odd = "s-1'; drop table clicks; --"
const clicks = [
  click('before', '2026-10-20T10:00:00Z', { keyword: 'loom', match_type: 'broad' }),
  click('first', '2026-11-01T00:00:00Z', loom),
  click('second', '2026-11-01T23:59:59Z', { ...loom, visitor_id: 'first' }),
  click('third', '2026-11-02T00:00:00Z', { keyword: 'loom', match_type: 'exact' }),
  click('other', '2026-11-01T12:00:00Z', { network: 'parkfold', source: odd, device: 'phone' }),
  click('silent', '2026-11-01T12:00:00Z'),
]
const orders = [
  order('o1', 'second', { visitor_id: 'first' }),
  order('o2', 'second', { visitor_id: 'first', status: 'partially_refunded', refunded: '5.00' }),
  order('o3', 'second', { status: 'cancelled' }),
  order('o4', 'third', { currency: 'GBP', total: '10.00' }),
  order('o5', 'before'),
  order('o6', 'silent'),
  order('late', 'third', { ordered_at: '2026-12-20T09:00:00Z' }),
]
const evidenceBy = (credit: string): Evidence =>
  gatherEvidence(
    buildDataset(
      {
        delivery: [],
        clicks: clickColumns(clicks),
        orders,
        claims: [],
        claimRows: [],
        rates: [{ day: period.to, base: 'GBP', quote: 'EUR', rate: '1.2' }],
      },
      settingsSchema.parse({ credit }),
    ),
  )
const ask = (credit: string, network?: string) => ({
  period,
  zone: 'Europe/Lisbon',
  network,
  credits: provenCredits(evidenceBy(credit), period, network),
})

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  await storeRecords(database, 'w', 'clicks', clicks)
})
afterAll(() => stop())

describe('sources', () => {
  it('count the clicks of the days and the orders proven by them, in the workspace’s money', async () => {
    const lines = await gatherSources(database, 'w', { kind: 'keyword', ...ask('last_click') })
    expect(lines.map(l => [l.values, l.clicks, l.visitors, l.orders, l.value])).toEqual([
      [['loom', 'phrase'], 2, 1, 2, 3500],
      [['loom', 'exact'], 1, 1, 1, 1200],
      // its click is of earlier days
      [['loom', 'broad'], 0, 0, 1, 2000],
    ])
  })
  it('leave out other networks when one is asked for', async () => {
    const lines = await gatherSources(database, 'w', { kind: 'device', ...ask('last_click', 'parkfold') })
    expect(lines).toEqual([
      { network: 'parkfold', values: ['phone'], clicks: 1, visitors: 1, orders: 0, value: 0 },
    ])
  })
  it('open exactly the clicks and orders that they count, whatever the credit rule', async () => {
    for (const credit of ['last_click', 'first_click', 'even', 'time_decay'])
      for (const kind of sourceKinds) {
        const asked = { kind, ...ask(credit) }
        for (const line of await gatherSources(database, 'w', asked)) {
          const opened = await openSource(database, 'w', { ...asked, ...line }, 50)
          const brought = opened.flatMap(c => c.order ?? [])
          expect(brought.reduce((sum, o) => sum + o.share, 0)).toBeCloseTo(line.orders, 9)
          expect(brought.reduce((sum, o) => sum + o.value, 0)).toBe(line.value)
          const within = new Set(opened.filter(c => !c.earlier).map(c => c.id))
          expect(within.size).toBe(line.clicks)
        }
      }
  })
  it('are asked for by their value as it stands', async () => {
    const asked = { kind: 'source', ...ask('last_click') } as const
    const opened = await openSource(database, 'w', { ...asked, network: 'parkfold', values: [odd] }, 50)
    expect(opened.map(c => c.id)).toEqual(['other'])
  })
})

it('counts clicks by ad over whole days of the zone', async () => {
  const onFirst = async (zone: string) =>
    Object.fromEntries(
      await countAdClicks(database, 'w', spanOf({ from: period.from, to: period.from }, zone)),
    )
  expect(await onFirst('Europe/Lisbon')).toEqual({ 'kelpie/a1': 3, 'parkfold/a1': 1 })
  // The first click came before that day there, and the third one within it.
  expect(await onFirst('America/Bogota')).toEqual({ 'kelpie/a1': 3, 'parkfold/a1': 1 })
  expect(await onFirst('Asia/Kathmandu')).toEqual({ 'kelpie/a1': 2, 'parkfold/a1': 1 })
})
