import { afterAll, beforeAll, expect, it } from 'vitest'
import { reconcile } from '@/core/evidence/gap'
import { exchangeFiles } from '@/core/intake/records'
import { settingsSchema } from '@/core/intake/settings'
import { resultSchema } from '@/core/signals/result'
import { storeRecords } from '@/data/storeRecords'
import { openTestDatabase } from '@/data/testDatabase'
import { findWorkspace, listProfiles } from '@/data/workspace'
import { evidenceKeeper } from './compute/evidenceOf'
import { adoptSettings } from './counting'
import { keepProfile } from './links/profiles'
import { keepDefinition } from './signals/definitions'

let db: Awaited<ReturnType<typeof openTestDatabase>>
beforeAll(async () => {
  db = await openTestDatabase()
  const click = (id: string, ad: string, day: string) =>
    exchangeFiles.clicks.schema.parse({
      click_id: id,
      clicked_at: `2026-10-${day}T10:00:00Z`,
      network: 'norrfeed',
      campaign_id: 'c',
      ad_id: ad,
      visitor_id: 'v',
    })
  await storeRecords(db.database, 'w', 'clicks', [click('k1', 'early', '02'), click('k2', 'late', '12')])
  await storeRecords(db.database, 'w', 'orders', [
    exchangeFiles.orders.schema.parse({
      order_id: 'o1',
      ordered_at: '2026-10-22T09:00:00Z',
      status: 'paid',
      currency: 'EUR',
      total: '50.00',
      visitor_id: 'v',
    }),
  ])
  await storeRecords(db.database, 'w', 'claim-rows', [
    exchangeFiles['claim-rows'].schema.parse({
      claimed_at: '2026-10-22T09:00:00Z',
      network: 'norrfeed',
      ad_id: 'late',
      conversion: 'order',
      kind: 'view',
      transaction_id: 'o1',
    }),
  ])
})
afterAll(() => db.stop())

const here = async () => (await findWorkspace(db.database, 'w'))!
const order = resultSchema.parse({
  id: 'order',
  name: 'Order',
  kind: 'order',
  currency: 'EUR',
  value: { by: 'event' },
  count: 'every',
})
const keepOrder = (own: object) =>
  keepDefinition(db.database, 'w', resultSchema.parse({ ...order, ...own }), { isNew: false })
const keepNorrfeed = async (own: object) => {
  const profile = (await listProfiles(db.database, 'w')).find(p => p.id === 'norrfeed')!
  expect(await keepProfile(db.database, await here(), { ...profile, ...own }, { isNew: false })).toEqual([])
}

/** How the one order and the one claim stand, and which ad has the credit. */
async function standing() {
  const { data, placements, matches } = await evidenceKeeper(db.database)('w', 'order')
  const fates = reconcile(data, placements, matches, { from: -1e6, to: 1e6 })
  return {
    order: fates.orders[0],
    claim: fates.claims[0],
    credit: placements[0]!.credits.map(c => data.tree.leaves[c.leaf]!.ad),
    version: (await here()).version,
  }
}

it('counts by the profile what the network does, by the result what we count, else by the workspace', async () => {
  await keepOrder({})
  const first = await standing()
  expect(first).toMatchObject({ order: 'not_seen', claim: 'view_only', credit: ['late'] })

  // The network's window is over before the order came: its silence is no fault.
  await keepNorrfeed({ click_window_days: 7 })
  expect(await standing()).toMatchObject({ order: 'past_window' })

  await keepOrder({ credit: 'first_click' })
  expect(await standing()).toMatchObject({ credit: ['early'] })
  await keepOrder({ click_window_days: 15 })
  expect(await standing()).toMatchObject({ credit: ['late'] })
  await keepOrder({ click_window_days: 5 })
  expect(await standing()).toMatchObject({ credit: [] })

  // Claims by view count where the network looks back no further than we do.
  await keepOrder({ view_window_days: 1 })
  await keepNorrfeed({ view_window_days: 1 })
  expect(await standing()).toMatchObject({ order: 'matched', claim: 'matched' })
  await keepNorrfeed({ view_window_days: 7 })
  expect(await standing()).toMatchObject({ claim: 'view_only' })
  await keepOrder({ view_window_days: 7 })
  const last = await standing()
  expect(last).toMatchObject({ claim: 'matched' })
  // Each change is one of what is judged, so that nothing that was worked out before is shown again.
  expect(last.version).toBe(first.version + 8)
})

it('takes what a folder’s settings say of networks into their profiles', async () => {
  const settings = settingsSchema.parse({
    credit: 'even',
    networks: [
      {
        id: 'kelpie',
        click_window_days: 9,
        view_window_days: 2,
        dated_by: 'conversion',
        time_zone: 'Asia/Tokyo',
      },
      { id: 'elsewhere', click_window_days: 3 },
    ],
  })
  await adoptSettings(db.database, await here(), settings)
  const kelpie = (await listProfiles(db.database, 'w')).find(p => p.id === 'kelpie')
  expect(kelpie).toMatchObject({
    click_window_days: 9,
    view_window_days: 2,
    dated_by: 'conversion',
    time_zone: 'Asia/Tokyo',
  })
  const { networks, credit } = (await here()).settings
  expect(credit).toBe('even')
  expect(networks.find(n => n.id === 'kelpie')).toMatchObject({ click_window_days: 9 })
  // A network without a profile keeps its rules in the settings.
  expect(networks.find(n => n.id === 'elsewhere')).toMatchObject({ click_window_days: 3 })
  await keepNorrfeed({ click_window_days: 11 })
  expect((await here()).settings.networks.find(n => n.id === 'norrfeed')).toMatchObject({
    click_window_days: 11,
  })
})

it('refuses a zone that is none, and a result of a name that is there', async () => {
  const [norrfeed] = await listProfiles(db.database, 'w')
  const mars = { ...norrfeed, time_zone: 'Mars/Base' }
  expect(await keepProfile(db.database, await here(), mars, { isNew: false })).toEqual([
    { path: 'time_zone', message: 'not an IANA time zone' },
  ])
  const like = resultSchema.parse({ ...order, id: 'order-2', name: ' ORDER ' })
  expect(await keepDefinition(db.database, 'w', like, { isNew: true })).toMatch(
    /There is a result Order already/,
  )
  expect(await keepDefinition(db.database, 'w', { ...order, name: 'New' }, { isNew: true })).toMatch(
    /already/,
  )
})
