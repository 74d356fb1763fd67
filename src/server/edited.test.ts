import { afterAll, beforeAll, expect, it } from 'vitest'
import { resultSchema } from '@/core/signals/result'
import { ruleSchema } from '@/core/signals/rule'
import type { Database } from '@/data/connect'
import { listDefinitions, listRules } from '@/data/signals'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace } from '@/data/workspace'
import { keepDefinition } from './signals/definitions'
import { keepRule } from './signals/rules'
import { settleWorkspace } from './workspace'

// Two browsers have the same form open: what one of them keeps is not put back by the other.

let database: Database
let stop: () => Promise<void>
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
})
afterAll(() => stop())

const here = async () => (await findWorkspace(database, 'w'))!
/** What the form of the settings sends: all of its fields, touched or not. */
const form = (more: object = {}) => ({ name: 'Tarnbrook', margin: 0.5, click_window_days: 30, ...more })

it('of settings keeps what each touched, asks where both did, and takes back its own alone', async () => {
  expect(await settleWorkspace(database, await here(), form())).toBeNull()
  const settle = async (mine: object, before: object, over = false) =>
    settleWorkspace(database, await here(), form(mine), { before: form(before), over })
  expect(await settle({ margin: 0.4 }, {})).toBeNull()
  // The second browser still shows a margin of 0.5.
  expect(await settle({ click_window_days: 7 }, {})).toBeNull()
  expect((await here()).settings).toMatchObject({ margin: 0.4, click_window_days: 7 })
  expect(await settle({ margin: 0.6, name: 'Looms' }, {})).toEqual({
    clashes: [{ at: 'margin', now: 0.4, mine: 0.6 }],
  })
  // Nothing of it was kept.
  expect(await here()).toMatchObject({ name: 'Tarnbrook', settings: { margin: 0.4 } })
  // The first takes its margin back; the window of the second stays.
  expect(await settle({}, { margin: 0.4 })).toBeNull()
  expect((await here()).settings).toMatchObject({ margin: 0.5, click_window_days: 7 })
  expect(await settle({ margin: 0.6 }, { margin: 0.3 }, true)).toBeNull()
  expect((await here()).settings.margin).toBe(0.6)
})
it('merges lines of campaigns one by one', async () => {
  const line = (campaign: string, margin: number) => ({ network: 'norrfeed', campaign, margin })
  const keep = async (mine: object[], before: object[]) =>
    settleWorkspace(
      database,
      await here(),
      { campaign_rules: mine as never },
      { before: { campaign_rules: before as never } },
    )
  expect(await keep([line('c1', 0.3)], [])).toBeNull()
  expect(await keep([line('c2', 0.2)], [])).toBeNull()
  expect((await here()).settings.campaign_rules).toEqual([line('c1', 0.3), line('c2', 0.2)])
})
it('of a result and of a rule as well', async () => {
  const lead = resultSchema.parse({
    id: 'lead',
    name: 'Lead',
    kind: 'lead',
    currency: 'EUR',
    value: { by: 'fixed', amount: 300 },
    count: 'once',
  })
  const keep = (mine: object, isNew = false) =>
    keepDefinition(database, 'w', { ...lead, ...mine }, { isNew, ...(isNew ? {} : { before: lead }) })
  expect(await keep({}, true)).toBeNull()
  expect(await keep({ margin: 0.4 })).toBeNull()
  expect(await keep({ count: 'every' })).toBeNull()
  const [kept] = (await listDefinitions(database, 'w')).filter(d => d.id === 'lead')
  expect(kept).toMatchObject({ margin: 0.4, count: 'every' })
  expect(await keep({ margin: 0.2 })).toEqual({ clashes: [{ at: 'margin', now: 0.4, mine: 0.2 }] })

  const rule = ruleSchema.parse({ id: 'r', result: 'lead', when: { on: 'page' } })
  await keepRule(database, 'w', rule)
  const where = { any: [{ by: 'equals' as const, text: '/thanks' }], none: [] }
  await keepRule(database, 'w', { ...rule, where }, { before: rule })
  await keepRule(database, 'w', { ...rule, when: { on: 'scroll', share: 50 } }, { before: rule })
  expect(await listRules(database, 'w')).toMatchObject([{ where, when: { on: 'scroll', share: 50 } }])
})
