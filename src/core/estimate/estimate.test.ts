import { expect, it } from 'vitest'
import { clickColumns } from '../intake/clicks'
import { buildDataset } from '../intake/dataset'
import { exchangeFiles } from '../intake/records'
import { settingsSchema } from '../intake/settings'
import { gatherEvidence } from '../weigh/evidence'
import { judge } from '../weigh/judge'

/** Orders of one network: some that we track and it claims, some that one of both sees alone. */
function ordersOf(network: string, { both = 0, tracked = 0, claimed = 0 }) {
  const number = both + tracked + claimed
  const ids = Array.from({ length: number }, (_, i) => `${network}-${i}`)
  const seen = ids.slice(0, both + tracked)
  const told = [...ids.slice(0, both), ...ids.slice(both + tracked)]
  return {
    clicks: seen.map(id =>
      exchangeFiles.clicks.schema.parse({
        click_id: `k-${id}`,
        clicked_at: '2026-10-01T08:00:00Z',
        network,
        campaign_id: 'c',
        ad_id: `ad-${network}`,
      }),
    ),
    orders: ids.map(id =>
      exchangeFiles.orders.schema.parse({
        order_id: id,
        ordered_at: '2026-10-01T10:00:00Z',
        status: 'paid',
        currency: 'EUR',
        total: '50.00',
        click_id: seen.includes(id) ? `k-${id}` : null,
      }),
    ),
    claimRows: told.map(id =>
      exchangeFiles['claim-rows'].schema.parse({
        claimed_at: '2026-10-01T10:00:00Z',
        network,
        ad_id: `ad-${network}`,
        conversion: 'order',
        kind: 'click',
        transaction_id: id,
      }),
    ),
  }
}

it('adds nothing to what is tracked where no network claims anything', () => {
  const { clicks, orders } = ordersOf('kelpie', { tracked: 40, claimed: 25 })
  const evidence = gatherEvidence(
    buildDataset(
      { delivery: [], claims: [], claimRows: [], rates: [], orders, clicks: clickColumns(clicks) },
      settingsSchema.parse({}),
    ),
  )
  const { totals } = judge(evidence, { from: -1e6, to: 1e6 })
  expect(totals).toMatchObject({ low: 40, high: 40, variance: 0 })
  expect(totals.sums.estimatedTenths).toBe(400)
})

it('estimates what nobody saw of a network that claims nothing by how much is tracked elsewhere', () => {
  const parts = [ordersOf('kelpie', { both: 80, claimed: 20 }), ordersOf('placements', { tracked: 40 })]
  // Orders of which nobody knows the origin: what was not seen has to be among them.
  const unknown = Array.from({ length: 60 }, (_, i) =>
    exchangeFiles.orders.schema.parse({
      order_id: `u-${i}`,
      ordered_at: '2026-10-01T11:00:00Z',
      status: 'paid',
      currency: 'EUR',
      total: '50.00',
    }),
  )
  const evidence = gatherEvidence(
    buildDataset(
      {
        delivery: [],
        claims: [],
        rates: [],
        claimRows: parts.flatMap(p => p.claimRows),
        orders: [...parts.flatMap(p => p.orders), ...unknown],
        clicks: clickColumns(parts.flatMap(p => p.clicks)),
      },
      settingsSchema.parse({}),
    ),
  )
  const { networks } = judge(evidence, { from: -1e6, to: 1e6 })
  const placements = networks.find(n => n.network === 'placements')!.sums.estimatedTenths / 10
  // Four of five orders are tracked at Kelpie: forty tracked ones stand for about fifty.
  expect(placements).toBeGreaterThan(47)
  expect(placements).toBeLessThan(53)
  // What claims nothing has no capture, and no share of nought.
  const captureOf = (id: string) => evidence.estimate.captures[evidence.data.tree.networks.indexOf(id)]
  expect(captureOf('placements')).toMatchObject({ networkCapture: null, ownCapture: null })
  expect(captureOf('kelpie')).toMatchObject({ networkCapture: 1, ownCapture: expect.closeTo(0.8, 4) })
})
