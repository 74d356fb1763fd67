import { clickColumns } from '../intake/clicks'
import { buildDataset, type Dataset, type Records } from '../intake/dataset'
import { type ClickRow, exchangeFiles } from '../intake/records'
import { settingsSchema } from '../intake/settings'

/** Records for tests: what is not said is usual. Hours are counted from the first of October 2026, UTC. */
const T0 = Date.UTC(2026, 9, 1)
export const instantAt = (hours: number) => T0 + hours * 3_600_000
const iso = (hours: number) => new Date(instantAt(hours)).toISOString()

export const click = (id: string, hours: number, more: object = {}) =>
  exchangeFiles.clicks.schema.parse({
    click_id: id,
    clicked_at: iso(hours),
    network: 'norrfeed',
    campaign_id: 'c1',
    ad_id: 'a1',
    ...more,
  })
export const order = (id: string, hours: number, more: object = {}) =>
  exchangeFiles.orders.schema.parse({
    order_id: id,
    ordered_at: iso(hours),
    status: 'paid',
    currency: 'EUR',
    total: '100.00',
    ...more,
  })
export const claim = (hours: number, more: object = {}) =>
  exchangeFiles['claim-rows'].schema.parse({
    claimed_at: iso(hours),
    network: 'norrfeed',
    ad_id: 'a1',
    conversion: 'purchase',
    kind: 'click',
    value: '100.00',
    currency: 'EUR',
    ...more,
  })
export const claimSum = (date: string, more: object = {}) =>
  exchangeFiles.claims.schema.parse({
    date,
    network: 'norrfeed',
    ad_id: 'a1',
    conversion: 'purchase',
    click_through: '1',
    view_through: '0',
    value: '100.00',
    currency: 'EUR',
    ...more,
  })
export const delivery = (date: string, more: object = {}) =>
  exchangeFiles.delivery.schema.parse({
    date,
    network: 'norrfeed',
    campaign_id: 'c1',
    ad_id: 'a1',
    currency: 'EUR',
    spend: '10.00',
    impressions: '1000',
    clicks: '10',
    ...more,
  })

export type Rows = Omit<Partial<Records>, 'clicks'> & { clicks?: ClickRow[] }
export const dataset = ({ clicks = [], ...records }: Rows, settings: object = {}, result?: string): Dataset =>
  buildDataset(
    {
      delivery: [],
      orders: [],
      claims: [],
      claimRows: [],
      rates: [],
      ...records,
      clicks: clickColumns(clicks),
    },
    settingsSchema.parse(settings),
    result,
  )
/** A period that holds everything. */
export const always = { from: -1e6, to: 1e6 }
