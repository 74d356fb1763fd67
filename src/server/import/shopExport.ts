import Papa from 'papaparse'
import { exchangeFiles } from '@/core/intake/records'
import { guessExport } from '@/core/intake/shopExport/guess'
import { type ExportMapping, exportMappingSchema, exportProblems } from '@/core/intake/shopExport/mapping'
import { type ReadExport, readExport } from '@/core/intake/shopExport/read'
import { formatDay, zoneClock } from '@/core/shared/days'
import type { Database } from '@/data/connect'
import { keepAside } from '@/data/intake'
import { findMapping, heldOrders, saveMapping } from '@/data/reports'
import type { ImportOutcome, Workspace } from '@/data/workspace'
import { readSheet } from '@/formats/sheet'
import { asideOf, importFile, rateFinder, type Watch } from './importFile'

const SAMPLE_ROWS = 200
/** Under which the shop's mapping is kept beside those of networks, whose IDs have no space. */
const SHOP = 'the shop'

/** The first rows of a shop's export, with the mapping that was saved for it, or a guess. */
export async function lookAtExport(database: Database, workspace: Workspace, content: string) {
  const { header, lines } = readSheet(content, 'The export')
  const rows = lines.slice(0, SAMPLE_ROWS).map(line => [...line.cells])
  const guess = guessExport({ header, rows }, workspace.settings)
  const saved = await findMapping(database, workspace.id, SHOP, exportMappingSchema)
  const fits = saved !== null && exportProblems(saved, header, []).length === 0
  return {
    header,
    /** the first rows: some are shown, by all of them forms are guessed */
    rows,
    mapping: fits ? { ...saved, statuses: { ...guess.mapping.statuses, ...saved.statuses } } : guess.mapping,
    doubts: fits ? [] : guess.doubts,
    saved: fits,
  }
}
export type ExportLook = Awaited<ReturnType<typeof lookAtExport>>

export interface ExportInput {
  file: string
  mapping: ExportMapping
  content: string
}

function readWhole({ file, mapping, content }: ExportInput): ReadExport {
  const { header, lines, damaged } = readSheet(content, file)
  const read = readExport(header, lines, mapping)
  const broken = damaged.map(({ line }) => ({ line, column: header[0] ?? '', reason: 'bad_quotes' as const }))
  return { ...read, rejected: [...broken, ...read.rejected] }
}

/** What an export would change: orders that are new, and those that are held otherwise. */
export async function compareExport(database: Database, workspace: Workspace, input: ExportInput) {
  const { orders, rejected, sums } = readWhole(input)
  const held = new Map(
    (
      await heldOrders(
        database,
        workspace.id,
        orders.map(order => order.cells.order_id!),
      )
    ).map(order => [order.order_id, order]),
  )
  const shown = (cells: Record<string, string | null>) =>
    [cells.status, cells.total, cells.refunded, cells.currency].join(' ')
  const changed = orders.flatMap(({ cells }) => {
    const before = held.get(cells.order_id!)
    return before && shown(before) !== shown(cells)
      ? [{ id: cells.order_id!, before: shown(before), after: shown(cells) }]
      : []
  })
  const dayOf = zoneClock(workspace.settings.time_zone)
  const days = orders.map(({ cells }) => dayOf(Date.parse(cells.ordered_at!)).day).sort((a, b) => a - b)
  const hasRate = await rateFinder(database, workspace)
  const own = workspace.settings.currency
  const without = new Set(
    orders.flatMap(({ cells }) =>
      cells.currency === own || hasRate(cells.currency!, dayOf(Date.parse(cells.ordered_at!)).day)
        ? []
        : cells.currency!,
    ),
  )
  const statuses: Record<string, number> = {}
  for (const { cells } of orders) statuses[cells.status!] = (statuses[cells.status!] ?? 0) + 1
  return {
    orders: orders.length,
    fresh: orders.filter(({ cells }) => !held.has(cells.order_id!)).length,
    changed: changed.slice(0, 200),
    changedCount: changed.length,
    statuses,
    first: days[0] === undefined ? null : formatDay(days[0]),
    last: days.length === 0 ? null : formatDay(days.at(-1)!),
    rejected: rejected.slice(0, 200),
    rejectedCount: rejected.length,
    sums,
    /** currencies of orders that could be in no sum: there is no rate of their day */
    withoutRate: [...without],
  }
}
export type ExportDifference = Awaited<ReturnType<typeof compareExport>>

/** Takes an export in: each of its orders replaces what was held of it. Keeps the mapping for next time. */
export async function takeExport(
  database: Database,
  workspace: Workspace,
  input: ExportInput,
  watch: Watch = {},
): Promise<ImportOutcome> {
  const { orders, rejected } = readWhole(input)
  await saveMapping(database, workspace.id, SHOP, input.mapping)
  await keepAside(database, workspace.id, rejected.map(asideOf('orders', input.file)))
  const columns = new Set<string>(exchangeFiles.orders.columns)
  for (const { cells } of orders) for (const column of Object.keys(cells)) columns.add(column)
  const fields = [...columns]
  const text = Papa.unparse({
    fields,
    data: orders.map(({ cells }) => fields.map(field => cells[field] ?? '')),
  })
  const outcome = await importFile(database, workspace, 'orders', text, { ...watch, file: input.file })
  // Lines are those of the shop's file, in which an order begins.
  const own = outcome.rejected.map(reject => ({
    ...reject,
    line: orders[reject.line - 2]?.line ?? reject.line,
  }))
  return { ...outcome, rejected: [...rejected, ...own] }
}
