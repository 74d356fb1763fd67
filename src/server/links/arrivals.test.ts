import { afterAll, beforeAll, expect, it } from 'vitest'
import { exchangeFiles } from '@/core/intake/records'
import { DAY_MS } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { saveEntities } from '@/data/entities'
import { applyChanges } from '@/data/links'
import { storeRecords } from '@/data/storeRecords'
import { openTestDatabase } from '@/data/testDatabase'
import { gatherArrivals } from './arrivals'

const now = Date.parse('2026-11-20T12:00:00Z')
let database: Database
let stop: () => Promise<void>
const ids = { network: 'norrfeed', campaignId: 'c1', adSetId: 's1' }

beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  await saveEntities(
    database,
    'w',
    [
      { ...ids, level: 'campaign', id: 'c1', adSetId: '', name: 'Gifts' },
      { ...ids, level: 'ad', id: 'a1', name: 'Oak & wool' },
      { ...ids, level: 'ad', id: 'a2', name: 'Tall' },
    ],
    '2026-11-01',
  )
  // Renamed: clicks bear the one name or the other, and mean the same.
  await saveEntities(
    database,
    'w',
    [{ ...ids, level: 'campaign', id: 'c1', adSetId: '', name: 'Gift season' }],
    '2026-11-10',
  )
  await applyChanges(
    database,
    'w',
    [
      {
        what: 'plan',
        network: 'norrfeed',
        level: 'account',
        scope: '',
        before: {},
        after: { utm_campaign: '{campaign.name}', spot: '{placement}' },
      },
    ],
    new Date(now - 20 * 86_400_000),
  )
  const click = (click_id: string, hoursAgo: number, ad_id: string, query: string) =>
    exchangeFiles.clicks.schema.parse({
      click_id,
      clicked_at: new Date(now - hoursAgo * 3_600_000).toISOString(),
      network: 'norrfeed',
      campaign_id: 'c1',
      ad_set_id: 's1',
      ad_id,
      landing_url: `https://tarnbrook.example/kits?${query}`,
    })
  await storeRecords(database, 'w', 'clicks', [
    click('k1', 1, 'a1', 'utm_campaign=Gift+season&spot=feed'),
    click('k2', 30, 'a1', 'utm_campaign=Gifts&spot=feed'),
    click('k3', 2, 'a1', 'utm_campaign=Gift%20season&spot='),
    click('k4', 3, 'a2', 'utm_campaign=[[campaign_title]]'),
    click('k5', 4, 'a2', 'utm_campaign=Winter&spot=story'),
    click('old', 24 * 9, 'a2', 'utm_campaign=Forgotten'),
  ])
})
afterAll(() => stop())

it('tells of every planned parameter how it arrived in the last days, and of each ad', async () => {
  const gathered = await gatherArrivals(database, 'w', now)
  expect(gathered).toMatchObject({ days: 7, clicks: 5, cut: false })
  const counts = Object.fromEntries(gathered.parameters.map(p => [p.key, p.counts]))
  expect(counts).toEqual({
    utm_campaign: { resolved: 3, unresolved: 1, empty: 0, unknown: 1, missing: 0 },
    spot: { resolved: 3, unresolved: 0, empty: 1, unknown: 0, missing: 1 },
  })
  expect(gathered.ads).toEqual({
    'norrfeed/a1': { lastDay: 2, unresolved: [], empty: ['spot'], unknown: [], missing: [] },
    'norrfeed/a2': {
      lastDay: 2,
      unresolved: ['utm_campaign'],
      empty: [],
      unknown: ['utm_campaign'],
      missing: ['spot'],
    },
  })
})

it('knows a campaign by its former name too, and tells both', async () => {
  const { parameters, names } = await gatherArrivals(database, 'w', now)
  const values = parameters.find(p => p.key === 'utm_campaign')!.values.filter(v => v.as === 'resolved')
  expect(values.map(v => [v.value, v.count, v.names])).toEqual([
    ['Gift season', 2, 'c1'],
    ['Gifts', 1, 'c1'],
  ])
  expect(names['norrfeed/campaign/c1']).toEqual({ name: 'Gift season', former: ['Gifts'] })
})

it('says nothing where no click came', async () => {
  const later = await gatherArrivals(database, 'w', now + 30 * DAY_MS)
  expect(later).toMatchObject({ clicks: 0, parameters: [], ads: {}, names: {} })
})
