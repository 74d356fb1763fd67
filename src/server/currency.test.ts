import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { resultSchema } from '@/core/signals/result'
import { changesBetween } from '@/data/changeLog'
import type { Database } from '@/data/connect'
import { listDefinitions, saveDefinition } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, saveSettings } from '@/data/workspace'
import { changeCurrency } from './currency'
import { importFile } from './import/importFile'
import { keepDefinition } from './signals/definitions'
import { ensureWorkspace, settleWorkspace } from './workspace'

let database: Database
let stop: () => Promise<void>
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
})
afterAll(() => stop())
const here = async () => (await findWorkspace(database, 'main'))!

describe('what somebody changes', () => {
  it('is marked on its day, once for each thing, and nothing is that stays as it was', async () => {
    const marks = async () => {
      const found = await changesBetween(database, 'main', { from: 0, to: 60_000 })
      return found.map(({ what, about }) => [what, about])
    }
    await ensureWorkspace(database)
    expect(await settleWorkspace(database, await here(), { name: 'Elsewhere', first_weekday: 7 })).toBeNull()
    expect(await marks()).toEqual([])
    for (const margin of [0.4, 1])
      await settleWorkspace(database, await here(), { margin, click_window_days: 30 })
    const [order] = await listDefinitions(database, 'main')
    await keepDefinition(database, 'main', order!, { isNew: false })
    expect(await marks()).toEqual([
      ['result', 'Order'],
      ['settings', 'margin'],
    ])
    expect(await changesBetween(database, 'main', { from: 0, to: 100 })).toEqual([])
  })
})

describe('the currency in which everything is counted', () => {
  it('is another one as long as nothing is held, and orders are counted in it', async () => {
    const workspace = await ensureWorkspace(database)
    expect(await changeCurrency(database, workspace, 'GBX2')).toContain('is no currency')
    expect(await changeCurrency(database, workspace, 'GBP')).toBeNull()
    expect((await here()).settings.currency).toBe('GBP')
    expect((await listDefinitions(database, 'main')).map(d => d.currency)).toEqual(['GBP'])
  })
  it('changes only where all that is held has a rate into it, and takes the target along', async () => {
    await saveSettings(database, 'main', { ...(await here()).settings, target_cost: 20 })
    const order = 'order_id,ordered_at,status,currency,total\nA,2026-11-02T10:00:00Z,paid,GBP,10.00\n'
    await importFile(database, await here(), 'orders', order)
    expect(await changeCurrency(database, await here(), 'EUR')).toContain(
      'Amounts in GBP are held, and one day has no rate into EUR, the first 2026-11-02.',
    )
    expect((await here()).settings).toMatchObject({ currency: 'GBP', target_cost: 20 })
    await importFile(database, await here(), 'rates', 'date,base,quote,rate\n2026-11-02,GBP,EUR,1.15\n')
    expect(await changeCurrency(database, await here(), 'EUR')).toBeNull()
    expect((await here()).settings).toMatchObject({ currency: 'EUR', target_cost: 23 })
  })
  it('changes with the rest that is said of a business, or nothing of it does', async () => {
    const said = { name: 'Webstube', time_zone: 'Europe/Berlin', margin: 0.45 }
    expect(await settleWorkspace(database, await here(), { ...said, currency: 'CHF' })).toContain(
      'no rate into CHF',
    )
    expect((await here()).settings.margin).toBe(1)
    expect(await settleWorkspace(database, await here(), { ...said, currency: 'GBP' })).toBeNull()
    // The target goes along, and is not what it was before.
    expect(await here()).toMatchObject({
      name: 'Webstube',
      settings: { currency: 'GBP', margin: 0.45, time_zone: 'Europe/Berlin', target_cost: 20 },
    })
    expect(await settleWorkspace(database, await here(), { ...said, currency: 'EUR' })).toBeNull()
  })
  it('stays where a result is worth an amount that has no rate', async () => {
    const worth = {
      id: 'call',
      name: 'Call',
      kind: 'call',
      currency: 'USD',
      value: { by: 'fixed', amount: 500 },
      count: 'every',
    }
    await saveDefinition(database, 'main', resultSchema.parse(worth))
    expect(await changeCurrency(database, await here(), 'GBP')).toContain('“Call” is worth an amount in USD')
    expect((await here()).settings.currency).toBe('EUR')
  })
})
