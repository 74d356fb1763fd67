import { afterAll, beforeAll, expect, it } from 'vitest'
import type { ReportMapping } from '@/core/intake/reports/mapping'
import type { Database } from '@/data/connect'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, type Workspace } from '@/data/workspace'
import { writeCsv } from '@/formats/csv'
import { exportedFiles, rowsOf } from '../exportedFiles'
import { importFile } from './importFile'
import { compareReport, lookAtReport, takeReport } from './report'

let database: Database
let stop: () => Promise<void>
let workspace: Workspace
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  workspace = (await findWorkspace(database, 'w'))!
})
afterAll(() => stop())

const report = (
  rows: string[][],
  header = ['Week', 'Campaign', 'Cost', 'Clicks', 'Purchases', 'Purchase value'],
) => [header, ...rows].map(row => row.join(';')).join('\n')
const input = (content: string, mapping: ReportMapping) => ({
  network: 'kelpie',
  file: 'weekly.csv',
  content,
  mapping,
})
const exported = async () => {
  const files = await exportedFiles(database, workspace)
  return { delivery: rowsOf(files['delivery.csv']!), claims: rowsOf(files['claims.csv']!) }
}
const weekly = report([
  ['2026-11-02', 'Autumn', '70,00', '700', '3', '299,99'],
  ['2026-11-09', 'Autumn', '77,01', '710', '0', '0'],
  ['2026-11-16', 'Autumn', '63,00', '650', '5', '501,00'],
])

it('lays a week over its days, says so before it does, and gives the week back', async () => {
  const look = await lookAtReport(database, workspace, 'kelpie', weekly)
  expect([look.mapping.covers, look.doubts]).toEqual(['week', []])
  const difference = await compareReport(database, workspace, input(weekly, look.mapping))
  expect([difference.laid, difference.cut, difference.days.length]).toEqual([3, [], 21])
  expect(difference.days.slice(0, 7).reduce((sum, { after }) => sum + after.spend, 0)).toBe(7000)
  await takeReport(database, workspace, input(weekly, look.mapping))
  const { delivery, claims } = await exported()
  expect(delivery.map(row => [row.date, row.date_to, row.spend, row.clicks])).toEqual([
    ['2026-11-02', '2026-11-08', '70.00', '700'],
    ['2026-11-09', '2026-11-15', '77.01', '710'],
    ['2026-11-16', '2026-11-22', '63.00', '650'],
  ])
  expect(claims.map(row => [row.date, row.date_to, row.click_through, row.value])).toEqual([
    ['2026-11-02', '2026-11-08', '3', '299.99'],
    ['2026-11-16', '2026-11-22', '5', '501.00'],
  ])
})

it('says which sums a report of single days cuts, and leaves the other days their share', async () => {
  const days = report(
    [
      ['2026-11-11', 'Autumn', '20,00', '90'],
      ['2026-11-12', 'Autumn', '5,00', '40'],
    ],
    ['Day', 'Campaign', 'Cost', 'Clicks'],
  )
  const { mapping } = await lookAtReport(database, workspace, 'kelpie', days)
  const difference = await compareReport(database, workspace, input(days, mapping))
  expect(difference.cut).toEqual([{ from: '2026-11-09', to: '2026-11-15' }])
  const whole = 7000 + 7701 + 6300
  const before = difference.days.reduce((sum, day) => sum + day.before!.spend, 0)
  await takeReport(database, workspace, input(days, mapping))
  const { delivery } = await exported()
  expect(delivery.map(row => [row.date, row.date_to])).toEqual([
    ['2026-11-02', '2026-11-08'],
    ['2026-11-09', '2026-11-10'],
    ['2026-11-11', ''],
    ['2026-11-12', ''],
    ['2026-11-13', '2026-11-15'],
    ['2026-11-16', '2026-11-22'],
  ])
  const sum = delivery.reduce((all, row) => all + Math.round(Number(row.spend) * 100), 0)
  expect(sum).toBe(whole - before + 2500)
})

it('takes an exchange file of longer stretches, and gives it back as it came', async () => {
  const common = { network: 'mothwire', campaign_id: 'c9', currency: 'EUR' }
  const rows = [
    {
      ...common,
      date: '2026-10-01',
      date_to: '2026-10-31',
      spend: '310.05',
      impressions: '100',
      clicks: '7',
    },
    { ...common, date: '2026-11-01', date_to: '', spend: '9.00', impressions: '3', clicks: '1' },
    { ...common, date: '2026-11-05', date_to: '2026-11-02', spend: '9.00', impressions: '3', clicks: '1' },
  ]
  const content = writeCsv(Object.keys(rows[0]!), rows)
  const outcome = await importFile(database, workspace, 'delivery', content)
  expect(outcome.rejected).toMatchObject([{ line: 4, column: 'date_to', reason: 'ends_before_it_begins' }])
  const { delivery } = await exported()
  const own = delivery.filter(row => row.network === 'mothwire')
  expect(own.map(row => [row.date, row.date_to, row.spend, row.impressions, row.clicks])).toEqual(
    [
      ['2026-11-01', '', '9.00', '3', '1'],
      ['2026-10-01', '2026-10-31', '310.05', '100', '7'],
    ].sort(),
  )
})
