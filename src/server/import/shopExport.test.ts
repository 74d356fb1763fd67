import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Database } from '@/data/connect'
import { heldOrders } from '@/data/shopOrders'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace } from '@/data/workspace'
import { compareExport, lookAtExport, takeExport } from './shopExport'

let database: Database
let stop: () => Promise<void>
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
})
afterAll(() => stop())
const here = async () => (await findWorkspace(database, 'w'))!
const input = async (content: string) => {
  const { mapping } = await lookAtExport(database, await here(), content)
  return { file: 'orders.csv', mapping, content }
}
const take = async (content: string) => takeExport(database, await here(), await input(content))
const held = async () =>
  (await heldOrders(database, 'w', ['A1', 'A2'])).map(one => [one.order_id, one.status, one.refunded])

describe('refunds that a file does not mention', () => {
  const orders = (more = '') =>
    `Order number;Date;Total;Currency${more && ';Refunded'}\nA1;2026-10-01;100.00;EUR${more && `;${more}`}\nA2;2026-10-02;40.00;EUR${more && ';0.00'}\n`
  it('stay, whatever later exports of the same orders say of all else', async () => {
    await take(orders())
    await take('Order number;Refund amount;Refund date\nA1;25.00;2026-10-05\nA2;40.00;2026-10-06\n')
    const refunded = [
      ['A1', 'partially_refunded', '25.00'],
      ['A2', 'refunded', '40.00'],
    ]
    expect(await held()).toEqual(refunded)
    const again = orders()
    expect(await compareExport(database, await here(), await input(again))).toMatchObject({ changedCount: 0 })
    await take(again)
    expect(await held()).toEqual(refunded)
    // Less was paid than was said to have gone back: no more can.
    await take(again.replace('100.00', '20.00'))
    expect((await held())[0]).toEqual(['A1', 'partially_refunded', '20.00'])
  })
  it('are replaced by those that a file does mention', async () => {
    await take(orders('5.00'))
    expect(await held()).toEqual([
      ['A1', 'partially_refunded', '5.00'],
      ['A2', 'paid', '0.00'],
    ])
  })
})

it('shows what a file comes to before it is taken in, to be held beside its own totals', async () => {
  const content = [
    'Order number;Date;Total;Currency;Status;Refunded',
    'B1;2026-09-30;100.00;EUR;paid;0.00',
    'B2;2026-10-01;60.00;EUR;paid;10.00',
    'B3;2026-10-02;40.00;EUR;cancelled;0.00',
    'B4;2026-10-02;7.00;GBP;paid;0.00',
  ].join('\n')
  const difference = await compareExport(database, await here(), await input(content))
  if (difference.holds !== 'orders') throw new Error(difference.holds)
  const rows = difference.money.map(({ by, name, currency, orders, total, refunded, revenue }) => [
    `${by} ${name}`.trim(),
    currency,
    orders,
    total,
    refunded,
    revenue,
  ])
  expect(rows).toEqual([
    ['all', 'EUR', 3, 20_000, 1000, 15_000],
    ['all', 'GBP', 1, 700, 0, 700],
    ['status cancelled', 'EUR', 1, 4000, 0, 0],
    ['status paid', 'EUR', 1, 10_000, 0, 10_000],
    ['status paid', 'GBP', 1, 700, 0, 700],
    ['status partially_refunded', 'EUR', 1, 6000, 1000, 5000],
    ['month 2026-09', 'EUR', 1, 10_000, 0, 10_000],
    ['month 2026-10', 'EUR', 2, 10_000, 1000, 5000],
    ['month 2026-10', 'GBP', 1, 700, 0, 700],
  ])
})

it('says that the same file changes nothing, and leaves what a later one has no column for', async () => {
  const full =
    'Order number;Date;Total;Currency;Channel;Landing page\nD1;2026-10-01;10.00;EUR;Web;utm_source=kelpie\n'
  await take(full)
  expect(await compareExport(database, await here(), await input(full))).toMatchObject({ changedCount: 0 })
  await take('Order number;Date;Total;Currency\nD1;2026-10-01;11.00;EUR\n')
  const [order] = await heldOrders(database, 'w', ['D1'])
  expect(order).toMatchObject({ total: '11.00', channel: 'web', landing_url: 'utm_source=kelpie' })
})
