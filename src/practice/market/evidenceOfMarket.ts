import { type ClickColumns, clickColumns } from '@/core/intake/clicks'
import { buildDataset, type Records } from '@/core/intake/dataset'
import { exchangeFiles, type RecordOf } from '@/core/intake/records'
import { type Settings, settingsSchema } from '@/core/intake/settings'
import { type Evidence, gatherEvidence } from '@/core/weigh/evidence'
import type { Market } from './simulate'

type Kind = 'delivery' | 'clicks' | 'orders' | 'claim-rows' | 'claims'

/** Rows of a made-up market as they are read from their file. */
export const readRows = <K extends Kind>(kind: K, rows: readonly Record<string, unknown>[]): RecordOf[K][] =>
  rows.map(row => {
    const cells = Object.entries(row).map(([column, cell]) => [column, cell === '' ? null : String(cell)])
    return exchangeFiles[kind].schema.parse(Object.fromEntries(cells)) as RecordOf[K]
  })

/** What a made-up market's files say. */
export function recordsOfMarket(
  market: Market,
  claims: 'rows' | 'sums' = 'rows',
  clicks: ClickColumns = clickColumns(readRows('clicks', market.clicks)),
): { records: Records; settings: Settings } {
  return {
    settings: settingsSchema.parse(market.settings),
    records: {
      delivery: readRows('delivery', market.delivery),
      clicks,
      orders: readRows('orders', market.orders),
      claimRows: claims === 'rows' ? readRows('claim-rows', market.claimRows) : [],
      claims: claims === 'sums' ? readRows('claims', market.claims) : [],
      rates: [],
    },
  }
}

/** For tests: a made-up market read as from its files, and as the application would hold it. */
export function evidenceOfMarket(market: Market, claims: 'rows' | 'sums' = 'rows'): Evidence {
  const { records, settings } = recordsOfMarket(market, claims)
  return gatherEvidence(buildDataset(records, settings))
}
