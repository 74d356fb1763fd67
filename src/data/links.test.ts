import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { exchangeFiles } from '@/core/intake/records'
import type { Database } from './connect'
import { saveEntities } from './entities'
import { applyChanges, latestQueries, stationRows } from './links'
import { storeRecords } from './storeRecords'
import { openTestDatabase } from './testDatabase'

let database: Database
let stop: () => Promise<void>
const click = (click_id: string, clicked_at: string, more: object = {}) =>
  exchangeFiles.clicks.schema.parse({
    click_id,
    clicked_at,
    network: 'kelpie',
    campaign_id: 'c1',
    ad_id: 'a1',
    visitor_id: click_id,
    landing_url: `https://tarnbrook.example/kits?of=${click_id}#top`,
    ...more,
  })
beforeAll(async () => {
  ;({ database, stop } = await openTestDatabase())
  await storeRecords(database, 'w', 'clicks', [
    click('before', '2026-10-31T23:59:59Z'),
    click('first', '2026-11-01T00:00:00Z'),
    click('second', '2026-11-01T23:59:59Z'),
    click('third', '2026-11-02T00:00:00Z'),
    click('other', '2026-11-01T12:00:00Z', { network: 'parkfold' }),
  ])
})
afterAll(() => stop())

describe('clicks for the station', () => {
  it('are read from an instant on, whatever day it is in, newest first, with the query alone', async () => {
    const read = await latestQueries(database, 'w', new Date('2026-11-01T00:00:00Z'), 10)
    expect(read.map(c => c.query)).toEqual(['of=third', 'of=second', 'of=other', 'of=first'])
    expect((await latestQueries(database, 'w', new Date('2026-11-01T12:00:00.001Z'), 10)).length).toBe(2)
    expect((await latestQueries(database, 'w', new Date(0), 2)).length).toBe(2)
    expect(await latestQueries(database, 'another', new Date(0), 10)).toEqual([])
  })
})

it('tells the station every entity and plan, also those with quotes, breaks and other scripts in them', async () => {
  const name = 'Tear "A\\B"\n織り 🧶 </script>'
  const ids = { network: 'kelpie', campaignId: 'c1', adSetId: 's1' }
  await saveEntities(database, 'w', [{ ...ids, level: 'ad', id: 'a1', name }], '2026-11-01')
  const plan = { what: 'plan', network: 'kelpie', level: 'ad', scope: 'a1' } as const
  await applyChanges(database, 'w', [
    { ...plan, before: {}, after: { z: name, a: '' } },
    { ...plan, scope: 'a2', before: { a: '1' }, after: {} },
  ])
  const { entities, plans } = await stationRows(database, 'w')
  expect(JSON.parse(entities)).toEqual([['kelpie', 'ad', 'a1', 'c1', 's1', name, null, false, null]])
  const [stored, ...others] = JSON.parse(plans)
  expect(stored).toEqual(['kelpie', 'ad', 'a1', { z: name, a: '' }])
  expect(Object.keys(stored[3])).toEqual(['z', 'a'])
  expect(others).toEqual([])
  expect(await stationRows(database, 'empty')).toEqual({ entities: '[]', plans: '[]' })
})
