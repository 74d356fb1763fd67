import { afterAll, beforeAll, expect, it } from 'vitest'
import { clickColumns } from '@/core/intake/clicks'
import { buildDataset } from '@/core/intake/dataset'
import { gatherEvidence } from '@/core/weigh/evidence'
import type { Database } from '@/data/connect'
import { listDecisions } from '@/data/decisions'
import { loadRecords } from '@/data/loadRecords'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { judgeView } from './compute/views/judged'
import { adoptSettings, folderSettings } from './counting'
import { decide, undo } from './decisions'
import { importFile } from './import/importFile'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace
const here = async () => (await findWorkspace(database, 'w'))!

const files = {
  orders: ['o1', 'o2', 'o3'].map((order_id, i) => ({
    order_id,
    ordered_at: `2026-11-0${i + 1}T10:00:00Z`,
    status: 'paid',
    currency: 'EUR',
    total: '50.00',
    customer_id: `u${i}`,
  })),
  'claim-rows': ['o1', 'x9'].map((transaction_id, i) => ({
    claimed_at: `2026-11-0${i + 1}T10:05:00Z`,
    network: 'kelpie',
    ad_id: 'a1',
    conversion: 'purchase',
    kind: 'click',
    transaction_id,
    value: '50.00',
    currency: 'EUR',
  })),
}
const takeIn = async () => {
  for (const kind of ['orders', 'claim-rows'] as const)
    await importFile(database, workspace, kind, writeCsv(Object.keys(files[kind][0]!), files[kind]))
}
const judged = async () => {
  const data = buildDataset(
    { ...(await loadRecords(database, 'w')), clicks: clickColumns([]) },
    workspace.settings,
  )
  return judgeView(gatherEvidence(data), { period: { from: 0, to: 40_000 }, level: 'ad' })
}

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  workspace = await here()
  await takeIn()
})
afterAll(() => stop())

it('what is settled by hand moves every figure, survives a file taken in again, and can be taken back', async () => {
  const before = await judged()
  expect(before.gap).toMatchObject({ orders: 3, claims: 2, matched: 1 })
  const { version } = await here()
  const claims = (await loadRecords(database, 'w')).claimRows
  const key = (claims.find(one => one.transaction_id === 'x9') as { claim_key?: string }).claim_key!
  const made = []
  for (const decided of [
    { about: 'test', order: 'o3', why: 'our own card', by: 'Ana' },
    { about: 'claim', claim: key, order: 'o2', why: 'the shop changed its numbers' },
  ]) {
    const decision = await decide(database, 'w', decided, 5)
    if (typeof decision === 'string') throw new Error(decision)
    made.push(decision)
  }
  const settled = await judged()
  expect(settled.gap).toMatchObject({ orders: 2, claims: 2, matched: 2 })
  expect((await here()).version).toBeGreaterThan(version)

  await takeIn()
  expect((await judged()).gap).toEqual(settled.gap)
  // They go along with an export, and in again once.
  const given = await folderSettings(database, await here())
  expect(given.decisions).toHaveLength(2)
  await adoptSettings(database, await here(), given)
  expect((await listDecisions(database, 'w')).map(({ by, why, at }) => [by, why, at])).toEqual([
    ['Ana', 'our own card', 5],
    ['somebody here', 'the shop changed its numbers', 5],
  ])

  for (const { id } of made) expect(await undo(database, 'w', id, 6)).toBe(true)
  expect(await undo(database, 'w', made[0]!.id, 7)).toBe(false)
  expect(await judged()).toEqual(before)
})

it('is refused with words where it says nothing that can be settled', async () => {
  expect(await decide(database, 'w', { about: 'test', order: 'o1', why: ' ' }, 1)).toContain('say why')
  expect(await decide(database, 'w', { about: 'whim', order: 'o1', why: 'so' }, 1)).toContain('about')
  expect(await listDecisions(database, 'w')).toEqual([])
})
