import { clickColumns } from '@/core/intake/clicks'
import { buildDataset } from '@/core/intake/dataset'
import { exchangeFiles, type RecordOf } from '@/core/intake/records'
import { settingsSchema } from '@/core/intake/settings'
import { type Evidence, gatherEvidence } from '@/core/weigh/evidence'
import type { Market } from './simulate'

/** For tests: a made-up market read as from its files, and as the application would hold it. */
export function evidenceOfMarket(market: Market, claims: 'rows' | 'sums' = 'rows'): Evidence {
  const read = <K extends 'delivery' | 'clicks' | 'orders' | 'claim-rows' | 'claims'>(
    kind: K,
    rows: Record<string, unknown>[],
  ) =>
    rows.map(row => {
      const cells = Object.fromEntries(
        Object.entries(row).map(([column, value]) => [column, value === '' ? null : String(value)]),
      )
      return exchangeFiles[kind].schema.parse(cells) as RecordOf[K]
    })
  return gatherEvidence(
    buildDataset(
      {
        delivery: read('delivery', market.delivery),
        clicks: clickColumns(read('clicks', market.clicks)),
        orders: read('orders', market.orders),
        claimRows: claims === 'rows' ? read('claim-rows', market.claimRows) : [],
        claims: claims === 'sums' ? read('claims', market.claims) : [],
        rates: [],
      },
      settingsSchema.parse(market.settings),
    ),
  )
}
