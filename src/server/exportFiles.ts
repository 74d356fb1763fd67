import { exchangeFiles, type FileKind } from '@/core/intake/records'
import { formatDay } from '@/core/shared/days'
import { formatAmount } from '@/core/shared/money'
import type { Executor } from '@/data/connect'
import { loadAds, loadClicks, loadRecords } from '@/data/loadRecords'
import type { Workspace } from '@/data/workspace'
import { fileName } from '@/formats/folder'

type Row = Record<string, unknown>

/** How each kind of value is written; columns that are not named here are text as they stand. */
const dates = new Set(['date'])
const instants = new Set(['ordered_at', 'clicked_at', 'claimed_at'])
const amounts = new Set(['spend', 'total', 'tax', 'shipping', 'refunded'])

function writeCell(column: string, value: unknown, currency: string): unknown {
  if (value === null || value === undefined) return ''
  if (typeof value !== 'number') return value
  if (dates.has(column)) return formatDay(value)
  if (instants.has(column)) return new Date(value).toISOString()
  return amounts.has(column) ? formatAmount(value, currency) : value
}

/** The workspace's records as rows of exchange files, extra attributes as columns of their own. Empty files are left out. */
export async function exportFiles(database: Executor, workspace: Workspace): Promise<Record<string, Row[]>> {
  const records = await loadRecords(database, workspace.id)
  const byKind: Record<FileKind, readonly object[]> = {
    delivery: records.delivery,
    clicks: await loadClicks(database, workspace.id),
    orders: records.orders,
    claims: records.claims,
    'claim-rows': records.claimRows,
    rates: records.rates.map(r => ({ ...r, date: r.day })),
    ads: await loadAds(database, workspace.id),
  }
  const files: Record<string, Row[]> = {}
  for (const [kind, rows] of Object.entries(byKind) as [FileKind, readonly Row[]][]) {
    if (rows.length === 0) continue
    const known = exchangeFiles[kind].columns
    const extra = [...new Set(rows.flatMap(row => Object.keys((row.attributes as object | null) ?? {})))]
    files[fileName(kind)] = rows.map(row => {
      const currency = String(row.currency ?? workspace.settings.currency)
      const attributes = (row.attributes as Row | null) ?? {}
      return Object.fromEntries([
        ...known.map(column => [column, writeCell(column, row[column], currency)]),
        ...extra.filter(column => !known.includes(column)).map(column => [column, attributes[column] ?? '']),
      ])
    })
  }
  return files
}
