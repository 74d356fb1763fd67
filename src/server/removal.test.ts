import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Database } from '@/data/connect'
import { countIdle } from '@/data/removal'
import { hops, relays, setAside } from '@/data/schema'
import { openTestDatabase } from '@/data/testDatabase'
import { createWorkspace, findWorkspace, saveSettings } from '@/data/workspace'
import { exportedFiles } from './exportedFiles'
import { importFile } from './import/importFile'
import { KEPT_DAYS, previewRemoval, remove, tidyRecords, undoRemoval } from './removal'

const DAY = 86_400_000
const NOW = Date.UTC(2026, 10, 20)
let database: Database
let stop: () => Promise<void>
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  const workspace = await here()
  const take = (kind: Parameters<typeof importFile>[2], text: string) =>
    importFile(database, workspace, kind, text)
  await take('orders', orders)
  await take(
    'delivery',
    'date,network,campaign_id,currency,spend\n2026-10-01,norrfeed,c,EUR,5.00\n2026-10-02,norrfeed,c,EUR,6.00\n2026-10-02,kelpie,k,EUR,7.00\n',
  )
  await take(
    'clicks',
    'click_id,clicked_at,network,campaign_id\nk1,2026-10-01T09:00:00Z,norrfeed,c\nk2,2026-10-02T23:30:00Z,kelpie,k\n',
  )
})
afterAll(() => stop())
const here = async () => (await findWorkspace(database, 'w'))!
const held = async () => exportedFiles(database, await here())
const orders =
  'order_id,ordered_at,status,currency,total\nA,2026-10-01T10:00:00Z,paid,EUR,10.00\nB,2026-10-02T10:00:00Z,paid,EUR,20.00\n'

describe('what was taken in', () => {
  it('is removed by kind, days and network, as it was said before, and comes back as it was', async () => {
    const before = await held()
    for (const [removal, counts, left] of [
      [{ kinds: ['orders'] }, { orders: 2 }, {}],
      [{ kinds: ['reports'], network: 'norrfeed' }, { reports: 2 }, {}],
      [{ kinds: ['reports', 'orders'], from: '2026-10-02', to: '2026-10-02' }, { reports: 2, orders: 1 }, {}],
      // A click shortly before midnight in Lisbon is of that day.
      [{ kinds: ['clicks'], from: '2026-10-03' }, { clicks: 1 }, {}],
      [{ kinds: ['orders'], network: 'kelpie' }, {}, before],
    ] as const) {
      expect(await previewRemoval(database, await here(), removal)).toEqual(counts)
      const removed = await remove(database, await here(), removal, NOW)
      const after = await held()
      expect(after).toMatchObject(left)
      if (Object.keys(counts).length > 0) expect(after).not.toEqual(before)
      await undoRemoval(database, await here(), removed)
      expect(await held()).toEqual(before)
    }
  })
  it('stays as it came anew meanwhile', async () => {
    const removed = await remove(database, await here(), { kinds: ['orders'] }, NOW)
    await importFile(database, await here(), 'orders', orders.replace('10.00', '11.00').split('\nB')[0]!)
    await undoRemoval(database, await here(), removed)
    const { 'orders.csv': text } = await held()
    expect(text).toContain('EUR,11.00')
    expect(text).toContain('EUR,20.00')
  })
  it('is another workspace’s in no case, and gone for good after its time', async () => {
    await createWorkspace(database, 'other', 'Other', (await here()).settings, [])
    const theirs = (await findWorkspace(database, 'other'))!
    await importFile(database, theirs, 'orders', orders)
    const gone = await remove(database, theirs, { kinds: ['orders'] }, NOW)
    await undoRemoval(database, await here(), gone)
    expect(await exportedFiles(database, theirs)).not.toHaveProperty('orders.csv')
    await undoRemoval(database, theirs, gone)
    expect(await exportedFiles(database, theirs)).toHaveProperty('orders.csv')
    const removed = await remove(database, await here(), { kinds: ['orders'] }, NOW)
    await tidyRecords(database, NOW + (KEPT_DAYS - 1) * DAY)
    await undoRemoval(database, await here(), removed)
    expect((await held())['orders.csv']).toContain('20.00')
    const again = await remove(database, await here(), { kinds: ['orders'] }, NOW)
    await tidyRecords(database, NOW + (KEPT_DAYS + 1) * DAY)
    await undoRemoval(database, await here(), again)
    expect(await held()).not.toHaveProperty('orders.csv')
  })
})

it('keeps what no figure stands on for as long as is said, and all else', async () => {
  const old = new Date(NOW - 90 * DAY)
  const day = old.toISOString().slice(0, 10)
  await database.insert(hops).values({ workspace: 'w', day, hop_id: 'h', at: old, code: 'c', offer: 'o' })
  const told = { workspace: 'w', network: 'kelpie', result: 'order', at: old, facts: {}, next_at: old }
  await database.insert(relays).values([
    { ...told, event_id: 'done', state: 'taken' },
    { ...told, event_id: 'due', state: 'waiting' },
  ])
  const aside = { workspace: 'w', kind: 'row', at: old, reason: 'required', facts: {}, raw: '' }
  await database.insert(setAside).values([
    { ...aside, id: 'open' },
    { ...aside, id: 'done', settled: 'dropped' },
  ])
  const before = await held()
  const idle = async () => countIdle(database, 'w', new Date(NOW - 60 * DAY))
  expect(await idle()).toBe(3)
  await tidyRecords(database, NOW)
  expect(await idle()).toBe(3)
  await saveSettings(database, 'w', { ...(await here()).settings, keep_days: 60 })
  await tidyRecords(database, NOW)
  expect(await idle()).toBe(0)
  expect((await database.select().from(relays)).map(r => r.event_id)).toEqual(['due'])
  expect((await database.select().from(setAside)).map(r => r.id)).toEqual(['open'])
  expect(await held()).toEqual(before)
})
