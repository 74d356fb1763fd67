import { afterAll, beforeAll, expect, it } from 'vitest'
import type { Database } from '@/data/connect'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { placeOfFile } from './placeOfFile'
import { lookAtReport, takeReport } from './report'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  workspace = (await findWorkspace(database, 'w'))!
})
afterAll(() => stop())

const report = (headings: string, ...campaigns: string[]) =>
  [headings, ...campaigns.map((name, i) => `2026-11-0${i + 2},${name},5.00,10`)].join('\n')
const take = async (network: string, content: string) => {
  const { mapping } = await lookAtReport(database, workspace, network, content)
  await takeReport(database, workspace, { network, file: 'r.csv', mapping, content })
}
const seems = async (network: string, content: string) =>
  (await lookAtReport(database, workspace, network, content)).seemsOf
const placed = async (content: string, file = 'report.csv') =>
  (await placeOfFile(database, workspace, content, file)).place

it('notices a report of another network before anything changes', async () => {
  await take('norrfeed', report('Day,Campaign,Cost,Clicks', 'Autumn looms', 'Autumn yarn'))
  await take('kelpie', report('Date,Campaign name,Spend,Taps', 'Winter kits', 'Winter wool'))
  expect(await seems('kelpie', report('Day,Campaign,Cost,Clicks', 'Autumn looms', 'Autumn yarn'))).toBe(
    'norrfeed',
  )
  // By its columns alone, where its campaigns are new.
  expect(await seems('kelpie', report('Day,Campaign,Cost,Clicks', 'Spring', 'Summer'))).toBe('norrfeed')
  expect(await seems('norrfeed', report('Day,Campaign,Cost,Clicks', 'Spring', 'Autumn yarn'))).toBeNull()
  // The first report of a network may have the headings of another's.
  expect(await seems('mothwire', report('Day,Campaign,Cost,Clicks', 'Spring', 'Summer'))).toBeNull()
})

it('finds whose a dropped report is by its campaigns, whatever its columns and name', async () => {
  expect(await placed(report('Jour,Campagne,Coût,Clics', 'Winter kits', 'Winter wool'))).toEqual({
    to: 'report',
    network: 'kelpie',
  })
  expect(await placed(report('Jour,Campagne,Coût,Clics', 'Printemps', 'Laine'))).toEqual({
    to: 'report',
    network: null,
  })
})
