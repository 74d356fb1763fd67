import { Webhook } from 'standardwebhooks'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Database } from '@/data/connect'
import { loadRecords } from '@/data/loadRecords'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { takeOrderMessage, webhookSecret } from './orderWebhook'
import { asideGroups, mendGroup } from './setAside'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace
let secret: string
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  workspace = (await findWorkspace(database, 'w'))!
  secret = await webhookSecret(database, 'w')
})
afterAll(() => stop())

const order = (more: object = {}) => ({
  order_id: 'T1',
  ordered_at: '2026-11-01T10:00:00Z',
  currency: 'EUR',
  total: '149.00',
  ...more,
})
const T = Date.UTC(2026, 10, 1, 10)
const message = (type: string, minutes: number, more: object = {}) =>
  JSON.stringify({
    type: `order.${type}`,
    timestamp: new Date(T + minutes * 60_000).toISOString(),
    data: order(more),
  })
let number = 0
const send = (body: string, { id = `m${++number}`, at = new Date(), key = secret } = {}) =>
  takeOrderMessage(database, workspace, body, {
    'webhook-id': id,
    'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
    'webhook-signature': new Webhook(key).sign(id, at, body),
  })
const known = async (id = 'T1') => {
  const found = (await loadRecords(database, 'w')).orders.find(o => o.order_id === id)
  return found && [found.status, found.total, found.refunded]
}

describe('the shop’s signed messages', () => {
  it('are refused with a wrong signature or an old timestamp, and change nothing when they come again', async () => {
    const body = message('created', 0)
    expect(await send(body, { key: 'whsec_YW5vdGhlciBzZWNyZXQgYWx0b2dldGhlcg==' })).toMatchObject({
      status: 401,
    })
    expect(await send(body, { at: new Date(Date.now() - 3_600_000) })).toMatchObject({ status: 400 })
    expect(await takeOrderMessage(database, workspace, body, {})).toMatchObject({ status: 401 })
    expect(await known()).toBeUndefined()
    expect(await send(body, { id: 'once' })).toMatchObject({ status: 200, outcome: 'taken' })
    expect(await send(body, { id: 'once' })).toMatchObject({ status: 200, outcome: 'again' })
    expect(await known()).toEqual(['paid', 14900, 0])
  })
  it('may come out of order: the latest state holds', async () => {
    const refunded = message('refunded', 30, { order_id: 'T2', refunded: '49.00' })
    expect(await send(refunded)).toMatchObject({ outcome: 'taken' })
    expect(await send(message('created', 0, { order_id: 'T2' }))).toMatchObject({ outcome: 'older' })
    expect(await known('T2')).toEqual(['partially_refunded', 14900, 4900])
    await send(message('cancelled', 40, { order_id: 'T2', refunded: '149.00' }))
    expect(await known('T2')).toEqual(['cancelled', 14900, 14900])
  })
  it('that cannot be read are refused with the field and the reason', async () => {
    expect(await send(message('created', 0, { order_id: 'T3', total: '-1.00' }))).toEqual({
      status: 422,
      error: 'data.total: negative amount.',
    })
    expect(await send(message('created', 0, { order_id: null }))).toMatchObject({
      status: 422,
      error: expect.stringContaining('order_id'),
    })
    expect(await send('{"type":"order.lost"}')).toMatchObject({ status: 422 })
    expect(await known('T3')).toBeUndefined()
  })
  it('in a currency without a rate are set aside, not lost', async () => {
    const dollars = message('created', 0, { order_id: 'T4', currency: 'USD' })
    expect(await send(dollars)).toMatchObject({ status: 202, outcome: 'set_aside' })
    const groups = await asideGroups(database, 'w')
    expect(groups).toMatchObject([{ kind: 'order', reason: 'no_rate', facts: { currency: 'USD' } }])
    const [group] = groups
    expect(await mendGroup(database, workspace, group!, { do: 'again' })).toBe(0)
    expect(
      await mendGroup(database, workspace, group!, { do: 'rate', date: '2026-11-01', rate: '1.10' }),
    ).toBe(1)
    expect([await known('T4'), await asideGroups(database, 'w')]).toEqual([['paid', 14900, 0], []])
  })
})
