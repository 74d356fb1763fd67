import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { routingSchema } from '@/core/intake/routing'
import { namingRuleSchema } from '@/core/links/naming'
import type { Database } from '@/data/connect'
import { listFormerNames } from '@/data/entities'
import { loadRecords } from '@/data/loadRecords'
import { saveNamingRule } from '@/data/namingRules'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, listEntities, type Workspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { exportedFiles, rowsOf } from '../exportedFiles'
import { importFile } from './importFile'

let database: Database
let folder: string
let stop: () => Promise<void>
let workspace: Workspace
beforeAll(async () => {
  ;({ database, folder, stop } = await openTestDatabase())
  workspace = (await findWorkspace(database, 'w'))!
})
afterAll(() => stop())

const take = (kind: 'ads' | 'delivery', rows: Record<string, string>[]) =>
  importFile(database, workspace, kind, writeCsv(Object.keys(rows[0]!), rows))
const held = async () =>
  Object.fromEntries((await listEntities(database, 'w')).map(e => [`${e.level} ${e.id}`, e]))
const ad = {
  network: 'kelpie',
  campaign_id: 'c1',
  campaign_name: 'Looms, autumn',
  ad_set_id: 's1',
  ad_set_name: 'Table loom',
  ad_id: 'a1',
  ad_name: 'First — “cloth”',
  landing_page: 'https://tarnbrook.example/kits',
  address: 'https://tarnbrook.example/kits?utm_source=kelpie',
}

it('brings campaigns, ad sets and ads in by name and ID, with where they lead; twice changes nothing', async () => {
  expect(await take('ads', [ad])).toMatchObject({ accepted: 1, duplicates: 0, rejected: [] })
  expect(await held()).toMatchObject({
    'campaign c1': { name: 'Looms, autumn' },
    'ad_set s1': { name: 'Table loom', campaignId: 'c1' },
    'ad a1': { name: ad.ad_name, adSetId: 's1', landingPage: ad.landing_page, placed: ad.address },
  })
  const { codes } = routingSchema.parse(JSON.parse(readFileSync(join(folder, 'routing.json'), 'utf8')))
  expect(Object.values(codes).map(c => c.landings[0]?.address)).toEqual([ad.landing_page])
  expect(await take('ads', [ad])).toMatchObject({ accepted: 0, duplicates: 1 })
})

it('leaves what a row does not say as it was, also when a report comes without names', async () => {
  const { network, campaign_id, ad_set_id, ad_id } = ad
  const bare = { network, campaign_id, ad_set_id, ad_id }
  await take('ads', [bare])
  await take('delivery', [{ ...bare, date: '2026-10-01', currency: 'EUR', spend: '1.00' }])
  expect((await held())['ad a1']).toMatchObject({ name: ad.ad_name, landingPage: ad.landing_page })
})

it('keeps former names, and figures bear the name that was given last', async () => {
  await take('ads', [{ ...ad, campaign_name: 'Looms, winter' }])
  expect(await listFormerNames(database, 'w')).toEqual({ 'kelpie/campaign/c1': ['Looms, autumn'] })
  const { names } = await loadRecords(database, 'w')
  expect(names.find(n => n.level === 'campaign')?.name).toBe('Looms, winter')
})

it('rejects a row without an ad, with line and column, and takes the others', async () => {
  const outcome = await take('ads', [
    { ...ad, ad_id: '' },
    { ...ad, ad_id: 'a2' },
  ])
  expect(outcome).toMatchObject({
    accepted: 1,
    rejected: [{ line: 2, column: 'ad_id', reason: 'required' }],
  })
})

it('says which names do not keep to their rule, and how they would', async () => {
  const rule = {
    level: 'campaign',
    separator: '_',
    parts: [
      { name: 'product', kind: 'list', values: ['looms', 'yarn'] },
      { name: 'month', kind: 'month' },
    ],
  }
  await saveNamingRule(database, 'w', 'r', namingRuleSchema.parse(rule))
  const of = (campaign_id: string, campaign_name: string) => ({ ...ad, campaign_id, campaign_name })
  const { names } = await take('ads', [
    of('c7', 'looms_2026-10'),
    { ...of('c8', 'lomms_Oct 26'), ad_id: 'a8' },
  ])
  expect(names.unfit.map(n => [n.id, n.proposal])).toEqual([['c8', 'looms_2026-10']])
})

it('is written out as it can be read in again', async () => {
  const before = await held()
  const { 'ads.csv': text } = await exportedFiles(database, workspace)
  expect(rowsOf(text!)).toHaveLength(Object.values(before).filter(e => e.level === 'ad').length)
  const again = await importFile(database, workspace, 'ads', text!)
  expect(again).toMatchObject({ accepted: 0, rejected: [] })
  expect(await held()).toEqual(before)
})
